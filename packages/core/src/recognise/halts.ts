/** Who walks, stands still and walks on is one: what moves and what was recognised where it stands are joined into one streak. */
import { apply, transpose, unit, vec3, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { lookDirection, rounded, stageOf, type Moving, type MovingLook, type MovingStreak } from '../moving/moving.js';
import { isSame } from './views.js';

/** Seconds between the last look at somebody who walks and the first recognition where it stands: recognised is only now and then. */
const HALTS = 6;

/** Where something is in a frame: a direction of the world, degrees across and up. */
export interface Point {
  frame: number;
  direction: Vec3;
  width: number;
  height: number;
}

/** What places need to become looks, and back. */
export interface Looking {
  every: number;
  /** From directions of a frame's picture to the world's. */
  toWorld: (frame: number) => Matrix3;
}

/** Looks on the way through places, the last of which has one look. */
export function looksThrough(points: readonly Point[], { every, toWorld }: Looking): MovingLook[] {
  const looks: MovingLook[] = [];
  points.forEach((point, i) => {
    const next = points[i + 1];
    const steps = next ? Math.max(1, Math.round((next.frame - point.frame) / every)) : 1;
    for (let k = 0; k < steps; k++) {
      const f = k / steps;
      const at = Math.round(point.frame + (next ? (next.frame - point.frame) * f : 0));
      const mix = (a: number, b = a) => a + (b - a) * f;
      const world = unit(vec3([0, 1, 2].map((j) => mix(point.direction[j]!, next?.direction[j]))));
      const [x, y, z] = apply(transpose(toWorld(at)), world);
      const [width, height] = [mix(point.width, next?.width), mix(point.height, next?.height)];
      looks.push([at, rounded(x, 4), rounded(y, 4), rounded(z, 4), rounded(width, 1), rounded(height, 1)]);
    }
  });
  return looks;
}

const pointOf = (look: MovingLook, toWorld: Looking['toWorld']): Point => ({
  frame: look[0],
  direction: apply(toWorld(look[0]), lookDirection(look)),
  width: look[4],
  height: look[5],
});

/** Streaks of what moves, and of what was recognised where it stands: those that go on as each other are joined. */
export function withHalts(
  moving: Pick<Moving, 'rate' | 'still' | 'stage'>,
  walking: readonly MovingStreak[],
  standing: readonly MovingStreak[],
  looking: Looking,
): MovingStreak[] {
  const first = ({ looks }: MovingStreak) => pointOf(looks[0]!, looking.toWorld);
  const last = ({ looks }: MovingStreak) => pointOf(looks.at(-1)!, looking.toWorld);
  const goesOn = (a: Point, b: Point) => b.frame > a.frame && b.frame - a.frame <= HALTS * moving.rate && isSame(a, b);
  const joined = [...walking];
  for (const one of standing) {
    // Where the rig travels nothing stands still for it.
    const still = moving.still[stageOf(moving, one.looks[0]![0])];
    const fits = (other: MovingStreak) => still && other.looks.length > 0 && (!other.kind || other.kind === one.kind);
    const before = joined.findIndex((other) => fits(other) && goesOn(last(other), first(one)));
    const after = joined.findIndex((other) => fits(other) && goesOn(last(one), first(other)));
    const parts = [joined[before], one, joined[after]].filter((part) => part !== undefined);
    const looks = parts.flatMap((part, i) => {
      const next = parts[i + 1];
      return next ? [...part.looks, ...looksThrough([last(part), first(next)], looking).slice(1, -1)] : part.looks;
    });
    const whole = { ...one, sure: Math.max(...parts.map(({ sure }) => sure)), looks };
    if (before >= 0) joined[before] = whole;
    else joined.push(whole);
    if (after >= 0) joined.splice(after, 1);
  }
  return joined;
}
