/** Level keys of a whole take at once: from what the picture says, and from one take to another of the same footage. */
import { apply, transpose, type Vec3 } from '../geometry/rotation.js';
import { upInPicture } from '../level/auto.js';
import { keysFollowing, type LevelKey } from '../level/level.js';
import { SURE } from '../level/sure.js';
import type { Motion } from '../motion/motion.js';
import type { Correction } from '../correction/correction.js';
import type { Take } from '../take/take.js';

/** Degrees by which automatic keys may be off between them. */
const TOLERANCE = 0.3;

/** Seconds of a doubtful stretch up to which what is known on both sides will do. */
const BRIDGED = 1;

/** A stretch of the footage, in seconds. */
export interface Stretch {
  from: number;
  to: number;
}

export interface AutomaticLevel {
  /** Those set by hand, and those that follow what is sure. */
  keys: LevelKey[];
  /** Where it is not sure enough where up is: left alone. */
  unsure: Stretch[];
}

/**
 * Level keys over a range in seconds that follow what the picture or gravity says is up, as few as will do, wherever that is sure.
 * `byHand`: keys of the take that somebody set; they are kept, and tell of the rest.
 */
export function automaticLevel(
  motion: Motion,
  correction: Correction,
  range: Take['range'],
  byHand: readonly LevelKey[] = [],
): AutomaticLevel {
  const { rate, frames } = motion;
  const told = levelInPicture({ level: { keys: [...byHand] } }, correction);
  const known = new Map<number, ReturnType<typeof upInPicture>>();
  const at = (n: number) => {
    if (!known.has(n)) known.set(n, upInPicture(motion, n / rate, told));
    return known.get(n)!;
  };
  const up = (n: number): Vec3 => apply(correction.steadied(n / rate), at(n)!.up);
  const first = Math.max(0, Math.min(frames.length - 1, Math.round(range.in * rate)));
  const last = Math.min(frames.length, Math.round(range.out * rate)) - 1;
  const { sure, unsure } = parted(first, last, BRIDGED * rate, (n) => (at(n)?.confidence ?? 0) >= SURE);
  const keys = sure
    .flatMap(([from, to]) => keysFollowing(up, { first: from, last: to, rate }, TOLERANCE))
    .filter((k) => byHand.every((h) => Math.abs(h.time - k.time) > BRIDGED / 2))
    .map((k) => ({ ...k, auto: true }));
  return {
    keys: [...byHand, ...keys].sort((a, b) => a.time - b.time),
    unsure: unsure.map(([from, to]) => ({ from: from / rate, to: to / rate })),
  };
}

/** Those stretches in which nobody has set a key by hand since. */
export const openStretches = (stretches: readonly Stretch[], keys: readonly LevelKey[]): Stretch[] =>
  stretches.filter(({ from, to }) => !keys.some((k) => !k.auto && k.time >= from && k.time <= to));

/** Parts frames into those where something holds and those where it does not for long; first and last of each. */
function parted(first: number, last: number, short: number, holds: (n: number) => boolean) {
  const [sure, unsure]: [number, number][][] = [[], []] as [[number, number][], [number, number][]];
  for (let n = first; n <= last; n++) {
    const list = holds(n) ? sure! : unsure!;
    const open = list.at(-1);
    if (open && open[1] === n - 1) open[1] = n;
    else list.push([n, n]);
  }
  if (!sure!.length) return { sure: [], unsure: unsure! };
  // What is short lies between two that are sure, and goes with them.
  const long = unsure!.filter(([from, to]) => to - from >= short);
  const joined: [number, number][] = [];
  for (const [from, to] of sure!) {
    const before = joined.at(-1);
    if (before && !long.some((u) => u[0] > before[1] && u[1] < from)) before[1] = to;
    else joined.push([from, to]);
  }
  return { sure: joined, unsure: long };
}

/** A take's level keys as they are in the footage's own picture, whatever steadies it in that take. */
export const levelInPicture = ({ level }: Pick<Take, 'level'>, correction: Correction): LevelKey[] =>
  (level?.keys ?? []).map((k) => ({ ...k, up: apply(transpose(correction.steadied(k.time)), k.up) }));

/** The same keys as they have to be in a take with another correction. */
export const levelFromPicture = (keys: readonly LevelKey[], correction: Correction): LevelKey[] =>
  keys.map((k) => ({ ...k, up: apply(correction.steadied(k.time), k.up) }));
