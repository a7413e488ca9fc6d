/**
 * The identity of keyframes, and selections of them. A keyframe is named by its channel and time; a selection is a set of
 * such names, which outlives copies of the path. Times within a microsecond are the same.
 */
import type { Keyframe } from '../curve/channel.js';
import { CHANNELS, CURVES, keysOf, type CurveName, type Curves } from './path.js';

export interface KeyRef {
  channel: CurveName;
  /** Seconds of the footage. */
  time: number;
}

/** A keyframe's name in a selection. */
type KeyId = `${CurveName}@${number}`;
export type Selection = ReadonlySet<KeyId>;

export const NOTHING: Selection = new Set();

const micro = (time: number) => Math.round(time * 1e6);

/** Whether two times in seconds name the same moment. */
export const sameTime = (a: number, b: number) => Math.abs(a - b) < 1e-6;

export const keyId = ({ channel, time }: KeyRef): KeyId => `${channel}@${micro(time)}`;

/** All keyframes of the view at a time, as a selection. */
export const viewKeySelection = (path: Curves, time: number): Selection =>
  new Set(
    CHANNELS.filter((channel) => keysOf(path, channel).some((k) => sameTime(k.time, time))).map((channel) =>
      keyId({ channel, time }),
    ),
  );

export const isSelected = (selection: Selection, channel: CurveName, key: Pick<Keyframe, 'time'>): boolean =>
  selection.has(keyId({ channel, time: key.time }));

/** How what is pointed at joins what is selected: alone, added, or in and out by turns. */
export type Picking = 'only' | 'more' | 'toggle';

/** A selection with other keyframes picked. */
export function picked(selection: Selection, ids: readonly KeyId[], how: Picking): Selection {
  if (how === 'only') return new Set(ids);
  const gone = how === 'toggle' && ids.every((id) => selection.has(id));
  return new Set(gone ? [...selection].filter((id) => !ids.includes(id)) : [...selection, ...ids]);
}

/** All keyframes of a path, or of some channels, as a selection. */
export const allKeys = (path: Curves, channels: readonly CurveName[] = CHANNELS): Selection =>
  new Set(channels.flatMap((channel) => keysOf(path, channel).map(({ time }) => keyId({ channel, time }))));

/** A selection's keyframes where they are after their times have grown by some seconds. */
export const laterBy = (path: Curves, selection: Selection, by: number): Selection =>
  new Set(selectedKeys(path, selection).map(({ channel, time }) => keyId({ channel, time: time + by })));

/** The selected keyframes that a path has, by channel and in order of time. */
export const selectedKeys = (path: Curves, selection: Selection): KeyRef[] =>
  selection.size === 0
    ? []
    : CURVES.flatMap((channel) =>
        keysOf(path, channel)
          .filter((key) => isSelected(selection, channel, key))
          .map(({ time }) => ({ channel, time })),
      );

/** Times of the selected keyframes that a path has, each once, in order. */
export const selectedTimes = (path: Curves, selection: Selection): number[] =>
  [...new Map(selectedKeys(path, selection).map(({ time }) => [micro(time), time])).values()].sort((a, b) => a - b);

/** The path with every selected keyframe changed; those that the change gives up (null) are removed. */
export function changeKeys(
  path: Curves,
  selection: Selection,
  change: (key: Keyframe, channel: CurveName) => Keyframe | null,
): Curves {
  const next = { ...path };
  for (const channel of CURVES) {
    const keys = keysOf(path, channel);
    if (!keys.some((key) => isSelected(selection, channel, key))) continue;
    const kept = keys.filter((key) => !isSelected(selection, channel, key));
    const changed = keys.flatMap((key) => (isSelected(selection, channel, key) ? (change(key, channel) ?? []) : []));
    // What is moved onto another keyframe takes its place.
    const byTime = new Map([...kept, ...changed].map((key) => [micro(key.time), key]));
    next[channel] = [...byTime.values()].sort((a, b) => a.time - b.time);
  }
  return next;
}

/** The keyframes that a keyframe of the view is made of. */
export const refsOf = (key: { time: number; channels: readonly CurveName[] }): KeyRef[] =>
  key.channels.map((channel) => ({ channel, time: key.time }));
