/**
 * The thread of the motion analysis: follows what is seen in frames that lie in shared memory, one after the other as it is told
 * of them, so that the next ones are decoded and read meanwhile. Up is looked for in some of them by a thread of its own.
 */
import { join } from 'node:path';
import { parentPort, Worker, workerData } from 'node:worker_threads';
import { LookPicker, type Look } from '@glimbo/core/level/looks';
import { finishMotion } from '@glimbo/core/motion/finish';
import type { Method, Motion } from '@glimbo/core/motion/motion';
import { ANALYSIS_WIDTH, PointAnalysis, POINT_CAPACITY, POINT_GRID } from '@glimbo/core/motion/points';
import { createTracker } from '@glimbo/kernel/motion';
import { engineFolder } from './ffmpeg.js';
import type { Levels, LookOrder, LookSetup } from './look-worker.js';

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
const tracker = await createTracker(module, ANALYSIS_WIDTH, POINT_CAPACITY, POINT_GRID);
const analysis = new PointAnalysis(tracker, method === 'thorough');
const picker = new LookPicker(ANALYSIS_WIDTH, rate);
/** Looks that wait at most: each keeps its picture. */
const WAITING = 4;

const answer = (message: MotionAnswer) => parentPort!.postMessage(message);

/** The thread that looks for up. What goes wrong there ends this one, too. */
class Looker {
  private readonly worker = new Worker(join(engineFolder(), 'look-worker.mjs'), {
    workerData: { module, width: ANALYSIS_WIDTH / 2 } satisfies LookSetup,
  });
  private waiting = 0;
  private levels: Levels | null = null;
  private wake: () => void = () => {};

  constructor() {
    this.worker.on('message', (levels: Levels | null) => {
      this.waiting--;
      this.levels = levels;
      this.wake();
    });
    this.worker.on('error', (error) => {
      throw error;
    });
  }

  async give(look: Look) {
    await this.until(() => this.waiting < WAITING);
    this.tell({ look });
  }

  async end(): Promise<Levels> {
    this.tell({ end: true });
    await this.until(() => this.levels !== null);
    await this.worker.terminate();
    return this.levels!;
  }

  private tell(order: LookOrder) {
    this.waiting++;
    this.worker.postMessage(order);
  }

  private async until(done: () => boolean) {
    while (!done()) await new Promise<void>((resolve) => (this.wake = resolve));
  }
}
const looker = new Looker();

let done = 0;
async function take(order: MotionOrder) {
  if ('end' in order) return answer({ motion: await outcome() });
  const grey = slots[order.slot]!;
  const { turn } = analysis.next(grey);
  const look = picker.next(done++, grey, turn);
  answer({ free: order.slot });
  if (look) await looker.give(look);
}

let taken = Promise.resolve();
parentPort!.on('message', (order: MotionOrder) => {
  taken = taken.then(() => take(order));
});

async function outcome(): Promise<Motion> {
  const { steps, spans } = analysis.result();
  // A frame that the file lacks at its end moves like the last one.
  while (steps.length < frames) steps.push({ ...steps.at(-1)! });
  return { ...finishMotion(steps, spans, rate, method), ...(await looker.end()) };
}
