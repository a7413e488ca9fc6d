/** Subjects as they are drawn: their outline at a moment, and where they are along the Sweep. */
import { apply, RADIANS, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { lonLatOf } from '../geometry/sphere.js';
import type { Moving, MovingStreak } from '../moving/moving.js';
import type { ToWorld } from './following.js';
import { lookOfStreak } from './streak-looks.js';
import { foundOf, isSeen, type SubjectLook, type SubjectTrack } from './subject.js';
import { uprightTo } from './aim.js';
import type { Box } from './box.js';
import { frameOf } from '../time/frames.js';

/** Points of an outline. */
const POINTS = 40;

/** The ellipse of a box of a frame's picture, as directions of the world, closed. */
export function outlineOf({ direction, width, height }: Box, toWorld: Matrix3): Vec3[] {
  // Its sizes are across and up in the world.
  const upright = uprightTo(apply(toWorld, direction));
  return Array.from({ length: POINTS + 1 }, (_, i) => {
    const a = (2 * Math.PI * i) / POINTS;
    const [right, up] = [(width / 2) * Math.cos(a), (height / 2) * Math.sin(a)];
    const angle = Math.hypot(right, up) * RADIANS;
    const along = Math.sin(angle) / Math.hypot(right, up);
    return apply(upright, [along * right, along * up, Math.cos(angle)]);
  });
}

/** The ellipse of a subject at a time in seconds, as directions of the world, closed; null where it is not seen. */
export function outlineAt({ looks, rate }: SubjectTrack, time: number, toWorld: ToWorld): Vec3[] | null {
  const look = looks[frameOf(time, rate)];
  return isSeen(look) ? outlineOf(foundOf(look), toWorld.at(time)) : null;
}

/** The same of something that was found in a footage. */
export function outlineOfStreak(moving: Moving, streak: MovingStreak, time: number, toWorld: ToWorld): Vec3[] | null {
  const look = lookOfStreak(moving, streak, frameOf(time, moving.rate));
  return look && outlineOf(foundOf(look), toWorld.at(time));
}

/** A piece of a streak: seconds of the footage, and headings in degrees from side to side, `half` to either side. */
export interface StreakPiece {
  from: number;
  to: number;
  heading: number;
  half: number;
}

/** Seconds between which a streak is drawn, and of how many frames its pieces are. */
interface Stretch {
  from: number;
  to: number;
  step: number;
}

/** Least cosine of the latitude that widens a streak. */
const NEAR_POLE = 0.2;

function piecesOf(
  lookAt: (frame: number) => SubjectLook | null | undefined,
  { first, end, step, rate }: { first: number; end: number; step: number; rate: number },
  toWorld: ToWorld,
): StreakPiece[] {
  const pieces: StreakPiece[] = [];
  for (let n = Math.max(0, Math.floor(first / step) * step); n < end; n += step) {
    const look = lookAt(n);
    if (!look) continue;
    const { direction, width } = foundOf(look);
    const { longitude, latitude } = lonLatOf(apply(toWorld.at(n / rate), direction));
    const half = width / 2 / Math.max(NEAR_POLE, Math.cos(latitude * RADIANS));
    pieces.push({ from: n / rate, to: (n + step) / rate, heading: longitude, half });
  }
  return pieces;
}

/** Where a subject is between two times, a piece for every `step` frames in which it is seen. */
export const streakOf = ({ looks, rate }: SubjectTrack, toWorld: ToWorld, { from, to, step }: Stretch): StreakPiece[] =>
  piecesOf(
    (n) => (isSeen(looks[n]) ? looks[n] : null),
    { first: from * rate, end: Math.min(looks.length, to * rate), step, rate },
    toWorld,
  );

/** The same of something that was found in a footage. */
export function piecesOfStreak(
  moving: Moving,
  streak: MovingStreak,
  toWorld: ToWorld,
  { from, to, step }: Stretch,
): StreakPiece[] {
  const { rate, every, frames } = moving;
  const first = Math.max(from * rate, streak.looks[0]?.[0] ?? Infinity);
  const end = Math.min(frames, to * rate, (streak.looks.at(-1)?.[0] ?? 0) + every);
  return piecesOf((n) => lookOfStreak(moving, streak, n), { first, end, step, rate }, toWorld);
}
