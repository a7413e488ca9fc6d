/**
 * Editing a path. Every function returns a new path and leaves the old one alone, so that undo is a
 * matter of keeping the old one. Times are snapped to the footage's frames by the caller with `snap`.
 */
import { unwrapNear } from '../geometry/rotation.js';
import { DEFAULT_VIEW, type View } from '../lens/view.js';
import { easeOf, type Keyframe } from './channel.js';
import type { Ease } from './ease.js';
import { CHANNELS, keysOf, viewAt, type ChannelName, type Path } from './path.js';

/** The channels that a keyframe of the view sets together, so that none of them drifts unnoticed. */
export const VIEW_CHANNELS = ['pan', 'tilt', 'roll', 'fov', 'bend'] as const;

/** A keyframe of the view: everything that is keyed at one time. */
export interface Moment {
  time: number;
  view: View;
  ease: Ease;
  channels: ChannelName[];
}

/** The time of the frame nearest to a time, in seconds. */
export const snap = (time: number, rate: number) => Math.round(time * rate) / rate;

const same = (a: number, b: number) => Math.abs(a - b) < 1e-6;

/** All keyframes of the view in order of time. A moment's ease is that of its pan, or of the first channel keyed. */
export function momentsOf(path: Path): Moment[] {
  const byTime = new Map<number, Moment>();
  for (const name of CHANNELS)
    for (const key of keysOf(path, name)) {
      const time = Number(key.time.toFixed(6));
      const moment = byTime.get(time) ?? {
        time: key.time,
        view: viewAt(path, key.time),
        ease: easeOf(key),
        channels: [],
      };
      moment.channels.push(name);
      byTime.set(time, moment);
    }
  return [...byTime.values()].sort((a, b) => a.time - b.time);
}

export const hasKeyframes = (path: Path) => CHANNELS.some((name) => keysOf(path, name).length > 0);

function withKey(keys: readonly Keyframe[], key: Keyframe): Keyframe[] {
  return [...keys.filter((k) => !same(k.time, key.time)), key].sort((a, b) => a.time - b.time);
}

/** Sets a keyframe of the view at a time: the view as it is there, with the given changes. Keeps an ease that is there already. */
export function setMoment(path: Path, time: number, change: Partial<View> = {}, ease?: Ease): Path {
  const view = { ...viewAt(path, time), ...change };
  const next = { ...path };
  const shifted = CHANNELS.filter(
    (name) => keysOf(path, name).length > 0 || (name in change && name.startsWith('shift')),
  );
  for (const name of new Set<ChannelName>([...VIEW_CHANNELS, ...shifted])) {
    const old = keysOf(path, name).find((k) => same(k.time, time));
    next[name] = withKey(keysOf(path, name), { time, value: view[name], ease: ease ?? old?.ease ?? 'smooth' });
  }
  return next;
}

/**
 * Changes dials at a time: sets a keyframe there. The first one makes the view stand still through the whole take, and
 * keeps it for whoever goes on in time and aims again.
 */
export const turnDials = (path: Path, time: number, change: Partial<View>): Path => setMoment(path, time, change);

/** The pan nearest to that of the keyframe before a time, or after it: where a new keyframe's angle may be counted anew. */
export function panNear(path: Path, time: number, pan: number): number {
  const keys = keysOf(path, 'pan');
  const neighbour = keys.findLast((k) => k.time < time - 1e-6) ?? keys.find((k) => k.time > time + 1e-6);
  return neighbour ? unwrapNear(pan, neighbour.value) : pan;
}

const eachChannel = (path: Path, edit: (keys: readonly Keyframe[]) => Keyframe[]): Path => {
  const next = { ...path };
  for (const name of CHANNELS) if (keysOf(path, name).length > 0) next[name] = edit(keysOf(path, name));
  return next;
};

/** Removes the keyframe of the view at a time. The last one leaves its view behind as the fixed view. */
export function removeMoment(path: Path, time: number): Path {
  const view = viewAt(path, time);
  const next = eachChannel(path, (keys) => keys.filter((k) => !same(k.time, time)));
  if (hasKeyframes(next)) return next;
  for (const name of CHANNELS) if (view[name] !== DEFAULT_VIEW[name]) next[name] = view[name];
  return next;
}

/** Moves the keyframe of the view from one time to another; one that is there already is overwritten. */
export function moveMoment(path: Path, from: number, to: number): Path {
  if (same(from, to)) return path;
  return eachChannel(path, (keys) => {
    const key = keys.find((k) => same(k.time, from));
    return key
      ? withKey(
          keys.filter((k) => k !== key),
          { ...key, time: to },
        )
      : [...keys];
  });
}

/** Copies the keyframe of the view at one time to another. */
export function duplicateMoment(path: Path, from: number, to: number): Path {
  return eachChannel(path, (keys) => {
    const key = keys.find((k) => same(k.time, from));
    return key ? withKey(keys, { ...key, time: to }) : [...keys];
  });
}

/** Sets what leaves the keyframe of the view at a time, for all of its channels. */
export function setEase(path: Path, time: number, ease: Ease): Path {
  return eachChannel(path, (keys) => keys.map((k) => (same(k.time, time) ? { ...k, ease } : k)));
}

/** Makes the view stand still from a time until another: one keyframe that holds, and one that lets go with the ease there was. */
export function holdUntil(path: Path, time: number, until: number): Path {
  const view = viewAt(path, time);
  const leaving = momentsOf(path).findLast((m) => m.time <= time + 1e-6)?.ease ?? 'smooth';
  const between = momentsOf(path).filter((m) => m.time > time + 1e-6 && m.time < until - 1e-6);
  const cleared = between.reduce((p, m) => removeMoment(p, m.time), path);
  const held = setMoment(cleared, time, view, 'hold');
  return setMoment(held, until, view, leaving === 'hold' ? 'smooth' : leaving);
}
