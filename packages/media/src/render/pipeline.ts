/** The render pipeline: decoder → shared memory → kernel threads → encoder, with bounded buffers. */
import { execFileSync, type ChildProcess } from 'node:child_process';
import { closeSync, constants, openSync, readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { createMemory, Kernel } from '@glimbo/kernel';
import { planMemory } from '@glimbo/kernel/memory';
import type { Source } from '@glimbo/core/stitch/source';
import type { Take } from '@glimbo/core/take/take';
import { engineFolder, finished, MediaError, onAbort, start } from '../ffmpeg.js';
import { removeTemporary, temporaryFolder } from '../temporary.js';
import { ABORTED, COUNTERS, WRITTEN } from './counters.js';
import { FramePictures } from './frame-pictures.js';
import type { WorkerSetup } from './worker.js';

export interface RenderRequest {
  /** What is drawn: a take's view, or without one the whole sphere. */
  take: Take | null;
  /** The correction C of every frame of the clip, nine doubles each in shared memory; null for none. */
  corrections: Float64Array | null;
  /** What the decoded picture shows. */
  picture: Source;
  /** Size of the decoded picture. */
  source: { width: number; height: number };
  /** Size of the frames drawn. */
  target: { width: number; height: number };
  /** Time of the first frame, and from one frame to the next, in seconds of the footage. */
  start: number;
  step: number;
  frames: number;
  sourceFrames: number[];
  skip: number;
  /** Arguments for the two ffmpeg processes; each gets the name of its pipe. */
  decoder: (fifo: string) => string[];
  encoder: (fifo: string) => string[];
  /** Standard streams of the encoder from 0 on, and what is done with them; by default only its errors are read. */
  encoderStreams?: ('ignore' | 'pipe')[];
  onEncoder?: (encoder: ChildProcess) => void;
  progress?: (frames: number) => void;
  /** Gets the frame that is being written from time to time, as a small JPEG picture. */
  onPicture?: (jpeg: Uint8Array) => void;
  signal?: AbortSignal;
}

const RING = 4;

/** Renders a clip. Rejects with MediaError, or with an AbortError when the signal was given. */
export async function render(request: RenderRequest): Promise<void> {
  request.signal?.throwIfAborted();
  const folder = temporaryFolder('render');
  const pipes = { read: join(folder, 'decoded'), write: join(folder, 'drawn') };
  execFileSync('mkfifo', [pipes.read, pipes.write]);
  const drawing = Math.max(2, availableParallelism());
  const plan = planMemory({ ...request, workers: drawing, ring: RING });
  const memory = createMemory(plan.size);
  const module = await WebAssembly.compile(readFileSync(join(engineFolder(), 'kernel.wasm')));
  (await Kernel.create(module, memory, plan)).prepare(request.picture);
  if (request.signal?.aborted) {
    removeTemporary(folder);
    request.signal.throwIfAborted();
  }
  const counters = new SharedArrayBuffer(COUNTERS * 4);
  const count = new Int32Array(counters);

  const decoder = start('ffmpeg', request.decoder(pipes.read), ['ignore', 'ignore', 'pipe']);
  const encoder = start('ffmpeg', request.encoder(pipes.write), request.encoderStreams ?? ['ignore', 'ignore', 'pipe']);
  request.onEncoder?.(encoder);
  const { take, corrections, picture, start: begin, step, frames, sourceFrames, skip, target } = request;
  const shared = {
    module,
    memory,
    plan,
    counters,
    take,
    corrections,
    picture,
    start: begin,
    step,
    frames,
    sourceFrames,
    skip,
    ...target,
  };
  const worker = (role: WorkerSetup['role'], index: number, fifo = '') =>
    new Worker(join(engineFolder(), 'render-worker.mjs'), {
      workerData: { ...shared, role, index, fifo } satisfies WorkerSetup,
    });
  const workers = [
    worker('read', 0, pipes.read),
    worker('write', 0, pipes.write),
    ...Array.from({ length: drawing }, (_, i) => worker('draw', i)),
  ];

  const abort = () => {
    Atomics.store(count, ABORTED, 1);
    for (let i = 0; i < COUNTERS; i++) Atomics.notify(count, i);
    decoder.kill('SIGKILL');
    encoder.kill('SIGKILL');
    release(pipes.read, constants.O_WRONLY);
    release(pipes.write, constants.O_RDONLY);
  };
  const deaf = onAbort(request.signal, abort);
  const showing = request.onPicture ? new FramePictures(target, request.onPicture) : null;
  const timer = setInterval(() => {
    const written = Atomics.load(count, WRITTEN);
    request.progress?.(written);
    if (written > 0 && written < frames) {
      const { pointer, bytes } = plan.targets[(written - 1) % RING]!;
      showing?.offer(() => new Uint8Array(memory.buffer, pointer, bytes).slice());
    }
  }, 200);
  try {
    // A decoder that fails must also wake a reader that waits for it to open the pipe.
    const decoded = finished(decoder).finally(() => release(pipes.read, constants.O_WRONLY));
    const encoded = finished(encoder).finally(() => release(pipes.write, constants.O_RDONLY));
    await allOrFirstFailure([encoded, decoded.catch(ignoreLateStop(count, frames)), ...workers.map(outcome)]);
    request.progress?.(frames);
  } catch (error) {
    abort();
    request.signal?.throwIfAborted();
    throw error instanceof MediaError ? error : new MediaError((error as Error).message);
  } finally {
    clearInterval(timer);
    deaf();
    // A thread may come to open its pipe only now, when nobody is at the other end: it is woken until it ends.
    const nudge = setInterval(() => {
      release(pipes.read, constants.O_WRONLY);
      release(pipes.write, constants.O_RDONLY);
    }, 50);
    await Promise.all(workers.map((w) => w.terminate()));
    clearInterval(nudge);
    removeTemporary(folder);
  }
}

/** Once all frames are in, the decoder may find nobody reading: that is no failure. */
const ignoreLateStop = (count: Int32Array, frames: number) => (error: unknown) => {
  if (Atomics.load(count, WRITTEN) < frames && !/Broken pipe|writing trailer|muxing/i.test(String(error))) throw error;
};

/**
 * Waits for all; fails as soon as one fails. An encoder's or decoder's own words are preferred to those of
 * the thread at the other end of its pipe, which only saw it break.
 */
async function allOrFirstFailure(parts: Promise<unknown>[]) {
  try {
    await Promise.all(parts);
  } catch (first) {
    if (!(first instanceof BrokenPipe)) throw first;
    const told = await Promise.race([
      Promise.all(parts.slice(0, 2)).then(
        () => first,
        (e: unknown) => e,
      ),
      new Promise((r) => setTimeout(() => r(first), 2000)),
    ]);
    throw told;
  }
}

class BrokenPipe extends Error {}

const outcome = (worker: Worker) =>
  new Promise<void>((resolve, reject) => {
    worker.once('message', (m: { done?: true; error?: string; broken?: boolean }) => {
      if (m.error) reject(m.broken ? new BrokenPipe(m.error) : new MediaError(m.error));
      else resolve();
    });
    worker.once('error', reject);
    worker.once('exit', () => resolve());
  });

/** Opens and closes a pipe's other end without waiting, so that a thread blocked in opening it goes on. */
function release(fifo: string, flag: number) {
  try {
    closeSync(openSync(fifo, flag | constants.O_NONBLOCK));
  } catch {
    // Nobody waits at it, or it is gone already.
  }
}
