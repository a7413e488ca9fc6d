/**
 * The render pipeline: decoders → shared memory → kernel threads → encoder, with bounded buffers. It carries out a frame plan
 * and knows nothing of what is meant by it.
 */
import { execFileSync, type ChildProcess } from 'node:child_process';
import { closeSync, constants, openSync, readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { PixelFormat } from '@glimbo/core/codecs/pixels';
import { NO_CUBES, type Cubes } from '@glimbo/core/look/treatment';
import type { FramePlan } from '@glimbo/core/plan/plan';
import { rowsOfBand } from '@glimbo/core/plan/rows';
import { createMemory, Kernel } from '@glimbo/kernel';
import { planMemory } from '@glimbo/kernel/memory';
import { engineFolder, finished, MediaError, onAbort, start } from '../ffmpeg.js';
import { removeTemporary, temporaryFolder } from '../temporary.js';
import { ABORTED, countersOf, RING, WRITTEN } from './counters.js';
import { FramePictures } from './frame-pictures.js';
import { tableOf, type PlanTable } from './plan-table.js';
import type { Rows, WorkerSetup } from './worker-setup.js';

/** A footage that a plan draws from, as it is decoded. */
export interface RenderSource {
  /** Size of its decoded pictures. */
  width: number;
  height: number;
  /** Whether it can only be decoded from its start: a variable rate is made constant on the way. */
  fromStart?: boolean;
  /**
   * Arguments for an ffmpeg that writes `count` pictures from a frame on into a pipe, raw 4:2:0; of each picture only `rows`
   * rows from `top` on.
   */
  decoder: (pipe: string, from: number, count: number, part: Rows) => string[];
}

export interface RenderRequest {
  plan: FramePlan;
  /** One for each of the plan's sources. */
  sources: RenderSource[];
  /** The LUTs that the plan's treatments name. */
  cubes?: Cubes;
  /** The image of the plan's patch, straight RGBA of its side, where it is one. */
  patchImage?: Uint8Array;
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
  const ring = Math.max(RING, ...table.pictures.map((p) => p.held + 2));
  const drawing = Math.max(2, availableParallelism());
  const tables = Math.min(RING, table.treatments.list.length);
  const layout = planMemory({
    sources,
    target: plan,
    format,
    workers: drawing,
    ring,
    mixing: table.most > 1,
    tables,
    detail: table.detail !== null,
    overlaid: table.overlays.list.length > 0,
    patched: table.patch !== null,
    parted: table.sector !== null,
  });
  const memory = createMemory(layout.size);
  const module = await WebAssembly.compile(readFileSync(join(engineFolder(), 'kernel.wasm')));
  (await Kernel.create(module, memory, layout)).prepare(plan.sources);
  signal?.throwIfAborted();
  const places = countersOf(sources.length, ring);
  const counters = new SharedArrayBuffer(places.count * 4);
  const count = new Int32Array(counters);

  // Only now: what was refused before this has left nothing.
  const folder = temporaryFolder('render');
  const drawn = join(folder, 'drawn');
  const readings = readingsOf(request, table, folder);
  execFileSync('mkfifo', [...readings.map((r) => r.pipe), drawn]);
  const decoders = readings.map(({ decoder }) => start('ffmpeg', decoder, ['ignore', 'ignore', 'pipe']));
  const encoder = start('ffmpeg', request.encoder(drawn), request.encoderStreams ?? ['ignore', 'ignore', 'pipe']);
  request.onEncoder?.(encoder);
  const shared = {
    module,
    memory,
    plan: layout,
    counters,
    table,
    cubes: request.cubes ?? NO_CUBES,
    patchImage: request.patchImage,
  };
  const worker = (setup: WorkerSetup) => new Worker(join(engineFolder(), 'render-worker.mjs'), { workerData: setup });
  const workers = [
    ...readings.map(({ source, pipe, begins, part }) =>
      worker({ ...shared, role: 'read', source, fifo: pipe, begins, part }),
    ),
    worker({ ...shared, role: 'write', fifo: drawn }),
    ...Array.from({ length: drawing }, (_, index) => worker({ ...shared, role: 'draw', index })),
  ];
  const releaseAll = () => {
    for (const { pipe } of readings) release(pipe, constants.O_WRONLY);
    release(drawn, constants.O_RDONLY);
  };

  const abort = () => {
    Atomics.store(count, ABORTED, 1);
    for (let i = 0; i < places.count; i++) Atomics.notify(count, i);
    for (const child of [...decoders, encoder]) child.kill('SIGKILL');
    releaseAll();
  };
  const deaf = onAbort(signal, abort);
  const showing = request.onPicture ? new FramePictures(plan, format, request.onPicture) : null;
  const timer = setInterval(() => {
    const written = Atomics.load(count, WRITTEN);
    request.progress?.(written);
    if (written > 0 && written < frames) {
      const { pointer, bytes } = layout.targets[(written - 1) % RING]!;
      showing?.offer(() => new Uint8Array(memory.buffer, pointer, bytes).slice());
    }
  }, 200);
  try {
    // A decoder that fails must also wake a reader that waits for it to open the pipe.
    const decoded = decoders.map((decoder, s) =>
      finished(decoder)
        .finally(() => release(readings[s]!.pipe, constants.O_WRONLY))
        .catch(ignoreLateStop(count, frames)),
    );
    const encoded = finished(encoder).finally(() => release(drawn, constants.O_RDONLY));
    await allOrFirstFailure([encoded, ...decoded], workers.map(outcome));
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

/** How a source's pictures come: through which pipe, from which frame of the footage on, which rows of them. */
interface Reading {
  source: number;
  pipe: string;
  begins: number;
  part: Rows;
  decoder: string[];
}

/** The readings of all sources that anything is drawn from. */
function readingsOf({ plan, sources }: RenderRequest, table: PlanTable, folder: string): Reading[] {
  return sources.flatMap(({ height, fromStart, decoder }, source) => {
    const { frames, band } = table.pictures[source]!;
    if (!frames.length) return [];
    const pipe = join(folder, `decoded-${source}`);
    const begins = fromStart ? 0 : frames[0]!;
    // Of a whole sphere only what is drawn has to come through the pipe.
    const part = plan.sources[source]!.kind === 'sphere' ? rowsOfBand(band, height) : { top: 0, rows: height };
    const count = frames.at(-1)! + 1 - begins;
    return [{ source, pipe, begins, part, decoder: decoder(pipe, begins, count, part) }];
  });
}

/** Once all frames are in, the decoder may find nobody reading: that is no failure. */
const ignoreLateStop = (count: Int32Array, frames: number) => (error: unknown) => {
  if (Atomics.load(count, WRITTEN) < frames && !/Broken pipe|writing trailer|muxing/i.test(String(error))) throw error;
};

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

/** Opens and closes a pipe's other end without waiting, so that a thread blocked in opening it goes on. */
function release(fifo: string, flag: number) {
  try {
    closeSync(openSync(fifo, flag | constants.O_NONBLOCK));
  } catch {
    // Nobody waits at it, or it is gone already.
  }
}
