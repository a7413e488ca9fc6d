/** The sources of a plan over time: each is open from shortly before its first use to its last, and then gives its place away. */
import { constants, openSync, closeSync } from 'node:fs';
import { join } from 'node:path';
import type { PixelFormat } from '@glimbo/core/colour/pixels';
import type { PlanSource } from '@glimbo/core/plan/shot';
import { rowsOfBand } from '@glimbo/core/plan/rows';
import { finished, start } from '../ffmpeg.js';
import type { SourcePictures } from './pictures.js';
import type { PlanTable } from './plan-table.js';
import type { Reading, Rows } from './worker-setup.js';

/** A source that a plan draws from, as it is decoded. */
export interface RenderSource {
  /** Size of its decoded pictures, and how they lie. */
  width: number;
  height: number;
  format: PixelFormat;
  /** Whether it can only be decoded from its start: a variable rate is made constant on the way. */
  fromStart?: boolean;
  /**
   * Arguments for an ffmpeg that writes `count` pictures from a frame on into a pipe, raw; of each picture only `rows` rows
   * from `top` on.
   */
  decoder: (pipe: string, from: number, count: number, part: Rows) => string[];
}

/** Frames of the clip before its first use at which a source is opened. */
export const AHEAD = 60;

/**
 * Sources that are never open at the same time, by their numbers, those of each group in the order of their use. Sources that
 * nothing is drawn from are left out.
 */
export function lanesOf(pictures: readonly Pick<SourcePictures, 'frames' | 'uses'>[]): number[][] {
  const lanes: number[][] = [];
  const used = pictures.flatMap(({ frames }, source) => (frames.length ? [source] : []));
  const usesOf = (source: number) => pictures[source]!.uses;
  for (const source of used.sort((a, b) => usesOf(a).first - usesOf(b).first)) {
    const free = lanes.find((lane) => usesOf(lane.at(-1)!).last < usesOf(source).first - AHEAD);
    if (free) free.push(source);
    else lanes.push([source]);
  }
  return lanes;
}

interface Opening {
  /** Frames of the clip that are written when it is time to open it. */
  due: number;
  pipe: string;
  decoder: string[];
}

/** How the sources of each lane are read, one after the other, and when each is opened. */
export function readingsOf(
  sources: RenderSource[],
  { pictures, sources: shown }: Pick<PlanTable, 'pictures'> & { sources: PlanSource[] },
  lanes: number[][],
  folder: string,
): { readings: Reading[]; openings: Opening[] }[] {
  return lanes.map((lane) => {
    const openings: Opening[] = [];
    const readings = lane.map((source, i) => {
      const { height, fromStart, decoder } = sources[source]!;
      const { frames, band, uses } = pictures[source]!;
      const fifo = join(folder, `decoded-${source}`);
      const begins = fromStart ? 0 : frames[0]!;
      // Of a whole sphere only what is drawn has to come through the pipe.
      const part = shown[source]!.kind === 'sphere' ? rowsOfBand(band, height) : { top: 0, rows: height };
      const count = frames.at(-1)! + 1 - begins;
      openings.push({ due: uses.first - AHEAD, pipe: fifo, decoder: decoder(fifo, begins, count, part) });
      const after = i === 0 ? 0 : pictures[lane[i - 1]!]!.uses.last + 1;
      return { source, fifo, begins, part, after };
    });
    return { readings, openings };
  });
}

/** Starts decoders when they are due. */
export class Decoders {
  /** Resolves when all have ended; rejects as soon as one fails. */
  readonly ended: Promise<void>;
  private readonly running = new Set<ReturnType<typeof start>>();
  private waiting: Opening[];
  private left: number;
  private settle!: { resolve: () => void; reject: (error: unknown) => void };

  constructor(openings: readonly Opening[]) {
    this.waiting = [...openings];
    this.left = openings.length;
    this.ended = new Promise((resolve, reject) => (this.settle = { resolve, reject }));
    if (!this.left) this.settle.resolve();
  }

  /** Starts those that are due when so many frames of the clip are written; `isLate`: whether a failure no longer matters. */
  open(written: number, isLate: () => boolean): void {
    const due = this.waiting.filter((o) => o.due <= written);
    this.waiting = this.waiting.filter((o) => o.due > written);
    for (const { pipe, decoder } of due) {
      const child = start('ffmpeg', decoder, ['ignore', 'ignore', 'pipe']);
      this.running.add(child);
      finished(child)
        // A decoder that fails must also wake a reader that waits for it to open the pipe.
        .finally(() => release(pipe, constants.O_WRONLY))
        .catch((error: unknown) => {
          // Once all frames are in, the decoder may find nobody reading: that is no failure.
          if (!isLate() && !/Broken pipe|writing trailer|muxing/i.test(wordsOf(error))) throw error;
        })
        .finally(() => this.running.delete(child))
        .then(() => {
          this.left--;
          if (!this.left) this.settle.resolve();
        }, this.settle.reject);
    }
  }

  /** Ends those that run; no other is started. */
  stop(): void {
    this.waiting = [];
    for (const child of this.running) child.kill('SIGKILL');
  }
}

/** A failure with the program's own words. */
const wordsOf = (error: unknown) => (error instanceof Error ? `${error.message} ${String(error.cause ?? '')}` : '');

/** Opens and closes a pipe's other end without waiting, so that a thread blocked in opening it goes on. */
export function release(fifo: string, flag: number): void {
  try {
    closeSync(openSync(fifo, flag | constants.O_NONBLOCK));
  } catch {
    // Nobody waits at it, or it is gone already.
  }
}
