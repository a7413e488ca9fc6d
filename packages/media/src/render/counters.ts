/** The counters at which the threads of the pipeline meet: 32-bit integers that all of them share, and their places. */

/** The next piece of drawing that nobody has taken. */
export const NEXT = 0;
/** Frames that were written. */
export const WRITTEN = 1;
const ABORTED = 2;
/** In how many parts a decoded picture is readied for drawing. */
export const READY_PARTS = 4;
/** Finished frames that are held at once. */
export const RING = 4;

const FIRST = 16;

/** How many of each thing are counted apart. */
export interface Counted {
  sources: number;
  /** Decoded pictures of a source that are held at once. */
  ring: number;
  /** Finished frames that are held at once. */
  frames: number;
  tables: number;
  overlays: number;
  patches: number;
}

/** Where each counter lies. */
export function placesOf({ sources, ring, frames, tables, overlays, patches }: Counted) {
  let next = FIRST;
  const many = (count: number) => {
    const from = next;
    next += count;
    return (n: number) => from + n;
  };
  const ready = many(sources * ring);
  return {
    /** Of each source: pictures that were read. */
    read: many(sources),
    /** Of each source and place in its ring: parts of the picture there that are ready. */
    ready: (source: number, slot: number) => ready(source * ring + slot),
    /** Of each place for a finished frame: stripes of it that are drawn, that are finished, and that are joined. */
    drawn: many(frames),
    finished: many(frames),
    joined: many(frames),
    /** Of each place for a table, an overlay and a patch's picture: the number of what lies there, from 1. */
    table: many(tables),
    overlay: many(overlays),
    patch: many(patches),
    count: next,
  };
}

export type Places = ReturnType<typeof placesOf>;

export class Aborted extends Error {}

export class Counters {
  private readonly values: Int32Array;

  constructor(memory: SharedArrayBuffer) {
    this.values = new Int32Array(memory);
  }

  /** Blocks until a counter fulfils a condition. Throws Aborted. */
  until(place: number, condition: (value: number) => boolean): void {
    for (;;) {
      const value = this.at(place);
      if (condition(value)) return;
      if (this.at(ABORTED)) throw new Aborted();
      Atomics.wait(this.values, place, value, 500);
    }
  }

  at(place: number): number {
    return Atomics.load(this.values, place);
  }

  set(place: number, value: number): void {
    Atomics.store(this.values, place, value);
    Atomics.notify(this.values, place);
  }

  /** Adds to a counter; gives what it was. */
  add(place: number, by = 1): number {
    const before = Atomics.add(this.values, place, by);
    Atomics.notify(this.values, place);
    return before;
  }

  /** Wakes whoever waits for anything, to give up. */
  abort(): void {
    this.set(ABORTED, 1);
    for (let place = 0; place < this.values.length; place++) Atomics.notify(this.values, place);
  }
}
