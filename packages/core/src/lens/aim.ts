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
/** Degrees of pan that no step of following takes: what lies further round is the other side of the pole. */
const TURN = 90;
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
  const most = LAG * moved + 0.01;
  const { tilt, step } = following(view, before, now, grabbed, LEAP * moved + 1);
  const turned = turnedBy(tilt, now);
  const limit = most / Math.max(CALM, Math.hypot(turned[0], turned[2]));
  const clamp = (v: number, limit: number) => Math.max(-limit, Math.min(limit, v));
  return { pan: view.pan + clamp(step, limit), tilt: view.tilt + clamp(tilt - view.tilt, most) };
}

const turnedBy = (tilt: number, v: Vec3) => apply(rotationOf({ pan: 0, tilt, roll: 0 }), v);

/**
 * The tilt, and the step of pan, that bring what was grabbed under the pointer; of two ways the one with less turning. Where
 * none is in range, or within `leap` degrees of tilt, the nearest tilt and the pointer's way round the pole.
 */
function following({ pan, tilt }: View, before: Vec3, now: Vec3, grabbed: Vec3, leap: number) {
  // Ry(pan)·Rx(tilt)·v = grabbed: its second row gives tilt, v.y·cos t + v.z·sin t = grabbed.y.
  const reach = Math.hypot(now[1], now[2]);
  const alpha = Math.atan2(now[2], now[1]);
  const spread = Math.acos(Math.max(-1, Math.min(1, reach > 1e-9 ? grabbed[1] / reach : 0)));
  const { low, high } = tiltRange(tilt);
  const options = [alpha + spread, alpha - spread].map((angle) => {
    const t = unwrapNear(angle * DEGREES, tilt);
    return { tilt: t, step: nearZero(azimuth(grabbed) - azimuth(turnedBy(t, now)) - pan) };
  });
  const near = options
    .filter((o) => o.tilt >= low && o.tilt <= high && Math.abs(o.tilt - tilt) <= leap && Math.abs(o.step) <= TURN)
    .sort((a, b) => Math.hypot(a.tilt - tilt, a.step) - Math.hypot(b.tilt - tilt, b.step))[0];
  if (near) return near;
  const nearest = options.sort((a, b) => Math.abs(a.tilt - tilt) - Math.abs(b.tilt - tilt))[0]!.tilt;
  const end = Math.max(low, Math.min(high, nearest));
  return { tilt: end, step: aboutPole(before, turnedBy(end, now), end) };
}

/** Degrees of pan for the pointer's way round the pole in the picture; none for a way across it. */
function aboutPole(before: Vec3, turned: Vec3, tilt: number): number {
  const step = nearZero(azimuth(turnedBy(tilt, before)) - azimuth(turned));
  return Math.abs(step) > TURN ? 0 : step;
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
