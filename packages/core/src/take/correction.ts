/**
 * The correction C of a take, from the footage's picture to the world: w = C(t) · s. It is made of the mount, the
 * steadying, the level and the centre, in this order. Everything that is aimed is aimed in the world, after C.
 */
import { apply, IDENTITY, multiply, rotationOf, transpose, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { levelAt, upAt } from '../level/level.js';
import type { Motion } from '../motion/motion.js';
import { Rig } from '../motion/rig.js';
import { Steadying } from '../steady/steady.js';
import type { Take } from './take.js';

/** What of a take makes its correction. */
export type Corrected = Pick<Take, 'orientation' | 'steady' | 'level'>;

export interface Correction {
  /** C at a time in seconds of the footage. */
  at(time: number): Matrix3;
  /** From the mounted and steadied picture back to the source: for level keys, which are set there. */
  steadied(time: number): Matrix3;
  /** Whether C is the same at all times. */
  readonly constant: boolean;
}

export const mountOf = ({ orientation }: Pick<Take, 'orientation'>): Matrix3 =>
  orientation?.mount ? rotationOf(orientation.mount) : IDENTITY;

const centreOf = ({ orientation }: Pick<Take, 'orientation'>): Matrix3 =>
  orientation?.centre ? transpose(rotationOf({ ...orientation.centre, roll: 0 })) : IDENTITY;

/** Steadyings by motion, mount and settings: many things ask for the same one. */
let lately: { motion: Motion; key: string; steadying: Steadying; rig: Rig }[] = [];

/** The rig and the steadying of a take; null where nothing is steadied or nothing is known of its motion. */
export function steadyingOf(take: Corrected, motion: Motion | null): { steadying: Steadying; rig: Rig } | null {
  if (!motion || !take.steady || take.steady.mode === 'off') return null;
  const key = JSON.stringify([take.orientation?.mount, take.steady]);
  let found = lately.find((l) => l.motion === motion && l.key === key);
  if (!found) {
    const rig = lately.find((l) => l.motion === motion && JSON.stringify(l.rig.mount) === JSON.stringify(mountOf(take)))?.rig ?? new Rig(motion, mountOf(take)); // prettier-ignore
    found = { motion, key, rig, steadying: new Steadying(rig, take.steady) };
    lately = [found, ...lately].slice(0, 4);
  }
  return found;
}

/** The correction of a take. Without a motion analysis nothing is steadied. */
export function correctionOf(take: Corrected, motion: Motion | null = null): Correction {
  const mount = mountOf(take);
  const centre = centreOf(take);
  const steady = steadyingOf(take, motion)?.steadying ?? null;
  const keys = take.level?.keys ?? [];
  const steadied = (time: number) => (steady ? multiply(steady.at(time), mount) : mount);
  const fixed = multiply(centre, multiply(levelAt(keys, 0), mount));
  const constant = !steady && keys.length < 2;
  return {
    constant,
    steadied,
    at: (time) => (constant ? fixed : multiply(centre, multiply(levelAt(keys, time), steadied(time)))),
  };
}

/** Level keys as they have to be when the steadying changes: up stays where it was in the footage's picture. */
export function carryLevels(keys: NonNullable<Take['level']>['keys'], before: Correction, after: Correction) {
  return keys.map(({ time, up }) => ({
    time,
    up: apply(multiply(after.steadied(time), transpose(before.steadied(time))), up),
  }));
}

/** Up in the footage's own picture at a time, as a take's level keys say it; null where it has none. */
export function levelledUp(take: Corrected, motion: Motion | null, time: number): Vec3 | null {
  const keys = take.level?.keys ?? [];
  if (keys.length === 0) return null;
  return apply(transpose(correctionOf(take, motion).steadied(time)), upAt(keys, time));
}
