/** What a fit of the motion between two frames begins from, and what it finds. */
import type { Matrix3, Vec3 } from '../geometry/rotation.js';

/** Where a fit begins. */
export interface Beginning {
  rotation: Matrix3;
  /** Direction of travel in the earlier frame's axes, if it is known about. */
  travel?: Vec3;
  /** Share of points that agreed in the last frame: if nearly as many agree again, no other beginning is tried. */
  share?: number;
}

export interface MotionFit {
  /** Turns a direction of the later frame into the earlier frame's axes. */
  rotation: Matrix3;
  /** Direction of travel in the earlier frame's axes (unit). */
  travel: Vec3;
  /** How sure that direction is: standard error in degrees. */
  travelError: number;
  /** Standard error of the rotation in degrees (root of the sum over its axes). */
  error: number;
  /** Mean shift by travel in radians of a point at a right angle to it. */
  parallax: number;
  /** How much farther points that agree shift along the travel than across it: about 1 where there is none. */
  stretched: number;
  /** Share of points that agree, 0…1, and the median of what they are off, in degrees. */
  share: number;
  residual: number;
  /** 1 for every point that agrees. */
  inliers: Uint8Array;
}
