/**
 * What frames need besides pictures (tables of colours, overlays, pictures of patches): each once, made ready for the first
 * frame that has it, in a place that is free by then.
 */
import { RING } from './counters.js';
import { sharedInts } from './records.js';

/** Stands for none. */
export const NONE = 0xffffffff;

export interface Schedule<T> {
  /** In the order in which they are first needed. */
  list: T[];
  /** Which of the places each of them lies in, and how many there are. */
  slots: Uint32Array;
  count: number;
  /** Which of them are first needed by frame n: from the nth number on to the one behind it. */
  begins: Uint32Array;
}

export class Scheduler<T> {
  private readonly list: T[] = [];
  private readonly first: number[] = [];
  private readonly last: number[] = [];
  private readonly known = new Map<string, number>();

  /** The number of a thing that frame n needs. What has the same key is the same. Frames are asked for in order. */
  use(key: string, n: number, thing: () => T): number {
    let number = this.known.get(key);
    if (number === undefined) {
      number = this.list.push(thing()) - 1;
      this.known.set(key, number);
      this.first.push(n);
      this.last.push(n);
    }
    this.last[number] = n;
    return number;
  }

  finish(frames: number): Schedule<T> {
    const until: number[] = [];
    const slots = this.list.map((_, i) => {
      // The last frame that needs what lies there has been written when this one's first is drawn.
      const free = until.findIndex((last) => last + RING <= this.first[i]!);
      const slot = free >= 0 ? free : until.length;
      until[slot] = this.last[i]!;
      return slot;
    });
    const begins = new Array<number>(frames + 1).fill(0);
    for (const n of this.first) begins[n + 1]!++;
    for (let n = 1; n <= frames; n++) begins[n]! += begins[n - 1]!;
    return { list: this.list, slots: sharedInts(slots), count: until.length, begins: sharedInts(begins) };
  }
}

/** The numbers of what is first needed by frame n. */
export const beginningAt = ({ begins }: Pick<Schedule<unknown>, 'begins'>, n: number): number[] =>
  Array.from({ length: (begins[n + 1] ?? 0) - (begins[n] ?? 0) }, (_, i) => begins[n]! + i);
