/** What is known of the frame that is looked at next, beside its picture. */
import type { Matrix3, Vec3 } from '../geometry/rotation.js';
import type { Beside } from './not-world.js';
import type { Whose } from './strangers.js';

/** A place to look at because something moves there, or was recognised: radians across its longer side. */
interface Suggested {
  direction: Vec3;
  size: number;
}

/** Who is where, as far as it is known; directions are of the frame's picture. */
export interface WhoIsWhere {
  whose: (direction: Vec3) => Whose | null;
  /** Whether a person, an animal or a vehicle was recognised there. */
  isRecognised: (direction: Vec3) => boolean;
  /** Where something is that may be the subject, the likeliest first. */
  mayBe: () => readonly Suggested[];
}

/** Where nothing is known of that. */
export const NOBODY: WhoIsWhere = { whose: () => null, isRecognised: () => false, mayBe: () => [] };

export interface NextFrame {
  /** From directions of the last picture to those of this one, where it is known. */
  turn?: Matrix3 | null;
  /** The still world about it, where that is known. */
  beside?: Beside | null;
  who?: WhoIsWhere;
  /** Frames since the last one. */
  frames?: number;
}
