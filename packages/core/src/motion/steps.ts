/** What the frames brought, one after the other, and spans of them. */
import type { Matrix3 } from '../geometry/rotation.js';
import type { MotionFit } from './motion-fit.js';

/** What of a fit is kept for every frame, to the footage's end: no list of points. */
export interface StepFit extends Pick<
  MotionFit,
  'travel' | 'travelError' | 'error' | 'parallax' | 'share' | 'residual'
> {
  /** Points that agree. */
  agreeing: number;
}

export const stepFit = ({ travel, travelError, error, parallax, share, residual, inliers }: MotionFit): StepFit => ({
  travel,
  travelError,
  error,
  parallax,
  share,
  residual,
  agreeing: inliers.reduce((a, b) => a + b, 0),
});

/** What one frame brought. */
export interface Step {
  /** Turns a direction of this frame into the last frame's axes. */
  turn: Matrix3;
  /** What the fit found; null where there were too few points. */
  fit: StepFit | null;
  /** Points that could be followed, and that there were. */
  followed: number;
  points: number;
}

/** The turn over several frames at once: from frame `from` to frame `to`. */
export interface Span {
  from: number;
  to: number;
  turn: Matrix3;
  /** How much it counts against the turn of a single step. */
  weight: number;
}
