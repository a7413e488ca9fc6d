/** Points that were seen in two frames, as directions. */

/** Radians that a good point is off: a tenth of a pixel of 1024 round. */
export const NOISE = 0.0006;

export interface Pairs {
  /** Unit directions in the earlier frame's and the later frame's axes: x, y, z of each point in turn. */
  before: Float64Array;
  after: Float64Array;
  /** How much farther off each point is expected than a good one: its variance, 1 for a good one. */
  variance: Float64Array;
  count: number;
}
