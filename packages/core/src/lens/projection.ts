/**
 * The general perspective projection of the unit sphere. The centre of projection lies a distance d,
 * the *bend*, behind the sphere's centre: d = 0 is gnomonic (rectilinear), 1 stereographic, ∞ orthographic.
 * Radii are in units in which dr/dθ = 1 at the centre. (Snyder, Map Projections: A Working Manual, 1987,
 * "vertical perspective", in another normalisation.)
 */
import { RADIANS } from '../geometry/rotation.js';

export const BEND_RANGE = { min: 0, max: 4 } as const;
export const FOV_MIN = 5;

/** Radius of the angle θ (radians) from the frame's centre: (1 + d)·sin θ / (d + cos θ). */
export const radiusOf = (theta: number, bend: number) => ((1 + bend) * Math.sin(theta)) / (bend + Math.cos(theta));

/**
 * cos θ for the squared radius, or NaN outside the ball (bend > 1).
 * With q = r/(1 + d): cos θ = (−q²d + √(1 + q²(1 − d²))) / (1 + q²).
 */
export function cosineAt(radiusSquared: number, bend: number): number {
  const q2 = radiusSquared / ((1 + bend) * (1 + bend));
  const root = 1 + q2 * (1 - bend * bend);
  return root < 0 ? NaN : (-q2 * bend + Math.sqrt(root)) / (1 + q2);
}

/** Angle from the centre (radians) at a radius; NaN outside the ball. */
export function angleAt(radius: number, bend: number): number {
  const cos = cosineAt(radius * radius, bend);
  return Math.atan2((radius / (1 + bend)) * (bend + cos), cos);
}

/** Angle (radians) beyond which nothing is seen: the limb of the ball for d > 1, where r → ∞ for d ≤ 1. */
export const limbAngle = (bend: number) => (bend > 1 ? Math.acos(-1 / bend) : Math.acos(-Math.min(1, bend)));

/** Radius of the limb for d > 1, otherwise Infinity. */
export const limbRadius = (bend: number) => (bend > 1 ? (1 + bend) / Math.sqrt(bend * bend - 1) : Infinity);

/** Largest field of view in degrees for a bend: 150 at 0, growing to 350 at 1 and above. */
export const maxFov = (bend: number) => (bend >= 1 ? 350 : (2 * Math.acos(-bend)) / RADIANS - (30 - 20 * bend));

/**
 * The field of view in degrees in which things take 1 / `times` of the room in the frame, within what the bend allows; `beyond` where
 * that lies outside the ball.
 */
export function widened({ fov, bend }: { fov: number; bend: number }, times: number, beyond = maxFov(bend)): number {
  if (times === 1) return fov;
  const most = maxFov(bend);
  const wide = (2 * angleAt(times * radiusOf((Math.min(fov, most) / 2) * RADIANS, bend), bend)) / RADIANS;
  return Number.isFinite(wide) ? Math.max(FOV_MIN, Math.min(most, wide)) : beyond;
}

/**
 * Bend and field of view brought into their ranges without a jump in value or slope: inside the range
 * nothing changes; beyond it the value settles a few degrees past the limit. Keeps paths that pass
 * through forbidden pairs finite and free of flashes.
 */
export function clampLens(fov: number, bend: number): { fov: number; bend: number } {
  const d = bend < BEND_RANGE.min ? BEND_RANGE.min : settle(bend, BEND_RANGE.max, 0.5);
  const low = FOV_MIN - settle(FOV_MIN - fov, 0, 2);
  return { bend: d, fov: fov < FOV_MIN ? low : settle(fov, maxFov(d), 6) };
}

const settle = (value: number, limit: number, room: number) =>
  value <= limit ? value : limit + room * (1 - Math.exp((limit - value) / room));

/** Radius of half the frame's shorter side for a field of view in degrees (clamped as by `clampLens`). */
export function halfSideRadius(fov: number, bend: number): number {
  const lens = clampLens(fov, bend);
  const half = (lens.fov / 2) * RADIANS;
  const limb = limbAngle(lens.bend);
  if (lens.bend > 1 && half > limb) {
    return limbRadius(lens.bend) * (1 + (half - limb) / (Math.PI - limb));
  }
  return radiusOf(half, lens.bend);
}
