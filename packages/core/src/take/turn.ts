/**
 * How the whole sphere turns over time, after mount, steadying, level and centre: pan, tilt and roll of what is ahead, each a channel like
 * those of a path. A spherical clip with a turn that follows somebody keeps them ahead.
 */
import type { FollowTrack } from '../follow/following.js';
import { IDENTITY, rotationOf, transpose, unwrapNear, DEGREES, type Matrix3 } from '../geometry/rotation.js';
import { easeOf, evaluate, type Channel, type Keyframe } from '../curve/channel.js';
import type { Ease } from '../curve/ease.js';
import { sameTime } from '../path/keys.js';
import { keysOf } from '../path/path.js';
import { simplify, type Sample } from '../path/simplify.js';

export const TURNED = ['pan', 'tilt', 'roll'] as const;
export type Turned = (typeof TURNED)[number];
export type Turn = Partial<Record<Turned, Channel>>;

/** What is ahead at a time, degrees. */
export const turnAt = (turn: Turn | undefined, time: number): Record<Turned, number> => ({
  pan: evaluate(turn?.pan ?? [], time, 0),
  tilt: evaluate(turn?.tilt ?? [], time, 0),
  roll: evaluate(turn?.roll ?? [], time, 0),
});

/** Its part in the correction. */
export const turnMatrix = (turn: Turn | undefined, time: number): Matrix3 =>
  turn ? transpose(rotationOf(turnAt(turn, time))) : IDENTITY;

/** Whether it is another one at different times. */
export const isMoving = (turn: Turn | undefined): boolean => TURNED.some((name) => keysOf(turn ?? {}, name).length > 1);

/** The times at which a turn has keys. */
export const turnTimes = (turn: Turn | undefined): number[] =>
  [...new Set(TURNED.flatMap((name) => keysOf(turn ?? {}, name).map((k) => k.time)))].sort((a, b) => a - b);

/** A turn with a key of all three at a time, as they are there, with some changed. */
export function setTurn(turn: Turn | undefined, time: number, change: Partial<Record<Turned, number>>): Turn {
  const now = { ...turnAt(turn, time), ...change };
  return Object.fromEntries(
    TURNED.map((name) => {
      const keys = keysOf(turn ?? {}, name);
      const old = keys.find((k) => sameTime(k.time, time));
      const key: Keyframe = { ...old, time, value: now[name], ease: old?.ease ?? 'smooth' };
      return [name, [...keys.filter((k) => k !== old), key].sort((a, b) => a.time - b.time)];
    }),
  );
}

/** What leaves the keys of a turn at a time. */
export const turnEase = (turn: Turn | undefined, time: number): Ease =>
  TURNED.flatMap((name) => keysOf(turn ?? {}, name))
    .filter((k) => sameTime(k.time, time))
    .map(easeOf)[0] ?? 'smooth';

/** A turn whose keys at a time are left otherwise. */
export const easeTurn = (turn: Turn | undefined, time: number, ease: Ease): Turn => ({
  ...turn,
  ...Object.fromEntries(
    TURNED.flatMap((name) => {
      const keys = keysOf(turn ?? {}, name);
      return keys.length ? [[name, keys.map((k) => (sameTime(k.time, time) ? { ...k, ease } : k))]] : [];
    }),
  ),
});

/** A turn without its keys at a time, what stands still as it was; none where no keys are left. */
export function removeTurn(turn: Turn | undefined, time: number): Turn | undefined {
  const left = Object.fromEntries(
    TURNED.flatMap((name) => {
      const keys = keysOf(turn ?? {}, name).filter((k) => !sameTime(k.time, time));
      const stays: Channel | undefined = keys.length || typeof turn?.[name] !== 'number' ? keys : turn[name];
      return typeof stays === 'number' || stays.length ? [[name, stays] as const] : [];
    }),
  ) as Turn;
  return turnTimes(left).length ? left : undefined;
}

/**
 * The turn that keeps a followed subject ahead over a stretch (seconds), its directions as they are without any turn; simplified within a
 * tolerance in degrees. `deviation`: how far it is off at most.
 */
export function turnFollowing(
  { rate, directions }: Pick<FollowTrack, 'rate' | 'directions'>,
  { from, to, tolerance }: { from: number; to: number; tolerance: number },
): { turn: Turn; deviation: number } {
  const samples: Sample[] = [];
  for (let n = Math.round(from * rate); n <= Math.min(directions.length - 1, Math.round(to * rate)); n++) {
    const [x, y, z] = directions[n]!;
    const pan = Math.atan2(x, z) * DEGREES;
    const before = samples.at(-1)?.values.pan;
    samples.push({
      time: n / rate,
      values: {
        pan: before === undefined ? pan : unwrapNear(pan, before),
        tilt: Math.asin(Math.max(-1, Math.min(1, y))) * DEGREES,
      },
    });
  }
  if (samples.length < 2) return { turn: {}, deviation: 0 };
  const { clipping, deviation } = simplify(samples, tolerance);
  const later = (keys: Keyframe[] = []) => keys.map((k) => ({ ...k, time: k.time + samples[0]!.time }));
  return { turn: { pan: later(clipping.pan), tilt: later(clipping.tilt) }, deviation };
}
