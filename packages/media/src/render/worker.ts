/**
 * A thread of the render pipeline. Some read decoded pictures into shared memory, one writes finished frames to the encoder,
 * the others draw. They meet in an array of counters; nothing is copied between them.
 */
import { closeSync, openSync, readSync, writeSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import { Kernel, prepareSource } from '@glimbo/kernel';
import type { SourceSlot } from '@glimbo/kernel/memory';
import { Aborted, Counters, placesOf, WRITTEN } from './counters.js';
import { FrameEngine } from './frame-engine.js';
import { lumaOf, workOf } from './frame-work.js';
import type { Reading, Rows, WorkerSetup } from './worker-setup.js';

const setup = workerData as WorkerSetup;
const { plan, memory, table } = setup;
const { frames } = table;
const counters = new Counters(setup.counters);
const places = placesOf(setup.counted);
const bytes = new Uint8Array(memory.buffer);

/** Fills a piece of memory from a pipe; false at the end of the stream. */
function fill(fd: number, pointer: number, length: number): boolean {
  let got = 0;
  while (got < length) {
    const n = readSync(fd, bytes, pointer + got, length - got, null);
    if (n === 0) return false;
    got += n;
  }
  return true;
}

/** Fills a slot with the next decoded picture, as far as it comes; false at the end of the stream. */
const readPicture = (fd: number, { planes }: SourceSlot, { top, rows }: Rows): boolean =>
  planes.every(([plane], p) => {
    const half = p === 0 ? 1 : 2;
    return fill(fd, plane!.pointer + (top / half) * plane!.width, (rows / half) * plane!.width);
  });

const CUT_SHORT =
  'The footage ends before its index says: it is damaged or cut short. Copy it from the card again, or set the out point earlier.';

/** How many pictures at the end may be missing because the container's duration was rounded up. */
const MISSING_ALLOWED = 3;

/** Reads a source's pictures, once nobody needs those of the source that was in their place. */
function read({ source, fifo, begins, part, after }: Reading) {
  const { frames: wanted, needed } = table.pictures[source]!;
  const slots = plan.sources[source]!;
  const ring = slots.length;
  counters.until(WRITTEN, (written) => written >= after);
  prepareSource(table.sources[source]!, slots, memory.buffer);
  const fd = openSync(fifo, 'r');
  let next = begins;
  let missing = 0;
  for (let number = 0; number < wanted.length; number++) {
    const slot = slots[number % ring]!;
    // A place is free when no frame needs the picture in it any more.
    counters.until(WRITTEN, (written) => written >= frames || needed[written]! + ring > number);
    counters.set(places.ready(source, number % ring), 0);
    for (; next <= wanted[number]!; next++) {
      if (readPicture(fd, slot, part)) continue;
      missing++;
      if (number === 0 || missing > MISSING_ALLOWED) throw new Error(CUT_SHORT);
      const before = slots[(number - 1) % ring]!;
      bytes.copyWithin(slot.pointer, before.pointer, before.pointer + slot.bytes);
    }
    counters.add(places.read(source));
  }
  closeSync(fd);
}

/** Writes a piece of memory into a pipe. */
function send(fd: number, pointer: number, length: number) {
  for (let sent = 0; sent < length;) sent += writeSync(fd, bytes, pointer + sent, length - sent);
}

function write({ fifo }: WorkerSetup & { role: 'write' }) {
  const fd = openSync(fifo, 'w');
  for (let n = 0; n < frames; n++) {
    const slot = n % plan.targets.length;
    const work = workOf(table, n);
    const { drawing, finishing, joining } = work;
    for (const [place, steps] of [
      [places.drawn(slot), drawing],
      [places.finished(slot), finishing],
      [places.joined(slot), joining],
    ] as const) {
      counters.until(place, (count) => count === steps.length);
    }
    const target = plan.targets[slot]!;
    const luma = lumaOf(work, target);
    const size = luma.stride * luma.height;
    if (luma.pointer !== target.pointer) send(fd, luma.pointer, size);
    const sent = luma.pointer === target.pointer ? 0 : size;
    send(fd, target.pointer + sent, target.bytes - sent);
    for (const place of [places.drawn, places.finished, places.joined]) counters.set(place(slot), 0);
    counters.add(WRITTEN);
  }
  closeSync(fd);
}

async function draw({ index, module, materials }: WorkerSetup & { role: 'draw' }) {
  const kernel = await Kernel.create(module, memory, plan);
  await new FrameEngine({ table, plan, kernel, counters, places, materials }, index).run();
}

try {
  if (setup.role === 'read') setup.readings.forEach(read);
  else if (setup.role === 'write') write(setup);
  else await draw(setup);
  parentPort!.postMessage({ done: true });
} catch (error) {
  if (!(error instanceof Aborted)) {
    const broken = (error as NodeJS.ErrnoException).code === 'EPIPE';
    parentPort!.postMessage({ error: broken ? 'The encoder stopped.' : (error as Error).message, broken });
  }
}
