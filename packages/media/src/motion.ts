/** The motion analysis of a footage, from its reduced copy. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { LevelLooks } from '@glimbo/core/level/looks';
import { finishMotion } from '@glimbo/core/motion/finish';
import type { Method, Motion } from '@glimbo/core/motion/motion';
import { PatchAnalysis, PATCH_CAPACITY } from '@glimbo/core/motion/patches';
import { ANALYSIS_WIDTH, PointAnalysis, POINT_CAPACITY, POINT_GRID } from '@glimbo/core/motion/points';
import { createTracker } from '@glimbo/kernel/motion';
import { engineFolder, finished, MediaError, SAFE_INPUT, start } from './ffmpeg.js';

export interface AnalysisOptions {
  method?: Method;
  progress?: (share: number) => void;
  signal?: AbortSignal;
}

const HEIGHT = ANALYSIS_WIDTH / 2;

/**
 * Analyses the motion of a whole sphere laid flat, such as a proxy, of `frames` frames at a constant `rate`. Memory does
 * not grow with the footage but for the result. Throws MediaError; rejects with an AbortError when the signal was given.
 */
export async function analyseMotion(
  file: string,
  { rate, frames }: { rate: number; frames: number },
  { method = 'points', progress, signal }: AnalysisOptions = {},
): Promise<Motion> {
  const module = await WebAssembly.compile(readFileSync(join(engineFolder(), 'motion.wasm')));
  const capacity = method === 'points' ? POINT_CAPACITY : PATCH_CAPACITY;
  const tracker = await createTracker(module, ANALYSIS_WIDTH, capacity, POINT_GRID.columns);
  const analysis = method === 'points' ? new PointAnalysis(tracker) : new PatchAnalysis(tracker);
  const looks = new LevelLooks(ANALYSIS_WIDTH, rate);
  let done = 0;
  for await (const grey of greyFrames(file, rate, signal)) {
    if (done >= frames) continue;
    const { turn } = analysis.next(grey);
    looks.next(done, grey, turn);
    done++;
    if (done % 10 === 0) progress?.(Math.min(0.99, done / frames));
  }
  signal?.throwIfAborted();
  if (done < Math.max(2, frames * 0.95 - 2))
    throw new MediaError(`Only ${done} of ${frames} frames could be read. The earlier analysis, if there is one, was kept.`); // prettier-ignore
  const { steps, spans } = analysis.result();
  // A frame that the file lacks at its end moves like the last one.
  while (steps.length < frames) steps.push({ ...steps.at(-1)! });
  return { ...finishMotion(steps, spans, rate, method), levels: looks.levels, sky: looks.sky };
}

/** The frames of a file as grey pictures of ANALYSIS_WIDTH × HEIGHT bytes; the same buffer is used again for each. */
async function* greyFrames(file: string, rate: number, signal?: AbortSignal): AsyncGenerator<Uint8Array> {
  const decoder = start('ffmpeg', [
    '-v', 'error', '-nostdin', ...SAFE_INPUT, '-i', file, '-an', '-sn',
    '-vf', `fps=${rate},scale=${ANALYSIS_WIDTH}:${HEIGHT}:flags=area,format=gray`, '-f', 'rawvideo', '-',
  ], ['ignore', 'pipe', 'pipe']); // prettier-ignore
  const ended = finished(decoder).then(() => null, (error: Error) => error); // prettier-ignore
  const stop = () => decoder.kill('SIGKILL');
  signal?.addEventListener('abort', stop);
  const frame = new Uint8Array(ANALYSIS_WIDTH * HEIGHT);
  let filled = 0;
  try {
    for await (const chunk of decoder.stdout! as AsyncIterable<Buffer>) {
      for (let at = 0; at < chunk.length;) {
        const count = Math.min(chunk.length - at, frame.length - filled);
        frame.set(chunk.subarray(at, at + count), filled);
        at += count;
        filled += count;
        if (filled < frame.length) continue;
        filled = 0;
        yield frame;
      }
    }
    const failure = await ended;
    signal?.throwIfAborted();
    if (failure) throw failure;
  } finally {
    signal?.removeEventListener('abort', stop);
    stop();
  }
}
