/**
 * The thread of the motion analysis: looks at frames that lie in shared memory, one after the other as it is told of
 * them, so that the next ones are decoded and read meanwhile.
 */
import { parentPort, workerData } from 'node:worker_threads';
import { LevelLooks } from '@glimbo/core/level/looks';
import { finishMotion } from '@glimbo/core/motion/finish';
import type { Method, Motion } from '@glimbo/core/motion/motion';
import { PatchAnalysis, PATCH_CAPACITY } from '@glimbo/core/motion/patches';
import { ANALYSIS_WIDTH, PointAnalysis, POINT_CAPACITY, POINT_GRID } from '@glimbo/core/motion/points';
import { createTracker } from '@glimbo/kernel/motion';

export interface MotionSetup {
  module: WebAssembly.Module;
  method: Method;
  rate: number;
  frames: number;
  /** Room for grey frames, ANALYSIS_WIDTH × ANALYSIS_WIDTH / 2 bytes each. */
  slots: Uint8Array[];
}

/** What the thread is told: that a slot holds the next frame, or that there are no more. */
export type MotionOrder = { slot: number } | { end: true };
/** What it answers: that a slot is free again, or, at the end, what it found. */
export type MotionAnswer = { free: number } | { motion: Motion };

const { module, method, rate, frames, slots } = workerData as MotionSetup;
const capacity = method === 'quick' ? POINT_CAPACITY : PATCH_CAPACITY;
const tracker = await createTracker(module, ANALYSIS_WIDTH, capacity, POINT_GRID.columns);
const analysis = method === 'quick' ? new PointAnalysis(tracker) : new PatchAnalysis(tracker);
const looks = new LevelLooks(ANALYSIS_WIDTH, rate);
let done = 0;

const answer = (message: MotionAnswer) => parentPort!.postMessage(message);

parentPort!.on('message', (order: MotionOrder) => {
  if ('end' in order) return answer({ motion: outcome() });
  const grey = slots[order.slot]!;
  const { turn } = analysis.next(grey);
  looks.next(done++, grey, turn);
  answer({ free: order.slot });
});

function outcome(): Motion {
  const { steps, spans } = analysis.result();
  // A frame that the file lacks at its end moves like the last one.
  while (steps.length < frames) steps.push({ ...steps.at(-1)! });
  return { ...finishMotion(steps, spans, rate, method), levels: looks.levels, sky: looks.sky };
}
