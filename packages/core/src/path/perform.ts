/** Steering by hand: what keys and sticks do to the view, and what was steered as keyframes. */
import type { FollowTrack } from '../follow/following.js';
import { unwrapNear } from '../geometry/rotation.js';
import { lonLatOf } from '../geometry/sphere.js';
import { nudgeTilt } from '../lens/aim.js';
import { FOV_MIN, maxFov, widened } from '../lens/projection.js';
import type { View } from '../lens/view.js';
import { pasteClipping } from './clipping.js';
import type { Selection } from './keys.js';
import { viewAt, type Path } from './path.js';
import { simplify, smoothed, type Sample } from './simplify.js';

/** How far each is pushed, −1…1: to the right, up, clockwise, closer. */
export interface Push {
  pan: number;
  tilt: number;
  roll: number;
  zoom: number;
}

/** Degrees a second at full push, at a field of view of 75°; closer in the view turns more slowly. */
const FULL = { pan: 70, tilt: 50, roll: 45 };
/** By what factor the field of view changes in a second at full push. */
const ZOOM = 2;

/** The view after it was pushed for some seconds. */
export function pushed(view: View, push: Push, seconds: number): View {
  const calm = Math.min(1.5, view.fov / 75);
  const fov = view.fov * ZOOM ** (-push.zoom * seconds);
  return {
    ...view,
    pan: view.pan + push.pan * FULL.pan * calm * seconds,
    tilt: nudgeTilt(view.tilt, push.tilt * FULL.tilt * calm * seconds),
    roll: view.roll + push.roll * FULL.roll * seconds,
    fov: Math.max(FOV_MIN, Math.min(maxFov(view.bend), fov)),
  };
}

/** How far a view is carried: by pan and tilt in degrees, and how many times as wide it becomes, measured in the frame. */
export interface Carry {
  pan: number;
  tilt: number;
  wider: number;
}
export type Carried = (time: number) => Carry;

export const NOT_CARRIED: Carry = { pan: 0, tilt: 0, wider: 1 };

/**
 * Carried along with a subject, from a time in seconds on: as far as its direction has gone since, all round if it does; where its size
 * is kept, as much wider as it has become larger.
 */
export function carriedWith({ rate, directions, sizes }: FollowTrack, from: number, keepsSize: boolean): Carried {
  const pans: number[] = [];
  const places = directions.map(lonLatOf);
  for (const { longitude } of places) pans.push(unwrapNear(longitude, pans.at(-1) ?? 0));
  const tilts = places.map(({ latitude }) => latitude);
  const at = (list: readonly number[], time: number) => {
    const place = Math.max(0, Math.min(list.length - 1, time * rate));
    const n = Math.min(list.length - 2, Math.floor(place));
    return n < 0 ? list[0]! : list[n]! + (list[n + 1]! - list[n]!) * (place - n);
  };
  const start = { pan: at(pans, from), tilt: at(tilts, from), size: at(sizes, from) };
  return (time) => ({
    pan: at(pans, time) - start.pan,
    tilt: at(tilts, time) - start.tilt,
    wider: keepsSize ? at(sizes, time) / start.size : 1,
  });
}

/** A view that is carried along; up and down it ends at the poles. */
export const carriedView = (view: View, { pan, tilt, wider }: Carry): View => ({
  ...view,
  pan: view.pan + pan,
  tilt: Math.max(-90, Math.min(90, view.tilt + tilt)),
  fov: widened(view, wider),
});

/** A drawn line (headings in degrees at seconds, in any order) as samples in order of time, its pan counted on from the path's. */
export function drawnSamples(path: Path, points: readonly { time: number; pan: number }[]): Sample[] {
  const order = [...points].sort((a, b) => a.time - b.time);
  let near = order[0] ? viewAt(path, order[0].time).pan : 0;
  return order.map(({ time, pan }) => {
    near = unwrapNear(pan, near);
    const { tilt, roll, fov, bend } = viewAt(path, time);
    return { time, values: { pan: near, tilt, roll, fov, bend } };
  });
}

/** Samples at every frame between the first and the last, straight between those that there are. Without order in time none. */
export function onFrames(samples: readonly Sample[], rate: number): Sample[] {
  const [first, last] = [samples[0], samples.at(-1)];
  if (!first || !last) return [];
  const frames: Sample[] = [];
  let i = 0;
  for (let n = Math.round(first.time * rate); n <= Math.round(last.time * rate); n++) {
    const time = n / rate;
    while (i < samples.length - 2 && samples[i + 1]!.time < time) i++;
    const [a, b] = [samples[i]!, samples[Math.min(samples.length - 1, i + 1)]!];
    const f = b.time > a.time ? Math.max(0, Math.min(1, (time - a.time) / (b.time - a.time))) : 0;
    const values: Sample['values'] = {};
    for (const name of Object.keys(a.values) as (keyof Sample['values'])[])
      values[name] = a.values[name]! + (b.values[name]! - a.values[name]!) * f;
    frames.push({ time, values });
  }
  return frames;
}

export interface Performed {
  path: Path;
  selection: Selection;
  /** How far the keyframes' curve is from what was steered at most, degrees; and how many there are. */
  deviation: number;
  keys: number;
}

/** A path with what was steered in place of what it had there: smoothed over `width` seconds, simplified within a tolerance. */
export function perform(
  path: Path,
  samples: readonly Sample[],
  { width, tolerance, rate }: { width: number; tolerance: number; rate: number },
): Performed | null {
  const frames = onFrames(samples, rate);
  if (frames.length < 3) return null;
  const { clipping, deviation } = simplify(smoothed(frames, width), tolerance);
  const put = pasteClipping(path, clipping, frames[0]!.time, { rate });
  return { ...put, deviation, keys: Math.max(...Object.values(clipping).map((k) => k.length)) };
}
