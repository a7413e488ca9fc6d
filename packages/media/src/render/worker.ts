/**
 * A thread of the render pipeline. One reads decoded frames into shared memory, one writes finished frames to
 * the encoder, the others draw. They meet in an array of counters; nothing is copied between them.
 */
import { closeSync, openSync, readSync, writeSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import { Kernel, needsMips } from '@glimbo/kernel';
import { STRIPE_ROWS, type MemoryPlan } from '@glimbo/kernel/memory';
import { IDENTITY, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { sphereWidth, type Source } from '@glimbo/core/stitch/source';
import type { Take } from '@glimbo/core/take/take';
import { ABORTED, MIP_PARTS, MIPS, NEXT, READ, STRIPES, WRITTEN } from './counters.js';
import { shotAt } from './shot.js';

export interface WorkerSetup {
  role: 'read' | 'write' | 'draw';
  index: number;
  module: WebAssembly.Module;
  memory: WebAssembly.Memory;
  plan: MemoryPlan;
  counters: SharedArrayBuffer;
  fifo: string;
  frames: number;
  /** For every frame of the clip the index of the decoded frame it shows, from 0. */
  sourceFrames: number[];
  /** Decoded frames to leave out before the first. */
  skip: number;
  /** What is drawn: a take's view, or without one the whole sphere. */
  take: Take | null;
  /** The correction of every frame of the clip, nine doubles each; none for the sphere as it was filmed. */
  corrections: Float64Array | null;
  picture: Source;
  /** Time of the first frame, and from one frame to the next, in seconds of the footage. */
  start: number;
  step: number;
  width: number;
  height: number;
}

const setup = workerData as WorkerSetup;
const { plan, memory, frames } = setup;
const counters = new Int32Array(setup.counters);
const bytes = new Uint8Array(memory.buffer);
const ring = plan.sources.length;
const stripes = Math.ceil(Math.ceil(setup.height / 8) / STRIPE_ROWS);

class Aborted extends Error {}

/** Blocks until a counter fulfils a condition. */
function until(counter: number, condition: (value: number) => boolean) {
  for (;;) {
    const value = Atomics.load(counters, counter);
    if (condition(value)) return;
    if (Atomics.load(counters, ABORTED)) throw new Aborted();
    Atomics.wait(counters, counter, value, 500);
  }
}

function advance(counter: number, by = 1) {
  Atomics.add(counters, counter, by);
  Atomics.notify(counters, counter);
}

/** Fills a slot with the next decoded frame; false at the end of the stream. */
function readFrame(fd: number, pointer: number, length: number): boolean {
  let got = 0;
  while (got < length) {
    const n = readSync(fd, bytes, pointer + got, length - got, null);
    if (n === 0) return false;
    got += n;
  }
  return true;
}

/** How many frames at the end may be missing because the container's duration was rounded up. */
const MISSING_ALLOWED = 3;

function read() {
  const fd = openSync(setup.fifo, 'r');
  let next = -setup.skip;
  let missing = 0;
  for (let n = 0; n < frames; n++) {
    until(WRITTEN, (written) => written > n - ring);
    const slot = plan.sources[n % ring]!;
    const wanted = setup.sourceFrames[n]!;
    const before = plan.sources[(n + ring - 1) % ring]!;
    const repeat = () => bytes.copyWithin(slot.pointer, before.pointer, before.pointer + slot.bytes);
    if (next > wanted) repeat();
    while (next <= wanted) {
      if (!readFrame(fd, slot.pointer, slot.bytes)) {
        missing++;
        if (n === 0 || missing > MISSING_ALLOWED)
          throw new Error('The footage ended before the out point. Set the out point earlier.');
        repeat();
      }
      next++;
    }
    advance(READ);
  }
  closeSync(fd);
}

function write() {
  const fd = openSync(setup.fifo, 'w');
  for (let n = 0; n < frames; n++) {
    const slot = n % ring;
    until(STRIPES + slot, (done) => done === stripes);
    const { pointer, bytes: length } = plan.targets[slot]!;
    for (let sent = 0; sent < length;) sent += writeSync(fd, bytes, pointer + sent, length - sent);
    Atomics.store(counters, STRIPES + slot, 0);
    Atomics.store(counters, MIPS + slot, 0);
    advance(WRITTEN);
  }
  closeSync(fd);
}

function correctionAt(n: number): Matrix3 {
  const { corrections } = setup;
  return corrections ? (Array.from(corrections.subarray(9 * n, 9 * n + 9)) as unknown as Matrix3) : IDENTITY;
}

async function draw() {
  const kernel = await Kernel.create(setup.module, memory, plan);
  const perFrame = MIP_PARTS + stripes;
  const wide = sphereWidth(setup.picture, plan.sources[0]!.planes[0]![0]!.width);
  const tileRows = Math.ceil(setup.height / 8);
  for (;;) {
    const ticket = Atomics.add(counters, NEXT, 1);
    const n = Math.floor(ticket / perFrame);
    if (n >= frames) return;
    const step = ticket % perFrame;
    const slot = n % ring;
    const shot = shotAt(
      setup.take,
      correctionAt(n),
      setup.picture,
      setup.start + n * setup.step,
      setup.width,
      setup.height,
    );
    until(READ, (count) => count > n);
    if (step < MIP_PARTS) {
      kernel.ready(shot, plan.sources[slot]!, needsMips(shot.picture, wide), step, MIP_PARTS, setup.index);
      advance(MIPS + slot);
    } else {
      until(MIPS + slot, (done) => done === MIP_PARTS);
      const row = (step - MIP_PARTS) * STRIPE_ROWS;
      kernel.draw(
        shot,
        plan.sources[slot]!,
        plan.targets[slot]!,
        row,
        Math.min(STRIPE_ROWS, tileRows - row),
        setup.index,
      );
      advance(STRIPES + slot);
    }
  }
}

try {
  if (setup.role === 'read') read();
  else if (setup.role === 'write') write();
  else await draw();
  parentPort!.postMessage({ done: true });
} catch (error) {
  if (!(error instanceof Aborted)) {
    const broken = (error as NodeJS.ErrnoException).code === 'EPIPE';
    parentPort!.postMessage({ error: broken ? 'The encoder stopped.' : (error as Error).message, broken });
  }
}
