/** The horizon as a great circle that can be grabbed and put where it is in the picture. */
import { pixelOf, type Camera } from '../lens/view.js';
import { cross, dot, turnTo, unit, apply, type Vec3 } from '../geometry/rotation.js';

const UP: Vec3 = [0, 1, 0];

/** Up, so that the horizon goes through two directions; the one of both that lies nearer to `near`. */
export function upThrough(a: Vec3, b: Vec3, near: Vec3 = UP): Vec3 {
  const normal = cross(a, b);
  // Two directions that are the same or opposite say nothing about the circle between them.
  if (Math.hypot(...normal) < 0.02) return near;
  const up = unit(normal);
  return dot(up, near) < 0 ? [-up[0], -up[1], -up[2]] : up;
}

/** Up, once the horizon was dragged from one direction to another and turned as little as can be. */
export const upDragged = (from: Vec3, to: Vec3, up: Vec3 = UP): Vec3 => apply(turnTo(from, to), up);

/** Directions along the horizon that belongs to an up-direction, the first again at the end. */
export function horizonLine(up: Vec3, steps = 180): Vec3[] {
  const level = turnTo(UP, up);
  return Array.from({ length: steps + 1 }, (_, i) => {
    const a = (2 * Math.PI * i) / steps;
    return apply(level, [Math.sin(a), 0, Math.cos(a)]);
  });
}

/** The direction on the straight horizon that a camera shows nearest to the column `x` in pixels; null if it shows none near. */
export function horizonAtColumn(camera: Camera, x: number): Vec3 | null {
  let best: { direction: Vec3; off: number } | null = null;
  for (const direction of horizonLine(UP, 720)) {
    const p = pixelOf(camera, direction);
    if (!p || p.y < -camera.height || p.y > 2 * camera.height) continue;
    const off = Math.abs(p.x - x);
    if (!best || off < best.off) best = { direction, off };
  }
  return best?.direction ?? null;
}
