/** How a take's picture turns over its whole footage, and what can be told from that. */
import { jitterOf, joltsIn, trimsOf, turningOf } from '../motion/rates.js';
import type { Motion } from '../motion/motion.js';
import { correctionOf, type Corrected } from './correction.js';

export interface Turning {
  /** °/s from each frame to the next about the picture's axes, pan, tilt and roll in turn: as it was mounted, and corrected. */
  before: Float32Array;
  after: Float32Array;
  /** Seconds at which the corrected picture jolts. */
  jolts: number[];
  /** In and out points in seconds without the jerk of switching the camera on and off; null where there is none. */
  trims: { in: number | null; out: number | null };
  /** Root mean square of the angular acceleration above 2 Hz, °/s². */
  jitter: { before: number; after: number };
}

/** Reads it for every frame: some seconds for an hour of footage that is steadied. */
export function readTurning(motion: Motion, take: Corrected): Turning {
  const { rate } = motion;
  // As it was mounted, so that left is left before and after.
  const before = turningOf(motion, correctionOf({ orientation: { ...take.orientation, turn: undefined } }).at);
  const after = turningOf(motion, correctionOf(take, motion).at);
  return {
    before,
    after,
    jolts: joltsIn(after, rate),
    trims: trimsOf(before, rate),
    jitter: { before: jitterOf(before, rate), after: jitterOf(after, rate) },
  };
}
