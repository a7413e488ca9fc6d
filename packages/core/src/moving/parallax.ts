/**
 * What fits neither a rig's travel nor any depth. With the turning taken out, what stands still goes along great circles from the
 * direction of travel to its opposite, as far as it is near (plane sweep, Collins 1996, on the sphere). Laid so that the travel is the
 * upper pole, these circles are columns: each depth is a shift of rows, and what no shift explains moves by itself. What goes along
 * its column as something nearer or farther would is not told apart.
 */
import type { Level } from '../frame/sphere-frame.js';
import type { Matrix3, Vec3 } from '../geometry/rotation.js';

/** A picture, and what turns its directions into the world's. */
export interface Turned {
  picture: Level;
  toWorld: Matrix3;
}

/** Another moment: whether the rig had gone on by then, or came from there. */
export interface Moment extends Turned {
  later: boolean;
}

/** What is computed for every pixel of a look. */
export interface ParallaxWork {
  /**
   * By how many grey levels each pixel of a look is off what stands still at any depth would be, seen from where the rig was at the
   * other moments: 0 to 255, in the world's axes, half as wide as the pictures. `travel`: unit direction in the world.
   */
  excess(now: Turned, others: readonly Moment[], travel: Vec3): Uint8Array;
}

/** Depths that are tried, by how many rows they shift at a right angle to the travel: a row of slack fills the gaps between. */
export const SHIFTS = [0, 1, 2, 3, 4.5, 6.5, 9, 12, 16, 21, 28] as const;

/** Columns of slack to both sides, beside a row: directions of travel are known to some degrees, and pixels are the nearest ones. */
const SLACK = 1.5;
/** Columns to each side beyond which slack does not go where columns run together. */
const MOST_SLACK = 12;

/** Grey levels by which a pixel counts as off at most. The 5 × 5 pixels about each go by one depth together. */
export const MOST_OFF = 60;

/** Grey levels that noise and compression make in the mean of a window, and how much what is more counts. */
export const OFF = { noise: 2, times: 3 } as const;

/** Rows from each pole in which nothing is told: what lies ahead hardly shifts, and columns run together. */
export const BLIND = 6;

/** Slack in columns for each row, with the travel at the upper pole. */
export const slackOf = (height: number): Uint8Array =>
  Uint8Array.from({ length: height }, (_, y) =>
    Math.min(MOST_SLACK, Math.round(SLACK / Math.sin(((y + 0.5) / height) * Math.PI))),
  );

/**
 * The row in which each row's directions lie at another moment, at the depth that shifts by `shift` rows at a right angle to the travel:
 * by then the rig has gone on (`later`), or it came from there.
 */
export function shiftedRows(height: number, shift: number, later: boolean): Int32Array {
  const near = Math.tan((shift * Math.PI) / height) * (later ? 1 : -1);
  return Int32Array.from({ length: height }, (_, y) => {
    const angle = ((y + 0.5) / height) * Math.PI;
    const seen = Math.atan2(Math.sin(angle), Math.cos(angle) - near);
    return Math.max(0, Math.min(height - 1, Math.round((seen / Math.PI) * height - 0.5)));
  });
}
