/**
 * A thread of the render pipeline. One for each source reads decoded pictures into shared memory, one writes finished
 * frames to the encoder, the others draw. They meet in an array of counters; nothing is copied between them.
 */
import { closeSync, openSync, readSync, writeSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import { bake, type Steps } from '@glimbo/core/look/table';
import { fillPicture, pictureOfPatch } from '@glimbo/core/look/patch';
import { mapOf } from '@glimbo/core/look/treatment';
import { svgToRgba } from '../svg.js';
import { Kernel, stripesOf, type Besides } from '@glimbo/kernel';
import { paneOf, type SourceSlot } from '@glimbo/kernel/memory';
import { ABORTED, countersOf, NEXT, READY_PARTS, RING, WRITTEN } from './counters.js';
import { NONE, shotsOf, usesOf, type PictureUse, type TableShot } from './plan-table.js';
import type { Rows, WorkerSetup } from './worker-setup.js';

const setup = workerData as WorkerSetup;
const { plan, memory, table } = setup;
const { frames } = table;
const counters = new Int32Array(setup.counters);
const bytes = new Uint8Array(memory.buffer);
/** All stripes of a frame, pane by pane; one may be begun when `after` stripes of its frame are done. */
const stripes = table.panes.flatMap((pane, p) =>
  stripesOf(pane.height).map((stripe) => ({ ...stripe, pane: p, after: under(p) })),
);
/** Stripes of the whole frame that get their detail, and what lies over it, once it is drawn. */
const overlaid = table.overlays.list.length > 0;
const detailing = table.detail || overlaid ? stripesOf(plan.targets[0]!.planes[0]!.height) : [];
/** Decoded pictures of a source that are held at once. */
const ring = plan.sources[0]!.length;
const { readOf, readyOf, stripesDone, bakedOf, stripesDetailed, laidOf, heldOf, patchedOf } = countersOf(
  table.sources.length,
  ring,
);

class Aborted extends Error {}

/** How many stripes lie under a pane: those of all panes before it, if it covers any of them. */
function under(p: number): number {
  const pane = table.panes[p]!;
  const before = table.panes.slice(0, p);
  const meets = (o: typeof pane) =>
    pane.left < o.left + o.width &&
    o.left < pane.left + pane.width &&
    pane.top < o.top + o.height &&
    o.top < pane.top + pane.height;
  return before.some(meets) ? before.reduce((sum, o) => sum + stripesOf(o.height).length, 0) : 0;
}

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

/** How many pictures at the end may be missing because the container's duration was rounded up. */
const MISSING_ALLOWED = 3;

function read({ source, fifo, begins, part }: WorkerSetup & { role: 'read' }) {
  const { frames: wanted, needed } = table.pictures[source]!;
  const slots = plan.sources[source]!;
  const fd = openSync(fifo, 'r');
  let next = begins;
  let missing = 0;
  for (let number = 0; number < wanted.length; number++) {
    const slot = slots[number % ring]!;
    // A place is free when no frame needs the picture in it any more.
    until(WRITTEN, (written) => written >= frames || needed[written]! + ring > number);
    Atomics.store(counters, readyOf(source, number % ring), 0);
    for (; next <= wanted[number]!; next++) {
      if (readPicture(fd, slot, part)) continue;
      missing++;
      if (number === 0 || missing > MISSING_ALLOWED)
        throw new Error('The footage ended before the out point. Set the out point earlier.');
      const before = slots[(number - 1) % ring]!;
      bytes.copyWithin(slot.pointer, before.pointer, before.pointer + slot.bytes);
    }
    advance(readOf(source));
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
    const [done, whole] = [stripesDone(n % RING), stripesDetailed(n % RING)];
    until(done, (count) => count === stripes.length);
    until(whole, (count) => count === detailing.length);
    const { pointer, bytes: length, planes, detailed } = plan.targets[n % RING]!;
    const luma = planes[0]!.stride * planes[0]!.height;
    if (detailed) send(fd, detailed.pointer, luma);
    send(fd, pointer + (detailed ? luma : 0), length - (detailed ? luma : 0));
    Atomics.store(counters, done, 0);
    Atomics.store(counters, whole, 0);
    advance(WRITTEN);
  }
  closeSync(fd);
}

/** What a thread that draws knows of the frame that it is at: its shots, and the pictures that it shows first. */
interface FrameWork {
  shots: TableShot[];
  fresh: ReturnType<typeof usesOf>;
  /** What is done to its colours; null where nothing is. */
  look: FrameLook | null;
}

/** A treatment by its number, where its table lies, and how it is looked up. */
interface FrameLook {
  number: number;
  table: number;
  steps: Steps;
}

function workOf(n: number): FrameWork {
  const shots = shotsOf(table, n);
  const fresh = shots
    .flatMap(usesOf)
    .filter(
      (s, i, uses) =>
        table.pictures[s.from]!.firstShown[s.number] === n &&
        uses.findIndex((o) => o.from === s.from && o.number === s.number) === i,
    );
  return { shots, fresh, look: lookOf(n) };
}

function lookOf(n: number): FrameLook | null {
  const { list, of } = table.treatments;
  const number = of[n]!;
  if (number === NONE) return null;
  // What changes from frame to frame has to be baked as often.
  return { number, table: plan.tables[number % plan.tables.length]!, steps: list.length > RING ? 33 : 65 };
}

/** Bakes the table of what is done to a frame's colours, if it is the first frame that has it. */
function bakeFor(kernel: Kernel, n: number, { number, table: place, steps }: FrameLook) {
  const { list, of } = table.treatments;
  if (n > 0 && of[n - 1] === number) return;
  const baked = bakedOf(number % plan.tables.length);
  // The frames that looked up what lay here before must have been written.
  until(WRITTEN, (written) => written > n - RING);
  kernel.place(bake(mapOf(list[number]!, setup.cubes), steps), place);
  Atomics.store(counters, baked, number + 1);
  Atomics.notify(counters, baked);
}

/** Steps before the drawing of a frame: readying its pictures, and where there is a patch, making that. */
const READY = READY_PARTS + (table.patch ? 1 : 0);

/** Waits until a decoded picture is ready to be drawn from. */
function untilReady({ from, number }: PictureUse) {
  until(readOf(from), (count) => count > number);
  until(readyOf(from, number % ring), (parts) => parts === READY_PARTS);
}

const slotOf = ({ from, number }: PictureUse): SourceSlot => plan.sources[from]![number % ring]!;

/** What a shot of frame n is drawn with besides its own picture. */
function besidesOf(n: number, { parted }: TableShot): Besides {
  const { patch, sector } = table;
  return {
    ...(patch ? { patch: { patch, slot: plan.patches!.slots[n % RING]! } } : {}),
    ...(sector ? { sector: { sector, twin: parted?.twin ? slotOf(parted.twin) : null } } : {}),
  };
}

/** Makes the patch of a frame, from what its picture shows round about. */
function patchFor(kernel: Kernel, n: number, shot: TableShot, worker: number) {
  const patch = table.patch!;
  const slot = plan.patches!.slots[n % RING]!;
  untilReady(shot);
  // The frame that it covered before must have been written.
  until(WRITTEN, (written) => written > n - RING);
  // What never changes lies there from the ring's first round on.
  if (patch.kind === 'fill') {
    const rim = kernel.rimOf(shot, patch, slotOf(shot), worker);
    kernel.placePatch(fillPicture(patch, rim, n), slot);
  } else if (n < RING) kernel.placePatch(pictureOfPatch(patch, setup.patchImage), slot);
  Atomics.store(counters, patchedOf(n % RING), n + 1);
  Atomics.notify(counters, patchedOf(n % RING));
}

/** Makes ready what lies over a frame. */
async function layFor(kernel: Kernel, n: number) {
  const number = table.overlays.of[n]!;
  if (number === NONE) return;
  const slot = n % RING;
  // The frame that it lay over before must have been written.
  until(WRITTEN, (written) => written > n - RING);
  if (Atomics.load(counters, heldOf(slot)) !== number + 1)
    kernel.placeOverlay(await drawnOverlay(number), plan.overlays[slot]!);
  Atomics.store(counters, heldOf(slot), number + 1);
  Atomics.store(counters, laidOf(slot), n + 1);
  Atomics.notify(counters, laidOf(slot));
}

/** The overlay that was drawn last: most are seen for many frames. */
let drawn: { number: number; rgba: Uint8Array } | null = null;

async function drawnOverlay(number: number): Promise<Uint8Array> {
  if (drawn?.number !== number) {
    const { width, height } = plan.targets[0]!.planes[0]!;
    drawn = { number, rgba: await svgToRgba(table.overlays.list[number]!, width, height) };
  }
  return drawn.rgba;
}

function finishStripe(kernel: Kernel, n: number, { row, rows }: { row: number; rows: number }, worker: number) {
  until(stripesDone(n % RING), (count) => count === stripes.length);
  const target = plan.targets[n % RING]!;
  if (table.detail) kernel.detail(target, row, rows, table.detail, worker);
  if (table.overlays.of[n] !== NONE) {
    until(laidOf(n % RING), (count) => count > n);
    kernel.lay(target, row, rows, plan.overlays[n % RING]!);
  }
  advance(stripesDetailed(n % RING));
}

async function draw({ index }: WorkerSetup & { role: 'draw' }) {
  const kernel = await Kernel.create(setup.module, memory, plan);
  // The detail of a frame comes after the next one's drawing: by then all that it needs is drawn.
  const perFrame = READY + stripes.length + detailing.length;
  const behind = detailing.length ? 1 : 0;
  let at = -1;
  let work: FrameWork = { shots: [], fresh: [], look: null };
  for (;;) {
    const ticket = Atomics.add(counters, NEXT, 1);
    const n = Math.floor(ticket / perFrame);
    const step = ticket % perFrame;
    if (n >= frames + behind) return;
    const stripe = detailing[step - READY - stripes.length];
    if (stripe) {
      if (n > 0) finishStripe(kernel, n - 1, stripe, index);
      continue;
    }
    if (n >= frames) continue;
    if (n !== at) work = workOf((at = n));
    if (step < READY_PARTS) {
      if (step === 0 && work.look) bakeFor(kernel, n, work.look);
      if (step === 1) await layFor(kernel, n);
      for (const shot of work.fresh) {
        until(readOf(shot.from), (count) => count > shot.number);
        const mips = table.pictures[shot.from]!.mips[shot.number] === 1;
        kernel.ready(shot, slotOf(shot), mips, step, READY_PARTS, index);
        advance(readyOf(shot.from, shot.number % ring));
      }
      continue;
    }
    if (step < READY) {
      patchFor(kernel, n, work.shots[0]!, index);
      continue;
    }
    const { pane, row, rows, after } = stripes[step - READY]!;
    if (table.patch) until(patchedOf(n % RING), (count) => count > n);
    const target = paneOf(plan.targets[n % RING]!, table.panes[pane]!);
    const shots = work.shots.filter((s) => s.pane === pane);
    // The frame that was in this place before must have been written.
    until(WRITTEN, (written) => written > n - RING);
    shots.flatMap(usesOf).forEach(untilReady);
    const done = stripesDone(n % RING);
    if (after) until(done, (count) => count >= after);
    const parts = shots.map((shot) => ({ shot, slot: slotOf(shot), weight: shot.weight, besides: besidesOf(n, shot) }));
    // Panes that are not shown in a frame have no shots, and are left as they are.
    if (parts.length > 1) kernel.mix(parts, target, row, rows, index);
    else if (parts[0]) kernel.draw(parts[0].shot, parts[0].slot, target, row, rows, index, parts[0].besides);
    if (work.look && parts.length) {
      const { number, table: place, steps } = work.look;
      until(bakedOf(number % plan.tables.length), (count) => count > number);
      kernel.treat(target, row, rows, place, steps);
    }
    advance(done);
  }
}

try {
  if (setup.role === 'read') read(setup);
  else if (setup.role === 'write') write(setup);
  else await draw(setup);
  parentPort!.postMessage({ done: true });
} catch (error) {
  if (!(error instanceof Aborted)) {
    const broken = (error as NodeJS.ErrnoException).code === 'EPIPE';
    parentPort!.postMessage({ error: broken ? 'The encoder stopped.' : (error as Error).message, broken });
  }
}
