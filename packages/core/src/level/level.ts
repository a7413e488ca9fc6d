/** Level keys: moments at which the horizon was put straight. */
import {
  apply,
  cross,
  DEGREES,
  dot,
  IDENTITY,
  RADIANS,
  rotationAbout,
  turnTo,
  unit,
  type Matrix3,
  type Vec3,
} from '../geometry/rotation.js';

export interface LevelKey {
  /** Seconds from the footage's start. */
  time: number;
  /** Up in the steadied picture at that time: a unit vector. */
  up: Vec3;
  /** Whether it was set by itself, and not by hand. */
  auto?: boolean;
}

const UP: Vec3 = [0, 1, 0];

/** Up at a time: between keys along the great circle from one to the next, outside as at the nearest one. */
export function upAt(keys: readonly LevelKey[], time: number): Vec3 {
  if (keys.length === 0) return UP;
  const i = keys.findIndex((k) => k.time > time);
  if (i === 0) return keys[0]!.up;
  if (i < 0) return keys.at(-1)!.up;
  const [a, b] = [keys[i - 1]!, keys[i]!];
  const axis = cross(a.up, b.up);
  const sine = Math.hypot(...axis);
  if (sine < 1e-9) return a.up;
  const angle = (Math.atan2(sine, dot(a.up, b.up)) * (time - a.time)) / (b.time - a.time);
  return apply(rotationAbout([(axis[0] / sine) * angle, (axis[1] / sine) * angle, (axis[2] / sine) * angle]), a.up);
}

/** The turn that puts the horizon straight at a time: the shortest that takes up to up. */
export const levelAt = (keys: readonly LevelKey[], time: number): Matrix3 =>
  keys.length ? turnTo(upAt(keys, time), UP) : IDENTITY;

/** How an up-direction leans, in degrees: to the right (roll) and backwards (pitch). */
export const leanOf = (up: Vec3) => ({
  roll: Math.asin(Math.max(-1, Math.min(1, up[0]))) * DEGREES,
  pitch: Math.atan2(-up[2], up[1]) * DEGREES,
});

/** The up-direction that leans so. */
export function upOf({ roll, pitch }: { roll: number; pitch: number }): Vec3 {
  const c = Math.cos(roll * RADIANS);
  return [Math.sin(roll * RADIANS), c * Math.cos(pitch * RADIANS), -c * Math.sin(pitch * RADIANS)];
}

/** Sets a key at a time, in the place of one that is there. */
export const setLevel = (keys: readonly LevelKey[], time: number, up: Vec3): LevelKey[] =>
  [...keys.filter((k) => Math.abs(k.time - time) > 1e-6), { time, up: unit(up) }].sort((a, b) => a.time - b.time);

export const removeLevel = (keys: readonly LevelKey[], time: number): LevelKey[] =>
  keys.filter((k) => Math.abs(k.time - time) > 1e-6);

/** The middle of the longest stretch of a range without a key, in seconds; of the whole range where there is none. */
export function nextMiddle(keys: readonly LevelKey[], range: { in: number; out: number }): number {
  const times = keys.map((k) => k.time).filter((t) => t > range.in && t < range.out);
  if (times.length === 0) return (range.in + range.out) / 2;
  // The ends count in full: they lie farther from any key than the middle of a stretch of the same length.
  const stretches = [
    [2 * range.in - times[0]!, times[0]!],
    ...times.slice(1).map((t, i) => [times[i]!, t]),
    [times.at(-1)!, 2 * range.out - times.at(-1)!],
  ];
  const longest = stretches.reduce((a, b) => (b[1]! - b[0]! > a[1]! - a[0]! + 1e-6 ? b : a));
  const middle = (longest[0]! + longest[1]!) / 2;
  return Math.max(range.in, Math.min(range.out, middle));
}

/**
 * Keys that follow an up-direction known in every frame to within `tolerance` degrees, as few as halving at the worst
 * place gives, at most `most`.
 */
export function keysFollowing(
  up: (frame: number) => Vec3,
  frames: { first: number; last: number; rate: number },
  tolerance: number,
  most = 400,
): LevelKey[] {
  const key = (n: number): LevelKey => ({ time: n / frames.rate, up: up(n) });
  const keys = [key(frames.first)];
  const split = (a: LevelKey, b: LevelKey, from: number, to: number) => {
    let [worst, at] = [tolerance, -1];
    for (let n = from + 1; n < to; n++) {
      const off = Math.acos(Math.min(1, dot(up(n), upAt([a, b], n / frames.rate)))) * DEGREES;
      if (off > worst) [worst, at] = [off, n];
    }
    if (at < 0 || keys.length >= most) return void keys.push(b);
    const middle = key(at);
    split(a, middle, from, at);
    split(middle, b, at, to);
  };
  if (frames.last > frames.first) split(keys[0]!, key(frames.last), frames.first, frames.last);
  return keys;
}
