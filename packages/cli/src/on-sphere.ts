/** Footage as it is looked at: a whole sphere in a file, made of it first where it is not; with its motion, analysed where that is not known. */
import { join } from 'node:path';
import type { Motion } from '@glimbo/core/motion/motion';
import { gather } from '@glimbo/media/gather';
import { analyseMotion } from '@glimbo/media/motion';
import { readMotion } from '@glimbo/media/motion-file';
import type { MediaFacts } from '@glimbo/media/probe';
import { readRecording, type Recording } from '@glimbo/media/recording';
import { removeTemporary, temporaryFolder } from '@glimbo/media/temporary';

export interface Working {
  signal: AbortSignal;
  progress: (share: number) => void;
  /** Where what is known of a sphere is kept that is there for as long as the work alone. */
  folder?: string;
}

/** What lenses saw is laid flat first, as it is for the proxy; `look` then gets that, and half of the progress. */
async function onFlat<T>(
  recording: Recording,
  facts: MediaFacts,
  { signal, progress }: Working,
  look: (file: string, working: Working) => Promise<T>,
): Promise<T> {
  const folder = temporaryFolder('flat');
  try {
    await gather(recording, facts, join(folder, 'made'), {
      variableRate: true,
      signal,
      progress: (s) => progress(s / 2),
    });
    const working = { signal, progress: (s: number) => progress(0.5 + s / 2), folder: join(folder, 'moving') };
    return await look(join(folder, 'made', 'proxy.mp4'), working);
  } finally {
    removeTemporary(folder);
  }
}

/** Looks at a footage's file where its picture is a whole sphere at a constant rate, else at one that is made of it. */
export async function onSphere<T>(
  file: string,
  recording: Recording,
  working: Working,
  look: (file: string, facts: MediaFacts, working: Working) => Promise<T>,
): Promise<T> {
  const { facts, doubts } = await readRecording(recording);
  const whole =
    recording.source.kind === 'sphere' && !recording.source.stereo && !doubts.some((d) => d.kind === 'variable-rate');
  if (whole) return look(file, facts, working);
  return onFlat(recording, facts, working, (flat, w) => look(flat, facts, w));
}

/** Share of the progress that analysing the motion takes where that comes first. */
const ANALYSING = 0.5;

/** The motion of a whole sphere from its file; analysed now where there is none. And how the work goes on after that. */
export async function motionFirst(
  known: string | undefined,
  sphere: string,
  facts: MediaFacts,
  working: Working,
): Promise<{ motion: Motion; rest: Working }> {
  if (known) return { motion: await readMotion(known), rest: working };
  const analysing = { ...working, progress: (share: number) => working.progress(ANALYSING * share) };
  const motion = await analyseMotion(sphere, facts, { method: 'quick', ...analysing });
  const progress = (share: number) => working.progress(ANALYSING + (1 - ANALYSING) * share);
  return { motion, rest: { ...working, progress } };
}
