/** The motion analysis of a footage, from its reduced copy. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Method, Motion } from '@glimbo/core/motion/motion';
import { ANALYSIS_WIDTH } from '@glimbo/core/motion/points';
import { engineFolder, MediaError, SAFE_INPUT } from './ffmpeg.js';
import { rawBytes } from './raw-bytes.js';
import type { MotionAnswer, MotionOrder, MotionSetup } from './motion-worker.js';

export interface AnalysisOptions {
  method?: Method;
  progress?: (share: number) => void;
  signal?: AbortSignal;
}

const HEIGHT = ANALYSIS_WIDTH / 2;
const BYTES = ANALYSIS_WIDTH * HEIGHT;
/** Frames that wait or are looked at, at most. */
const SLOTS = 4;
/** Pictures up to this width are decoded faster by one thread than they are looked at; more would only be in the way. */
const NARROW = 1920;

/**
 * Analyses the motion of a whole sphere laid flat, such as a proxy, of `frames` frames at a constant `rate`, `width` pixels
 * wide (a proxy's if it is left out). Memory does not grow with the footage but for the result. Throws MediaError; rejects
 * with an AbortError when the signal was given.
 */
export async function analyseMotion(
  file: string,
  { rate, frames, width = NARROW }: { rate: number; frames: number; width?: number },
  { method = 'quick', progress, signal }: AnalysisOptions = {},
): Promise<Motion> {
  const module = await WebAssembly.compile(readFileSync(join(engineFolder(), 'motion.wasm')));
  const slots = Array.from({ length: SLOTS }, () => new Uint8Array(new SharedArrayBuffer(BYTES)));
  const analyst = new Analyst({ module, method, rate, frames, slots });
  try {
    let given = 0;
    let slot = await analyst.free();
    let filled = 0;
    for await (const chunk of greyBytes(file, { rate, threads: width > NARROW ? 0 : 1 }, signal)) {
      for (let at = 0; at < chunk.length && given < frames;) {
        const count = Math.min(chunk.length - at, BYTES - filled);
        slots[slot]!.set(chunk.subarray(at, at + count), filled);
        at += count;
        filled += count;
        if (filled < BYTES) continue;
        analyst.give(slot);
        given++;
        if (given % 10 === 0) progress?.(Math.min(0.99, given / frames));
        slot = await analyst.free();
        filled = 0;
      }
    }
    if (given < Math.max(2, frames * 0.95 - 2))
      throw new MediaError(
        `Only ${given} of ${frames} frames could be read. The earlier analysis, if there is one, was kept.`,
      );
    return await analyst.end();
  } finally {
    await analyst.dismiss();
  }
}

/** The thread that analyses, and the slots of frames that are free. */
class Analyst {
  private readonly worker: Worker;
  private readonly idle: number[];
  private wake: () => void = () => {};
  private failure: Error | null = null;
  private motion: Motion | null = null;

  constructor(setup: MotionSetup) {
    this.idle = setup.slots.map((_, n) => n);
    this.worker = new Worker(join(engineFolder(), 'motion-worker.mjs'), { workerData: setup });
    this.worker.on('message', (answer: MotionAnswer) => {
      if ('free' in answer) this.idle.push(answer.free);
      else this.motion = answer.motion;
      this.wake();
    });
    this.worker.on('error', (error) => {
      this.failure = error;
      this.wake();
    });
  }

  /** A slot that may be filled, as soon as there is one. */
  async free(): Promise<number> {
    return this.until(() => this.idle.shift());
  }

  /** Hands over a filled slot. */
  give(slot: number) {
    this.tell({ slot });
  }

  /** What was found in all frames given. */
  async end(): Promise<Motion> {
    this.tell({ end: true });
    return this.until(() => this.motion);
  }

  async dismiss() {
    await this.worker.terminate();
  }

  private tell(order: MotionOrder) {
    this.worker.postMessage(order);
  }

  /** Waits until something is there, or the thread has failed. */
  private async until<T>(look: () => T | null | undefined): Promise<T> {
    for (;;) {
      if (this.failure) throw this.failure;
      const found = look();
      if (found !== null && found !== undefined) return found;
      await new Promise<void>((resolve) => (this.wake = resolve));
    }
  }
}

/**
 * The frames of a file as grey pictures of ANALYSIS_WIDTH × HEIGHT bytes, one after the other, in pieces of any length,
 * decoded and scaled by so many threads; 0 is as many as there are cores.
 */
function greyBytes(
  file: string,
  { rate, threads }: { rate: number; threads: number },
  signal?: AbortSignal,
): AsyncGenerator<Buffer> {
  const filters = `fps=${rate},scale=${ANALYSIS_WIDTH}:${HEIGHT}:flags=area,format=gray`;
  return rawBytes([
    '-threads', String(threads), '-filter_threads', String(threads), ...SAFE_INPUT, '-i', file, '-an', '-sn',
    '-vf', filters, '-f', 'rawvideo', '-',
  ], signal); // prettier-ignore
}
