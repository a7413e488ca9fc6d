/** The thread that looks for up in frames of a footage, one after the other as it is given them. */
import { parentPort, workerData } from 'node:worker_threads';
import { LevelLooks, type Look } from '@glimbo/core/level/looks';
import type { Motion } from '@glimbo/core/motion/motion';
import { createPrepare } from '@glimbo/kernel/slopes';

export interface LookSetup {
  module: WebAssembly.Module;
  /** Of the pictures that are looked at, in pixels. */
  width: number;
}

/** What the thread is told: to look at a frame, or that there are no more. */
export type LookOrder = { look: Look } | { end: true };
/** What it answers: nothing yet, or, at the end, what it found. */
export type Levels = Pick<Motion, 'levels' | 'stands'>;

const { module, width } = workerData as LookSetup;
const looks = new LevelLooks(await createPrepare(module, width));
const answer = (message: Levels | null) => parentPort!.postMessage(message);

parentPort!.on('message', (order: LookOrder) => {
  if ('end' in order) return answer({ levels: looks.levels, stands: looks.stands });
  looks.take(order.look);
  answer(null);
});
