/** Which of the footage's frames an exported clip shows, and when. */
import { clockOf, shownLength } from '../time/clock.js';
import type { Take } from './take.js';

export interface ClipTiming {
  /** The footage's first frame, and the first that is not shown any more. */
  first: number;
  last: number;
  /** Seconds of the footage. */
  range: { in: number; out: number };
  /** Frames a second of the clip, and how many it has. */
  rate: number;
  frames: number;
  /** Seconds of the footage from one frame of the clip to the next. */
  step: number;
}

/** How many frames a clip of some seconds has: at least one. */
export const framesIn = (seconds: number, rate: number) => Math.max(1, Math.round(seconds * rate));

/**
 * The timing of a take's clip. `own` is the footage's rate and `total` its number of frames; without `rate` the clip
 * has the rate at which the footage is read. Null when the in point lies after the footage's end.
 */
export function clipTiming(
  take: Pick<Take, 'range' | 'reading'>,
  own: number,
  total: number,
  rate?: number,
): ClipTiming | null {
  const first = Math.round(take.range.in * own);
  if (first >= total) return null;
  const last = Math.min(total, Math.round(take.range.out * own));
  const range = { in: first / own, out: last / own };
  // Read at another rate the footage lasts longer or shorter; its frames and the keyframes on them stay together.
  const clock = clockOf(take, own);
  const clipRate = rate ?? take.reading ?? own;
  return {
    first,
    last,
    range,
    rate: clipRate,
    frames: framesIn(shownLength(clock, range), clipRate),
    step: clock.speed / clipRate,
  };
}

/** The footage's frame that is on screen at a frame of the clip. */
export const frameShown = ({ first, last, step }: ClipTiming, own: number, n: number): number =>
  Math.min(last - 1, first + Math.floor(n * step * own + 1e-6));
