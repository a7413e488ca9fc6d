/** Pieces of path that one press makes: spins, the other way round, back to the first view. Each returns a new path. */
import { unwrapNear } from '../geometry/rotation.js';
import { snap, setViewKey, viewKeysOf } from './edit.js';
import { insertBetween } from './split.js';
import type { Ease } from '../curve/ease.js';
import { CHANNELS, keysOf, viewAt, type ChannelName, type Path } from './path.js';

/** What a spin turns about: the vertical, the view's own axis, or the axis across the picture. */
export const SPIN_AXES = ['vertical', 'view', 'across'] as const;
export type SpinAxis = (typeof SPIN_AXES)[number];
const SPUN: Record<SpinAxis, ChannelName> = { vertical: 'pan', view: 'roll', across: 'tilt' };

/** Adds to every keyframe of a channel after a time: whole turns, so that what follows looks where it did. */
const windLater = (path: Path, channel: ChannelName, after: number, by: number): Path => ({
  ...path,
  [channel]: keysOf(path, channel).map((k) => (k.time > after + 1e-6 ? { ...k, value: k.value + by } : k)),
});

/** Turns about an axis from one time to another, so many times (to the left where negative), and goes on from there as before. */
export function spin(path: Path, axis: SpinAxis, from: number, to: number, turns: number, ease: Ease): Path {
  const channel = SPUN[axis];
  const [start, end] = [viewAt(path, from), viewAt(path, to)];
  const by = 360 * Math.round(turns);
  const begun = setViewKey(insertBetween(path, from), from, start, ease);
  const ended = setViewKey(insertBetween(begun, to), to, { ...end, [channel]: end[channel] + by });
  const clear = {
    ...ended,
    [channel]: keysOf(ended, channel).filter((k) => k.time <= from + 1e-6 || k.time >= to - 1e-6),
  };
  return windLater(clear, channel, to, by);
}

/** How far the pan turns on the way from the keyframe before a time to the one after it, degrees; null beyond the ends. */
export function turnAcross(path: Path, time: number): number | null {
  const keys = keysOf(path, 'pan');
  const next = keys.findIndex((k) => k.time > time + 1e-6);
  return next > 0 ? keys[next]!.value - keys[next - 1]!.value : null;
}

/** The segment at a time the other way round: a turn of 200° to the right becomes one of 160° to the left. */
export function otherWayRound(path: Path, time: number): Path {
  const turn = turnAcross(path, time);
  if (turn === null) return path;
  const before = keysOf(path, 'pan').findLast((k) => k.time <= time + 1e-6)!;
  return windLater(path, 'pan', before.time, turn > 0 ? -360 : 360);
}

/** Ends at a time with the view that the path begins with, so that the clip can run in a loop; the short way round. */
export function backToFirst(path: Path, time: number, rate: number): Path {
  const [first] = viewKeysOf(path);
  if (!first) return path;
  const at = snap(time, rate);
  const now = viewAt(path, at);
  const view = { ...first.view };
  for (const name of ['pan', 'roll'] as const) view[name] = unwrapNear(view[name], now[name]);
  const shifts = CHANNELS.filter((name) => name.startsWith('shift') && keysOf(path, name).length === 0);
  for (const name of shifts) delete (view as Partial<typeof view>)[name];
  return setViewKey(path, at, view);
}
