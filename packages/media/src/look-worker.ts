/** The thread that looks for up in frames of a footage, one after the other as it is given them. */
import { parentPort } from 'node:worker_threads';
import { LevelLooks, type Look } from '@glimbo/core/level/looks';
import type { Motion } from '@glimbo/core/motion/motion';

/** What the thread is told: to look at a frame, or that there are no more. */
export type LookOrder = { look: Look } | { end: true };
/** What it answers: nothing yet, or, at the end, what it found. */
export type Levels = Pick<Motion, 'levels' | 'sky'>;

const looks = new LevelLooks();
const answer = (message: Levels | null) => parentPort!.postMessage(message);

parentPort!.on('message', (order: LookOrder) => {
  if ('end' in order) return answer({ levels: looks.levels, sky: looks.sky });
  looks.take(order.look);
  answer(null);
});
