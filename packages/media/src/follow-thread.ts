/** Following one way on a thread of its own. */
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Motion } from '@glimbo/core/motion/motion';
import { engineFolder, MediaError, onAbort } from './ffmpeg.js';
import type { Step, Way } from './follow-way.js';
import type { WayAnswer, WaySetup } from './follow-worker.js';
import type { Kept } from './kept-moving.js';

/** Follows as followWay does, on a thread. Throws MediaError; rejects with an AbortError when the signal was given. */
export async function followOnThread(
  way: Way,
  { motion, kept }: { motion: Motion | null; kept: Kept },
  step: Step,
  signal?: AbortSignal,
): Promise<void> {
  signal?.throwIfAborted();
  const worker = new Worker(join(engineFolder(), 'follow-worker.mjs'), {
    workerData: { way, motion, kept } satisfies WaySetup,
  });
  let deaf = () => {};
  try {
    await new Promise<void>((resolve, reject) => {
      deaf = onAbort(signal, () => reject(signal!.reason as Error));
      worker.on('message', (answer: WayAnswer) => {
        if ('looks' in answer) answer.looks.forEach(([frame, look]) => step(frame, look));
        else if ('failed' in answer) reject(new MediaError(answer.failed));
        else resolve();
      });
      worker.on('error', reject);
    });
  } finally {
    deaf();
    await worker.terminate();
  }
}
