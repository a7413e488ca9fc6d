/** Which of the footage's frames an exported clip shows, and when. */
import { paceMap, type PaceMap } from '../pace/pace.js';
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
  /** Seconds of the footage from one frame of the clip to the next, in the mean. */
  step: number;
  /** Between the clip's seconds and the footage's; null where one is a multiple of the other. */
  pace: PaceMap | null;
}

/** How many frames a clip of some seconds has: at least one. */
export const framesIn = (seconds: number, rate: number) => Math.max(1, Math.round(seconds * rate));

/**
 * The timing of a take's clip. `own` is the footage's rate and `total` its number of frames; without `rate` the clip
 * has the rate at which the footage is read. Null when the in point lies after the footage's end.
 */
export function clipTiming(
  take: Pick<Take, 'range' | 'reading' | 'pace'>,
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
  const pace = take.pace?.keys.length ? paceMap(take.pace, range, clock.speed) : null;
  return {
    first,
    last,
    range,
    rate: clipRate,
    frames: framesIn(pace?.length ?? shownLength(clock, range), clipRate),
    step: clock.speed / clipRate,
    pace,
  };
}

/** Seconds of the footage at a frame of the clip. */
export const timeShown = ({ range, rate, step, pace }: ClipTiming, n: number): number =>
  pace ? pace.footage(n / rate) : range.in + n * step;

/** The footage's frame that is on screen at a frame of the clip. */
export function frameShown(timing: ClipTiming, own: number, n: number): number {
  const { first, last, step, pace } = timing;
  const passed = pace ? timeShown(timing, n) * own - first : n * step * own;
  return Math.max(first, Math.min(last - 1, first + Math.floor(passed + 1e-6)));
}

/** The share of the footage's next frame in a mix of two at a frame of the clip; 0 on a frame, and at the last. */
export function mixShown(timing: ClipTiming, own: number, n: number): number {
  const frame = frameShown(timing, own, n);
  const share = timeShown(timing, n) * own - frame;
  return frame >= timing.last - 1 || share < 1e-6 ? 0 : Math.min(1, share);
}

/** Seconds of the footage at frames of the clip before and after a time; the clip has the rate at which the footage is read. */
export function timesAround(
  take: Pick<Take, 'range' | 'reading' | 'pace'>,
  own: number,
  time: number,
): (frames: number) => number {
  const map = paceMap(take.pace, take.range, clockOf(take, own).speed);
  const clip = map.clip(time);
  const rate = take.reading ?? own;
  return (frames) => map.footage(clip + frames / rate);
}

/** How long a take's clip is, in seconds. */
export const clipLength = (take: Pick<Take, 'range' | 'reading' | 'pace'>, own: number): number =>
  paceMap(take.pace, take.range, clockOf(take, own).speed).length;
