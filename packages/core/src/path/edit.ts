/**
 * Editing a path. Every function returns a new path and leaves the old one alone, so that undo is a
 * matter of keeping the old one. Times are snapped to the footage's frames by the caller with `snap`.
 */
import { unwrapNear } from '../geometry/rotation.js';
import { DEFAULT_VIEW, type View } from '../lens/view.js';
import { easeOf, type Keyframe } from '../curve/channel.js';
import type { Ease } from '../curve/ease.js';
import { changeKeys, sameTime, selectedTimes, viewKeySelection, type Selection } from './keys.js';
import {
  CHANNELS,
  CURVES,
  curveAt,
  keysOf,
  viewAt,
  type ChannelName,
  type CurveName,
  type Curves,
  type Path,
} from './path.js';

/** The channels that a keyframe of the view sets together, so that none of them drifts unnoticed. */
export const VIEW_CHANNELS = ['pan', 'tilt', 'roll', 'fov', 'bend'] as const;

/** A keyframe of the view: everything that is keyed at one time. */
export interface ViewKey {
  time: number;
  view: View;
  ease: Ease;
  channels: ChannelName[];
}

/** The time of the frame nearest to a time, in seconds. */
export const snap = (time: number, rate: number) => Math.round(time * rate) / rate;

/** A path is never changed, so its keyframes of the view are found once. */
const found = new WeakMap<Path, ViewKey[]>();

/** All keyframes of the view in order of time. Its ease is that of its pan, or of the first channel keyed. */
export function viewKeysOf(path: Path): ViewKey[] {
  const known = found.get(path);
  if (known) return known;
  const keys = findViewKeys(path);
  found.set(path, keys);
  return keys;
}

function findViewKeys(path: Path): ViewKey[] {
  const byTime = new Map<number, ViewKey>();
  for (const name of CHANNELS)
    for (const key of keysOf(path, name)) {
      const time = Number(key.time.toFixed(6));
      const viewKey = byTime.get(time) ?? {
        time: key.time,
        view: viewAt(path, key.time),
        ease: easeOf(key),
        channels: [],
      };
      viewKey.channels.push(name);
      byTime.set(time, viewKey);
    }
  return [...byTime.values()].sort((a, b) => a.time - b.time);
}

export const hasKeyframes = (path: Path) => CHANNELS.some((name) => keysOf(path, name).length > 0);

function withKey(keys: readonly Keyframe[], key: Keyframe): Keyframe[] {
  return [...keys.filter((k) => !sameTime(k.time, key.time)), key].sort((a, b) => a.time - b.time);
}

/** Sets a keyframe of the view at a time: the view as it is there, with the given changes. Keeps an ease that is there already. */
export function setViewKey(path: Path, time: number, change: Partial<View> = {}, ease?: Ease): Path {
  const view = { ...viewAt(path, time), ...change };
  const next = { ...path };
  const shifted = CHANNELS.filter(
    (name) => keysOf(path, name).length > 0 || (name in change && name.startsWith('shift')),
  );
  for (const name of new Set<ChannelName>([...VIEW_CHANNELS, ...shifted])) {
    const old = keysOf(path, name).find((k) => sameTime(k.time, time));
    const key = { ...old, time, value: view[name], ease: ease ?? old?.ease ?? 'smooth' };
    next[name] = withKey(keysOf(path, name), key);
  }
  return next;
}

/** Sets a keyframe of one channel at a time; the other channels stay as they are. Keeps an ease that is there already. */
export function setChannelKey(path: Curves, channel: CurveName, time: number, value: number, ease?: Ease): Curves {
  const old = keysOf(path, channel).find((k) => sameTime(k.time, time));
  const key = { ...old, time, value, ease: ease ?? old?.ease ?? 'smooth' };
  return { ...path, [channel]: withKey(keysOf(path, channel), key) };
}

/**
 * Changes dials at a time: sets a keyframe there. The first one makes the view stand still through the whole take, and
 * keeps it for whoever goes on in time and aims again.
 */
export const turnDials = (path: Path, time: number, change: Partial<View>): Path => setViewKey(path, time, change);

/** The pan nearest to that of the keyframe before a time, or after it: where a new keyframe's angle may be counted anew. */
export function panNear(path: Path, time: number, pan: number): number {
  const keys = keysOf(path, 'pan');
  const neighbour = keys.findLast((k) => k.time < time - 1e-6) ?? keys.find((k) => k.time > time + 1e-6);
  return neighbour ? unwrapNear(pan, neighbour.value) : pan;
}

/** Whether the pan at a time is counted more than half a turn from its neighbour's: a spin that somebody typed. */
export function isSpun(path: Path, time: number): boolean {
  const { pan } = viewAt(path, time);
  return Math.abs(pan - panNear(path, time, pan)) > 1e-6;
}

/**
 * Removes selected keyframes. With the last one of the path gone, the view that it had stays behind as the fixed view; with the last
 * one of another curve, its value.
 */
export function removeKeys(path: Curves, selection: Selection): Curves {
  const [first] = selectedTimes(path, selection);
  if (first === undefined) return path;
  const next = changeKeys(path, selection, () => null);
  for (const name of CURVES.slice(CHANNELS.length) as CurveName[])
    if (keysOf(path, name).length && !keysOf(next, name).length) next[name] = curveAt(path, name, first);
  if (hasKeyframes(next) || !hasKeyframes(path)) return next;
  const view = viewAt(path, first);
  for (const name of CHANNELS) if (view[name] !== DEFAULT_VIEW[name]) next[name] = view[name];
  return next;
}

/** Sets what leaves each selected keyframe. */
export const setEase = (path: Curves, selection: Selection, ease: Ease): Curves =>
  changeKeys(path, selection, (key) => ({ ...key, ease }));

/** Removes the keyframe of the view at a time. */
export const removeViewKey = (path: Path, time: number): Path => removeKeys(path, viewKeySelection(path, time));

/** Moves the keyframe of the view from one time to another; one that is there already is overwritten. */
export const moveViewKey = (path: Path, from: number, to: number): Path =>
  sameTime(from, to) ? path : changeKeys(path, viewKeySelection(path, from), (key) => ({ ...key, time: to }));

/** The times of the keyframes of the view before and after a time, for going from one to the next. */
export function neighbours(path: Path, time: number): { previous: number | undefined; next: number | undefined } {
  const times = viewKeysOf(path).map((k) => k.time);
  return { previous: times.findLast((t) => t < time - 1e-6), next: times.find((t) => t > time + 1e-6) };
}

/** Makes the view stand still from a time until another: one keyframe that holds, and one that lets go with the ease there was. */
export function holdUntil(path: Path, time: number, until: number): Path {
  const view = viewAt(path, time);
  const leaving = viewKeysOf(path).findLast((m) => m.time <= time + 1e-6)?.ease ?? 'smooth';
  const between = viewKeysOf(path).filter((m) => m.time > time + 1e-6 && m.time < until - 1e-6);
  const cleared = between.reduce((p, m) => removeViewKey(p, m.time), path);
  const held = setViewKey(cleared, time, view, 'hold');
  return setViewKey(held, until, view, leaving === 'hold' ? 'smooth' : leaving);
}
