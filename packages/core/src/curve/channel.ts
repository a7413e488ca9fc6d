/** One keyframed curve of the path. */
import { bezierOf, easeAt, easeSlope, restsAt, type Bezier, type Ease } from './ease.js';

export interface Keyframe {
  /** Seconds from the footage's start. */
  time: number;
  value: number;
  /** What leaves this keyframe; smooth when absent. */
  ease?: Ease;
  /** Of a pan: how the view turns until the next keyframe; as the path says when absent. */
  turn?: Turn;
}

/** How the view turns between keyframes: each dial along its own curve, or by the shortest way round. */
export type Turn = 'dials' | 'arc';

/** Keyframes in order of time, or one fixed value. */
export type Channel = Keyframe[] | number;

export const easeOf = (k: Keyframe): Ease => k.ease ?? 'smooth';

/** Index of the last keyframe at or before a time, −1 when there is none. */
export function indexAt(keys: readonly { time: number }[], time: number): number {
  let low = 0;
  let high = keys.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (keys[mid]!.time <= time) low = mid + 1;
    else high = mid;
  }
  return low - 1;
}

/** The channel's value at a time in seconds; constant before the first and after the last keyframe. */
export function evaluate(channel: Channel, time: number, fallback: number): number {
  if (typeof channel === 'number') return channel;
  if (channel.length === 0) return fallback;
  const i = indexAt(channel, time);
  if (i < 0) return channel[0]!.value;
  const a = channel[i]!;
  const b = channel[i + 1];
  if (!b || time <= a.time) return a.value;
  const f = (time - a.time) / (b.time - a.time);
  const ease = easeOf(a);
  if (ease !== 'smooth') return a.value + (b.value - a.value) * easeAt(ease, f);
  return hermite(a, b, tangentAt(channel, i), tangentAt(channel, i + 1), f);
}

/** Slope of a channel's value, per second, at a time; at a keyframe that of the segment that begins there. */
export function slopeAt(channel: Channel, time: number): number {
  if (typeof channel === 'number') return 0;
  const i = indexAt(channel, time);
  const a = channel[i];
  const b = channel[i + 1];
  if (!a || !b) return 0;
  const h = b.time - a.time;
  const f = (time - a.time) / h;
  const ease = easeOf(a);
  if (ease !== 'smooth') return ((b.value - a.value) / h) * easeSlope(ease, f);
  const [ma, mb] = [tangentAt(channel, i), tangentAt(channel, i + 1)];
  const rise = (b.value - a.value) / h;
  return rise * 6 * f * (1 - f) + ma * (3 * f * f - 4 * f + 1) + mb * (3 * f * f - 2 * f);
}

/**
 * The curve of the segment that leaves keyframe `i` as a Bézier of its own, the same to the last bit of rounding; null where
 * nothing leaves it or it holds. Between equal values there is no curve to speak of: it is straight.
 */
export function bezierOfSegment(keys: readonly Keyframe[], i: number): Bezier | null {
  const a = keys[i];
  const b = keys[i + 1];
  if (!a || !b) return null;
  const ease = easeOf(a);
  if (ease === 'hold') return null;
  if (ease !== 'smooth') return bezierOf(ease);
  const rise = (b.value - a.value) / (b.time - a.time);
  if (rise === 0) return bezierOf('linear');
  return [1 / 3, tangentAt(keys, i) / rise / 3, 2 / 3, 1 - tangentAt(keys, i + 1) / rise / 3];
}

function hermite(a: Keyframe, b: Keyframe, ma: number, mb: number, f: number): number {
  const h = b.time - a.time;
  const f2 = f * f;
  const f3 = f2 * f;
  // Written as a way from a, so that between equal values it is exactly their value.
  return a.value + (b.value - a.value) * (3 * f2 - 2 * f3) + h * (ma * (f3 - 2 * f2 + f) + mb * (f3 - f2));
}

/**
 * The tangent (value per second) at a keyframe for smooth segments: the weighted harmonic mean of the
 * neighbouring slopes (Fritsch & Butland 1984), which keeps to the monotone region of Fritsch & Carlson
 * (1980), so a smooth curve never overshoots. Flat at the ends, at turning points, and beside a segment at rest.
 */
function tangentAt(keys: readonly Keyframe[], i: number): number {
  const previous = keys[i - 1];
  const here = keys[i]!;
  const next = keys[i + 1];
  if (!previous || !next) return 0;
  if (restsAt(easeOf(previous), 'end') || restsAt(easeOf(here), 'start')) return 0;
  const h0 = here.time - previous.time;
  const h1 = next.time - here.time;
  const d0 = (here.value - previous.value) / h0;
  const d1 = (next.value - here.value) / h1;
  if (d0 * d1 <= 0) return 0;
  return (3 * (h0 + h1)) / ((2 * h1 + h0) / d0 + (h1 + 2 * h0) / d1);
}
