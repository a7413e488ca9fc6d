/** Between two views. */
import { unwrapNear } from '../geometry/rotation.js';
import type { View } from './view.js';

/** Part of the way from one view to another, 0 to 1: turning the shorter way, zooming evenly by factors. */
export function blended(from: View, to: View, share: number): View {
  if (share <= 0) return from;
  if (share >= 1) return to;
  const mix = (a: number, b: number) => a + (b - a) * share;
  return {
    pan: mix(from.pan, unwrapNear(to.pan, from.pan)),
    tilt: mix(from.tilt, unwrapNear(to.tilt, from.tilt)),
    roll: mix(from.roll, unwrapNear(to.roll, from.roll)),
    fov: from.fov * (to.fov / from.fov) ** share,
    bend: mix(from.bend, to.bend),
    shiftX: mix(from.shiftX, to.shiftX),
    shiftY: mix(from.shiftY, to.shiftY),
  };
}

/** A share of the way along a curve that begins and ends softly (first and second derivative 0). */
export const softly = (f: number): number => f * f * f * (f * (6 * f - 15) + 10);
