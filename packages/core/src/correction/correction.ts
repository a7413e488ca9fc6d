/**
 * The correction C of a take, from the footage's picture to the world: w = C(t) · s. It is made of the mount, the
 * steadying, the level, the centre and its turn over time, in this order. Everything that is aimed is aimed in the world, after C.
 */
import { apply, IDENTITY, multiply, rotationOf, transpose, type Matrix3 } from '../geometry/rotation.js';
import { levelAt } from '../level/level.js';
import type { Motion } from '../motion/motion.js';
import { Rig } from '../motion/rig.js';
import { Steadying } from '../steady/steady.js';
import type { Take } from '../take/take.js';
import { isMoving, turnMatrix } from '../take/turn.js';

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

/** Steadyings by motion, mount and settings: many things ask for the same one, and dragging the strength for one only. */
let lately: { motion: Motion; key: string; steadying: Steadying; rig: Rig }[] = [];

/** The steadying of a take; null where nothing is steadied or nothing is known of its motion. */
function steadyingOf(take: Corrected, motion: Motion | null): Steadying | null {
  if (!motion || !take.steady || take.steady.mode === 'off') return null;
  const { strength: _, ...settings } = take.steady;
  const mount = mountOf(take);
  const key = JSON.stringify([mount, settings]);
  let found = lately.find((l) => l.motion === motion && l.key === key);
  if (!found) {
    const same = lately.find((l) => l.motion === motion && l.rig.mount.every((v, k) => v === mount[k]));
    const rig = same?.rig ?? new Rig(motion, mount);
    found = { motion, key, rig, steadying: new Steadying(rig, settings) };
    lately = [found, ...lately].slice(0, 4);
  }
  return found.steadying;
}

/** The correction of a take. Without a motion analysis nothing is steadied. */
export function correctionOf(take: Corrected, motion: Motion | null = null): Correction {
  const mount = mountOf(take);
  const centre = centreOf(take);
  const steady = steadyingOf(take, motion);
  const strength = take.steady?.strength ?? 0;
  const keys = take.level?.keys ?? [];
  const steadied = (time: number) => (steady ? multiply(steady.at(time, strength), mount) : mount);

  const turn = take.orientation?.turn;
  const moving = isMoving(turn);
  // A turn that stands still belongs to the centre.
  const ahead = multiply(turnMatrix(turn, 0), centre);
  const aheadAt = (time: number) => (moving ? multiply(turnMatrix(turn, time), centre) : ahead);
  const constant = !steady && keys.length < 2 && !moving;
  const fixed = multiply(ahead, multiply(levelAt(keys, 0), mount));
  return {
    constant,
    steadied,
    at: (time) => (constant ? fixed : multiply(aheadAt(time), multiply(levelAt(keys, time), steadied(time)))),
  };
}

/** Level keys as they have to be when the steadying changes: up stays where it was in the footage's picture. */
export function carryLevels(keys: NonNullable<Take['level']>['keys'], before: Correction, after: Correction) {
  return keys.map(({ time, up }) => ({
    time,
    up: apply(multiply(after.steadied(time), transpose(before.steadied(time))), up),
  }));
}
