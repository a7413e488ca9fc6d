/** In and out point of a take: set by keys, by dragging, by typing, always by the same rule. */
import { snap } from '../path/edit.js';
import type { Take } from '../take/take.js';

type Range = Take['range'];
/** The footage's frames a second, and its length in seconds. */
export interface Length {
  rate: number;
  duration: number;
}

/**
 * What becomes of the other point when one is set beyond it: with `stop` the point that is set stays one frame before it,
 * as when dragging; with `yield` the other goes to the footage's end, as when somebody says "begin here".
 */
export type Beyond = 'stop' | 'yield';

const within = (time: number, { rate, duration }: Length) => Math.max(0, Math.min(duration, snap(time, rate)));

/** The range with another in point, in seconds. Never empty: at least one frame stays. */
export function setIn(range: Range, time: number, length: Length, beyond: Beyond = 'stop'): Range {
  const one = 1 / length.rate;
  const to = within(time, length);
  if (to < range.out - one / 2) return { in: to, out: range.out };
  if (beyond === 'stop') return { in: Math.max(0, snap(range.out - one, length.rate)), out: range.out };
  return { in: Math.max(0, Math.min(to, length.duration - one)), out: length.duration };
}

/** The range with another out point, in seconds: the first moment that is not shown. */
export function setOut(range: Range, time: number, length: Length, beyond: Beyond = 'stop'): Range {
  const one = 1 / length.rate;
  const to = within(time, length);
  if (to > range.in + one / 2) return { in: range.in, out: to };
  if (beyond === 'stop') return { in: range.in, out: Math.min(length.duration, snap(range.in + one, length.rate)) };
  return { in: 0, out: Math.max(one, to) };
}

/** Frames by which an out point may lie after the footage's end: a container's length was sometimes rounded up. */
const SLACK = 2;

/** What is wrong with a range for footage of a length, as a sentence; null if nothing. */
export function rangeProblem(range: Range, { rate, duration }: Length): string | null {
  const seconds = (t: number) => `${Number(t.toFixed(2))} s`;
  if (range.in >= duration)
    return `The in point, ${seconds(range.in)}, lies after the end of the footage at ${seconds(duration)}. Set it earlier.`;
  if (range.out > duration + SLACK / rate)
    return `The out point, ${seconds(range.out)}, lies after the end of the footage at ${seconds(duration)}. Set it earlier.`;
  return null;
}
