/**
 * The simulated two-lens camera of the demo: what its maker believes of its lenses, and how they truly are. The
 * difference is small and known, so that a calibration can be measured against it.
 */
import type { Lens } from '@glimbo/core/stitch/lens';

/** Side in pixels of one lens's square picture. */
export const LENS_SIDE = 1440;

const nominal = { centreX: 720, centreY: 720, radius: 705, fov: 204, k1: 0, k2: 0, pan: 0, tilt: 0, roll: 0 };

/** As the camera's maker gives them: each in its own square picture. */
export const NOMINAL: [Lens, Lens] = [nominal, { ...nominal, pan: 180 }];

/** As they are: the second lens sits askew and off its centre, and both draw a little differently. */
export const TRUE: [Lens, Lens] = [
  { ...nominal, centreX: 721.5, centreY: 718.8, fov: 205.1, k1: -0.006 },
  { ...nominal, centreX: 716.2, centreY: 722.6, fov: 203.2, k1: -0.011, k2: 0.0015, pan: 180.7, tilt: -0.5, roll: 0.9 },
];

/** Distance in metres of each lens before the camera's middle: near things shift across the seam. */
export const LENS_AHEAD = 0.004;

/** Gains of each lens's sensor in linear light (red, green, blue): the second is darker and warmer. */
export const SENSOR: [number[], number[]] = [
  [1, 1, 1],
  [0.83, 0.79, 0.74],
];

/** Lenses of two square pictures as they lie once these are set side by side. */
export const inOnePicture = ([a, b]: readonly [Lens, Lens]): [Lens, Lens] => [
  a,
  { ...b, centreX: b.centreX + LENS_SIDE },
];
