/** The thread that follows a subject one way: the other way is followed by another at the same time. */
import { parentPort, workerData } from 'node:worker_threads';
import { Strangers } from '@glimbo/core/follow/strangers';
import type { SubjectLook } from '@glimbo/core/follow/subject';
import type { Motion } from '@glimbo/core/motion/motion';
import { MediaError } from './ffmpeg.js';
import { followWay, type Way } from './follow-way.js';
import { besideFrom, type Kept } from './kept-moving.js';
import { toWorldOf } from './moving.js';

export interface WaySetup {
  way: Way;
  motion: Motion | null;
  kept: Kept;
}

/** What it answers: looks by frame, some at a time; at the end, that it is done, or what somebody is told who asked for it. */
export type WayAnswer = { looks: [frame: number, look: SubjectLook][] } | { done: true } | { failed: string };

/** Looks that are told at a time. */
const TOLD = 10;

const { way, motion, kept } = workerData as WaySetup;
const answer = (message: WayAnswer) => parentPort!.postMessage(message);

let looks: [number, SubjectLook][] = [];
const tell = () => {
  if (looks.length > 0) answer({ looks });
  looks = [];
};

const known = {
  motion,
  besideAt: besideFrom(kept, motion),
  strangers: new Strangers(kept.moving, toWorldOf(motion)),
};
try {
  await followWay(way, known, (frame, look) => {
    looks.push([frame, look]);
    if (looks.length >= TOLD) tell();
  });
  tell();
  answer({ done: true });
} catch (error) {
  if (!(error instanceof MediaError)) throw error;
  answer({ failed: error.message });
}
