/** Subjects as they are drawn: their outline at a moment, and where they are along the Sweep. */
import { apply, RADIANS, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { lonLatOf } from '../geometry/sphere.js';
import type { ToWorld } from './following.js';
import { foundOf, isSeen, type SubjectTrack } from './subject.js';
import { uprightTo } from './aim.js';

/** Points of an outline. */
const POINTS = 40;

/** The ellipse of a subject at a time in seconds, as directions of the world, closed; null where it is not seen. */
export function outlineAt({ looks, rate }: SubjectTrack, time: number, toWorld: ToWorld): Vec3[] | null {
  const look = looks[Math.floor(time * rate + 1e-6)];
  if (!isSeen(look)) return null;
  const { direction, width, height } = foundOf(look);
  // Its sizes are across and up in the world.
  const upright: Matrix3 = uprightTo(apply(toWorld.at(time), direction));
  return Array.from({ length: POINTS + 1 }, (_, i) => {
    const a = (2 * Math.PI * i) / POINTS;
    const [right, up] = [(width / 2) * Math.cos(a), (height / 2) * Math.sin(a)];
    const angle = Math.hypot(right, up) * RADIANS;
    const along = Math.sin(angle) / Math.hypot(right, up);
    return apply(upright, [along * right, along * up, Math.cos(angle)]);
  });
}

/** A piece of a streak: seconds of the footage, and headings in degrees from side to side, `half` to either side. */
export interface StreakPiece {
  from: number;
  to: number;
  heading: number;
  half: number;
}

/** Least cosine of the latitude that widens a streak. */
const NEAR_POLE = 0.2;

/** Where a subject is between two times, a piece for every `step` frames in which it is seen. */
export function streakOf(
  { looks, rate }: SubjectTrack,
  toWorld: ToWorld,
  { from, to, step }: { from: number; to: number; step: number },
): StreakPiece[] {
  const pieces: StreakPiece[] = [];
  const first = Math.max(0, Math.floor((from * rate) / step) * step);
  for (let n = first; n < Math.min(looks.length, to * rate); n += step) {
    const look = looks[n];
    if (!isSeen(look)) continue;
    const { direction, width } = foundOf(look);
    const { longitude, latitude } = lonLatOf(apply(toWorld.at(n / rate), direction));
    const half = width / 2 / Math.max(NEAR_POLE, Math.cos(latitude * RADIANS));
    pieces.push({ from: n / rate, to: (n + step) / rate, heading: longitude, half });
  }
  return pieces;
}
