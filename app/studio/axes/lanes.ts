/** The measures of the Score's columns, and what everything in them needs to go between times and places. */

export const GUTTER = 72;
export const LANE_WIDTH = 96;

/** Times are seconds of the footage, places pixels from the top. */
export interface Axis {
  height: number;
  y: (t: number) => number;
  timeAt: (py: number) => number;
}
