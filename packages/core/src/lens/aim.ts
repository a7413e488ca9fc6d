/** Aiming by hand: what dragging the picture, and nudging with keys, does to pan and tilt. Degrees; pixels of the frame. */
import { angleBetween, apply, DEGREES, rotationOf, unwrapNear, type Vec3 } from '../geometry/rotation.js';
import { cameraOf, directionAt, type View } from './view.js';

export interface Pixel {
  x: number;
  y: number;
}

/** Straight down and straight up: by hand nothing goes beyond them, except back from where typing has gone. */
const tiltRange = (tilt: number) => ({ low: Math.min(-90, tilt), high: Math.max(90, tilt) });

/** A tilt moved by some degrees, no further than straight up or down. */
export function nudgeTilt(tilt: number, by: number): number {
  const { low, high } = tiltRange(tilt);
  return Math.max(low, Math.min(high, tilt + by));
}

const azimuth = (v: Vec3) => Math.atan2(v[0], v[2]) * DEGREES;
const nearZero = (angle: number) => unwrapNear(angle, 0);

/** How far tilt may go beyond what the pointer moved before it counts as another way of looking, not as following. */
const LEAP = 3;
/** Distance from the pole (as cosine of latitude) below which pan is not turned faster any more. */
const CALM = 0.4;
/** How much further than the pointer, seen from the pole, the view may turn in one step. */
const LAG = 1.25;

/**
 * Pan and tilt after the pointer, which holds the world direction `grabbed`, went from one pixel to another. What was
 * grabbed stays under the pointer as far as that is possible without going over a pole; near one, where that would take
 * turning right round, pan turns no faster than the pointer goes.
 */
export function dragAim(view: View, width: number, height: number, from: Pixel, to: Pixel, grabbed: Vec3) {
  const camera = cameraOf({ ...view, pan: 0, tilt: 0 }, width, height);
  const before = directionAt(camera, from.x, from.y);
  const now = directionAt(camera, to.x, to.y);
  if (!before || !now) return { pan: view.pan, tilt: view.tilt };
  const moved = angleBetween(before, now);
  const { tilt, reached } = tiltFollowing(view, now, grabbed, moved);
  const turned = apply(rotationOf({ pan: 0, tilt, roll: 0 }), now);
  const limit = (LAG * moved) / Math.max(CALM, Math.hypot(turned[0], turned[2])) + 0.01;
  const step = reached ? azimuth(grabbed) - azimuth(turned) - view.pan : aboutPole(before, turned, tilt);
  return { pan: view.pan + Math.max(-limit, Math.min(limit, nearZero(step))), tilt };
}

/** The tilt at which a direction of the camera has the height of what was grabbed; `reached` is false where none is in range. */
function tiltFollowing({ tilt }: View, v: Vec3, grabbed: Vec3, moved: number) {
  // Ry(pan)·Rx(tilt)·v = grabbed: its second row gives tilt, v.y·cos t + v.z·sin t = grabbed.y.
  const reach = Math.hypot(v[1], v[2]);
  const alpha = Math.atan2(v[2], v[1]);
  const spread = Math.acos(Math.max(-1, Math.min(1, reach > 1e-9 ? grabbed[1] / reach : 0)));
  const options = [alpha + spread, alpha - spread]
    .map((t) => unwrapNear(t * DEGREES, tilt))
    .sort((a, b) => Math.abs(a - tilt) - Math.abs(b - tilt));
  const { low, high } = tiltRange(tilt);
  const near = options.find((t) => t >= low && t <= high && Math.abs(t - tilt) <= LEAP * moved + 1);
  const most = LAG * moved + 0.01;
  if (near !== undefined) return { tilt: tilt + Math.max(-most, Math.min(most, near - tilt)), reached: true };
  return { tilt: Math.max(low, Math.min(high, options[0]!)), reached: false };
}

/** Degrees of pan for the pointer's way round the pole in the picture; none for a way across it. */
function aboutPole(before: Vec3, turned: Vec3, tilt: number): number {
  const step = nearZero(azimuth(apply(rotationOf({ pan: 0, tilt, roll: 0 }), before)) - azimuth(turned));
  return Math.abs(step) > 90 ? 0 : step;
}

/** Pan alone, or tilt alone, after the pointer went from where it grabbed to another pixel; `start` is the view then. */
export function dragAlong(axis: 'pan' | 'tilt', start: View, width: number, height: number, from: Pixel, to: Pixel) {
  const camera = cameraOf({ ...start, pan: 0, tilt: 0 }, width, height);
  const before = directionAt(camera, from.x, from.y);
  const now = axis === 'pan' ? directionAt(camera, to.x, from.y) : directionAt(camera, from.x, to.y);
  if (!before || !now) return { pan: start.pan, tilt: start.tilt };
  if (axis === 'tilt') {
    const height = (v: Vec3) => Math.atan2(v[1], v[2]) * DEGREES;
    return { pan: start.pan, tilt: nudgeTilt(start.tilt, -nearZero(height(now) - height(before))) };
  }
  const turn = rotationOf({ pan: 0, tilt: start.tilt, roll: 0 });
  const step = nearZero(azimuth(apply(turn, before)) - azimuth(apply(turn, now)));
  return { pan: start.pan + step, tilt: start.tilt };
}
