/**
 * The render pipeline: decoders → shared memory → kernel threads → encoder, with bounded buffers. It carries out a frame plan
 * and knows nothing of what is meant by it.
 */
import { execFileSync, type ChildProcess } from 'node:child_process';
import { constants } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { PixelFormat } from '@glimbo/core/colour/pixels';
import type { FramePlan } from '@glimbo/core/plan/plan';
import { engineFolder, finished, MediaError, onAbort, start } from '../ffmpeg.js';
import { removeTemporary, temporaryFolder } from '../temporary.js';
import { Counters, RING, WRITTEN } from './counters.js';
import { NO_MATERIALS, type EngineMaterials } from './frame-engine.js';
import { FramePictures } from './frame-pictures.js';
import { tableOf } from './table-writer.js';
import { roomFor } from './room.js';
import { Decoders, lanesOf, readingsOf, release, type RenderSource } from './sources.js';
import type { WorkerSetup } from './worker-setup.js';

export interface RenderRequest {
  plan: FramePlan;
  /** One for each of the plan's sources. */
  sources: RenderSource[];
  /** What the plan's treatments and patches name. */
  materials?: EngineMaterials;
  /** How the finished frames go to the encoder. */
  format: PixelFormat;
  /** Arguments for the encoder, given the name of its pipe. */
  encoder: (pipe: string) => string[];
  /** Standard streams of the encoder from 0 on, and what is done with them; by default only its errors are read. */
  encoderStreams?: ('ignore' | 'pipe')[];
  onEncoder?: (encoder: ChildProcess) => void;
  progress?: (frames: number) => void;
  /** Gets the frame that is being written from time to time, as a small JPEG picture. */
  onPicture?: (jpeg: Uint8Array) => void;
  signal?: AbortSignal;
}

/** Renders a plan. Rejects with MediaError, or with an AbortError when the signal was given. */
export async function render(request: RenderRequest): Promise<void> {
  const { plan, sources, format, signal } = request;
  signal?.throwIfAborted();
  const { frames } = plan;
  const table = tableOf(
    plan,
    sources.map((s) => s.width),
  );
  const lanes = lanesOf(table.pictures);
  const rings = table.pictures.map((p) => Math.max(RING, p.held + 2));
  const drawing = Math.max(2, availableParallelism());
  const { layout, memory, module, counted, counters } = await roomFor(table, {
    ...{ sources, lanes, format, rings, frames: RING, workers: drawing },
  });
  signal?.throwIfAborted();
  const count = new Counters(counters);

  // Only now: what was refused before this has left nothing.
  const folder = temporaryFolder('render');
  const drawn = join(folder, 'drawn');
  const readers = readingsOf(sources, table, lanes, folder);
  const openings = readers.flatMap((r) => r.openings);
  execFileSync('mkfifo', [...openings.map((o) => o.pipe), drawn]);
  const isLate = () => count.at(WRITTEN) >= frames;
  const decoders = new Decoders(openings);
  decoders.open(0, isLate);
  const encoder = start('ffmpeg', request.encoder(drawn), request.encoderStreams ?? ['ignore', 'ignore', 'pipe']);
  request.onEncoder?.(encoder);
  const materials = request.materials ?? NO_MATERIALS;
  const shared = { module, memory, plan: layout, counters, counted, table, materials };
  const worker = (setup: WorkerSetup) => new Worker(join(engineFolder(), 'render-worker.mjs'), { workerData: setup });
  const workers = [
    ...readers.map(({ readings }) => worker({ ...shared, role: 'read', readings })),
    worker({ ...shared, role: 'write', fifo: drawn }),
    ...Array.from({ length: drawing }, (_, index) => worker({ ...shared, role: 'draw', index })),
  ];
  const releaseAll = () => {
    for (const { pipe } of openings) release(pipe, constants.O_WRONLY);
    release(drawn, constants.O_RDONLY);
  };

  const abort = () => {
    decoders.stop();
    count.abort();
    encoder.kill('SIGKILL');
    releaseAll();
  };
  const deaf = onAbort(signal, abort);
  const showing = request.onPicture ? new FramePictures(plan, format, request.onPicture) : null;
  const timer = setInterval(() => {
    const written = count.at(WRITTEN);
    decoders.open(written, isLate);
    request.progress?.(written);
    if (written > 0 && written < frames) {
      const { pointer, bytes } = layout.targets[(written - 1) % RING]!;
      showing?.offer(() => new Uint8Array(memory.buffer, pointer, bytes).slice());
    }
  }, 200);
  try {
    const encoded = finished(encoder).finally(() => release(drawn, constants.O_RDONLY));
    await allOrFirstFailure([encoded, decoders.ended], workers.map(outcome));
    request.progress?.(frames);
  } catch (error) {
    abort();
    signal?.throwIfAborted();
    throw error instanceof MediaError ? error : new MediaError((error as Error).message);
  } finally {
    clearInterval(timer);
    deaf();
    // A thread may come to open its pipe only now, when nobody is at the other end: it is woken until it ends.
    const nudge = setInterval(releaseAll, 50);
    await Promise.all(workers.map((w) => w.terminate()));
    clearInterval(nudge);
    removeTemporary(folder);
  }
}

/**
 * Waits for all; fails as soon as one fails. An encoder's or decoder's own words are preferred to those of
 * the thread at the other end of its pipe, which only saw it break.
 */
async function allOrFirstFailure(programs: Promise<unknown>[], threads: Promise<unknown>[]) {
  try {
    await Promise.all([...programs, ...threads]);
  } catch (first) {
    if (!(first instanceof BrokenPipe)) throw first;
    const told = await Promise.race([
      Promise.all(programs).then(
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
