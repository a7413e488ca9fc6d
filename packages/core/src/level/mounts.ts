/** The usual ways in which a rig is mounted, and which of them its picture speaks for. */
import { apply, dot, rotationOf, type Angles } from '../geometry/rotation.js';
import { SURE } from './sure.js';
import type { Motion } from '../motion/motion.js';

export const UPRIGHT: Angles = { pan: 0, tilt: 0, roll: 0 };

/** Degrees by which the footage's picture is turned so that it stands upright. */
export const MOUNTS = {
  upright: UPRIGHT,
  over: { pan: 0, tilt: 0, roll: 180 },
  left: { pan: 0, tilt: 0, roll: 90 },
  right: { pan: 0, tilt: 0, roll: -90 },
} as const satisfies Record<string, Angles>;
export type MountName = keyof typeof MOUNTS;

const NAMES = Object.keys(MOUNTS) as MountName[];

/** The usual mount that some angles are; null for a free one. */
export const mountNamed = ({ pan, tilt, roll }: Angles): MountName | null =>
  NAMES.find((name) => MOUNTS[name].pan === pan && MOUNTS[name].tilt === tilt && MOUNTS[name].roll === roll) ?? null;

/** Cosines of how near the top up must be: so that nothing is proposed, and for a mount to be proposed. */
const ON_TOP = 0.7;
const PUTS_ON_TOP = 0.9;

/**
 * The mount that puts up on top, where another one does not. `stands`: which axis of the footage's picture up is near, as a motion
 * analysis has it. Null if it is on top already, or not surely known.
 */
export function proposedMount(stands: Motion['stands'], present: Angles): MountName | null {
  if (!stands || stands.confidence < SURE) return null;
  const height = (mount: Angles) => dot(apply(rotationOf(mount), stands.up), [0, 1, 0]);
  if (height(present) > ON_TOP) return null;
  return NAMES.find((name) => height(MOUNTS[name]) > PUTS_ON_TOP) ?? null;
}
