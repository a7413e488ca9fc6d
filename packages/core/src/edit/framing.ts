/** Framing is kept: when a take's correction changes, its path is turned so that the frame's centre stays on what it was on. */
import {
  anglesOf,
  apply,
  multiply,
  rotationOf,
  transpose,
  unwrapNear,
  type Matrix3,
  type Vec3,
} from '../geometry/rotation.js';
import { lonLatOf } from '../geometry/sphere.js';
import { hasKeyframes, viewKeysOf, setViewKey } from '../path/edit.js';
import { keysOf, viewAt, type Path } from '../path/path.js';
import { carryLevels, type Correction } from '../correction/correction.js';
import type { Take } from '../take/take.js';

/**
 * Pan and tilt that look in a world direction, the equivalent nearest to what they were; looking over a pole counts as
 * an equivalent where the tilt was beyond it already.
 */
function aimNear(direction: Vec3, before: { pan: number; tilt: number }): { pan: number; tilt: number } {
  const { longitude, latitude } = lonLatOf(direction);
  // Straight up or down any pan looks the same way: it stays.
  if (Math.abs(latitude) > 90 - 1e-6) return { pan: before.pan, tilt: unwrapNear(latitude, before.tilt) };
  const options = [
    { pan: longitude, tilt: latitude },
    { pan: longitude + 180, tilt: 180 - latitude },
  ].map((o) => ({ pan: unwrapNear(o.pan, before.pan), tilt: unwrapNear(o.tilt, before.tilt) }));
  const upright = Math.abs(unwrapNear(before.tilt, 0)) <= 90;
  return options[upright ? 0 : 1]!;
}

/** A direction of sight turned by the change of the correction, with its dials near what they were. Roll stays. */
function reaim({ pan, tilt }: { pan: number; tilt: number }, turn: Matrix3) {
  const sight = apply(rotationOf({ pan, tilt, roll: 0 }), [0, 0, 1]);
  return aimNear(apply(turn, sight), { pan, tilt });
}

/**
 * The path as it must be when C becomes another: every keyframe's aim is turned by C′ · C⁻¹ at its time; a fixed view by
 * the same at `now`. A keyframe that has only one of pan and tilt gets the other too.
 */
export function keepFraming(path: Path, before: Correction, after: Correction, now: number): Path {
  const turnAt = (time: number) => multiply(after.at(time), transpose(before.at(time)));
  if (!hasKeyframes(path)) {
    const view = viewAt(path, now);
    return { ...path, ...reaim(view, turnAt(now)) };
  }
  const aimed = viewKeysOf(path).filter((m) => m.channels.includes('pan') || m.channels.includes('tilt'));
  if (aimed.length === 0) return { ...path, ...reaim(viewAt(path, now), turnAt(now)) };
  let next: Path = path;
  let last: { pan: number; tilt: number; was: number } | null = null;
  for (const { time } of aimed) {
    const view = viewAt(path, time);
    const found = reaim(view, turnAt(time));
    // Between keyframes the path turns as far as it did: the change must not bring in a turn round.
    if (last) found.pan = unwrapNear(found.pan, last.pan + view.pan - last.was);
    last = { ...found, was: view.pan };
    next = withAim(next, path, time, found);
  }
  return next;
}

function withAim(next: Path, old: Path, time: number, aim: { pan: number; tilt: number }): Path {
  const both = (['pan', 'tilt'] as const).every((name) =>
    keysOf(old, name).some((k) => Math.abs(k.time - time) < 1e-6),
  );
  if (!both) return setViewKey(next, time, aim);
  const changed = { ...next };
  for (const name of ['pan', 'tilt'] as const)
    changed[name] = keysOf(next, name).map((k) => (Math.abs(k.time - time) < 1e-6 ? { ...k, value: aim[name] } : k));
  return changed;
}

/** A change of a take's orientation, steadying or level, with its level keys and, if wanted, its framing carried along. */
export function changeCorrection(
  take: Take,
  change: Partial<Pick<Take, 'orientation' | 'steady' | 'level'>>,
  correction: (take: Take) => Correction,
  options: { keepFraming: boolean; now: number },
): Take {
  return carriedAlong(take, { ...take, ...change }, correction, options);
}

/** A take after a change, with its level keys and, if wanted, its framing carried along where the change corrects it otherwise. */
export function carriedAlong(
  before: Take,
  after: Take,
  correction: (take: Take) => Correction,
  options: { keepFraming: boolean; now: number },
): Take {
  if ((['orientation', 'steady', 'level'] as const).every((part) => after[part] === before[part])) return after;
  const was = correction(before);
  const { level } = before;
  // Keys that the change sets itself are in its own steadied picture already.
  const levelled =
    level?.keys.length && after.level === level
      ? { ...after, level: { ...level, keys: carryLevels(level.keys, was, correction(after)) } }
      : after;
  if (!options.keepFraming) return levelled;
  return { ...levelled, path: keepFraming(levelled.path, was, correction(levelled), options.now) };
}

/** A take as it would look without steadying and level: the same moves, aimed at the same things. */
export function asFilmed(take: Take, correction: (take: Take) => Correction): Take {
  const { steady: _, level: __, ...bare } = take;
  const before = { ...bare, path: take.path };
  return { ...before, path: keepFraming(take.path, correction(take), correction(before), take.range.in) };
}

/** The centre that makes a world direction "ahead", given the centre there is. */
export function centreOn(take: Pick<Take, 'orientation'>, direction: Vec3): { pan: number; tilt: number } {
  const present = take.orientation?.centre;
  const back = present ? apply(rotationOf({ ...present, roll: 0 }), direction) : direction;
  const { longitude, latitude } = lonLatOf(back);
  return { pan: longitude, tilt: latitude };
}

/** A mount turned further by a rotation of the mounted picture. */
export function turnMount(take: Pick<Take, 'orientation'>, turn: Matrix3) {
  const mount = take.orientation?.mount;
  return anglesOf(mount ? multiply(turn, rotationOf(mount)) : turn);
}
