/** Level keys of a whole take at once: from what the picture says, and from one take to another of the same footage. */
import { apply, transpose, type Vec3 } from '../geometry/rotation.js';
import { upInPicture } from '../level/auto.js';
import { keysFollowing, type LevelKey } from '../level/level.js';
import type { Motion } from '../motion/motion.js';
import type { Correction } from './correction.js';
import type { Take } from './take.js';

/** Degrees by which automatic keys may be off between them. */
const TOLERANCE = 0.3;

/**
 * Level keys over a range in seconds that follow what the picture or gravity says is up, as few as will do; null where
 * neither says anything.
 */
export function automaticLevel(motion: Motion, correction: Correction, range: Take['range']): LevelKey[] | null {
  const { rate, frames } = motion;
  const known = new Map<number, Vec3>();
  const up = (n: number): Vec3 => {
    let found = known.get(n);
    if (!found) known.set(n, (found = apply(correction.steadied(n / rate), upInPicture(motion, n / rate)!.up)));
    return found;
  };
  const first = Math.max(0, Math.min(frames.length - 1, Math.round(range.in * rate)));
  if (!upInPicture(motion, first / rate)) return null;
  return keysFollowing(up, { first, last: Math.min(frames.length, Math.round(range.out * rate)) - 1, rate }, TOLERANCE);
}

/** A take's level keys as they are in the footage's own picture, whatever steadies it in that take. */
export const levelInPicture = ({ level }: Pick<Take, 'level'>, correction: Correction): LevelKey[] =>
  (level?.keys ?? []).map(({ time, up }) => ({ time, up: apply(transpose(correction.steadied(time)), up) }));

/** The same keys as they have to be in a take with another correction. */
export const levelFromPicture = (keys: readonly LevelKey[], correction: Correction): LevelKey[] =>
  keys.map(({ time, up }) => ({ time, up: apply(correction.steadied(time), up) }));
