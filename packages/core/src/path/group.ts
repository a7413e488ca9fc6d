/**
 * Editing many keyframes at once: moved, stretched, mirrored, reversed, offset. Every function returns a new path. Values are in
 * each channel's own units, times in seconds of the footage.
 */
import { CURVE_LIMITS } from './limits.js';
import { easeOf } from '../curve/channel.js';
import { bezierOf, type Ease } from '../curve/ease.js';
import { changeKeys, isSelected, selectedTimes, type Selection } from './keys.js';
import { keysOf, type CurveName, type Curves } from './path.js';

/** A change of values by channel. */
export type Offsets = Partial<Record<CurveName, number>>;

const within = (channel: CurveName, value: number) => {
  const [least, most] = CURVE_LIMITS[channel];
  return Math.max(least, Math.min(most, value));
};

/** By how many seconds selected keyframes can be moved when `by` is wanted: none goes before the footage's start or past `end`. */
export function movableBy(path: Curves, selection: Selection, by: number, end = Infinity): number {
  const times = selectedTimes(path, selection);
  return times.length ? Math.max(-times[0]!, Math.min(end - times.at(-1)!, by)) : 0;
}

/** Adds to times and values of selected keyframes; none goes before the footage's start, and those they land on are overwritten. */
export function shiftKeys(path: Curves, selection: Selection, by: number, values: Offsets = {}): Curves {
  const late = movableBy(path, selection, by);
  return changeKeys(path, selection, (key, channel) => ({
    ...key,
    time: key.time + late,
    value: within(channel, key.value + (values[channel] ?? 0)),
  }));
}

/** Stretches the times of selected keyframes about a moment, onto frames of a rate. */
export function scaleKeys(path: Curves, selection: Selection, about: number, factor: number, rate: number): Curves {
  const onto = (time: number) => Math.max(0, Math.round((about + (time - about) * factor) * rate) / rate);
  return changeKeys(path, selection, (key) => ({ ...key, time: onto(key.time) }));
}

/** Channels whose sign is a side: what goes left goes right. */
const SIDES: readonly CurveName[] = ['pan', 'roll', 'shiftX'];

/** Goes the other way: left for right, about the pan of the first selected keyframe. Mirrored twice it is as before. */
export function mirrorKeys(path: Curves, selection: Selection): Curves {
  const start = keysOf(path, 'pan').find((key) => isSelected(selection, 'pan', key))?.value ?? 0;
  return changeKeys(path, selection, (key, channel) =>
    SIDES.includes(channel) ? { ...key, value: (channel === 'pan' ? 2 * start : 0) - key.value } : key,
  );
}

const REVERSED: Partial<Record<string, Ease>> = {
  smooth: 'smooth',
  linear: 'linear',
  hold: 'hold',
  'ease-in': 'ease-out',
  'ease-out': 'ease-in',
  'ease-in-out': 'ease-in-out',
  whip: 'whip',
};

/** What an ease is when time runs backwards. A hold stays one: there is no ease that jumps first. */
function reversedEase(ease: Ease): Ease {
  const named = typeof ease === 'string' ? REVERSED[ease] : undefined;
  if (named) return named;
  const [x1, y1, x2, y2] = bezierOf(ease as Exclude<Ease, 'smooth' | 'hold'>);
  return [1 - x2, 1 - y2, 1 - x1, 1 - y1];
}

/** Runs selected keyframes backwards within their own time: the last comes first. */
export function reverseKeys(path: Curves, selection: Selection): Curves {
  const times = selectedTimes(path, selection);
  const sum = (times[0] ?? 0) + (times.at(-1) ?? 0);
  return changeKeys(path, selection, (key, channel) => {
    const chosen = keysOf(path, channel).filter((k) => isSelected(selection, channel, k));
    const before = chosen[chosen.indexOf(key) - 1];
    const last = chosen.at(-1)!;
    // What led to a keyframe now leaves it.
    const ease = before ? reversedEase(easeOf(before)) : easeOf(last);
    return { ...key, time: sum - key.time, ease };
  });
}

/** Of each selected channel the first and the last keyframe. */
function ends(path: Curves, selection: Selection, channel: CurveName) {
  const chosen = keysOf(path, channel).filter((k) => isSelected(selection, channel, k));
  return { first: chosen[0], lastLeaving: chosen.at(-2), count: chosen.length };
}

/** Starts slowly at the first selected keyframe of each channel and comes to rest slowly at the last. */
export const easeEnds = (path: Curves, selection: Selection): Curves =>
  changeKeys(path, selection, (key, channel) => {
    const { first, lastLeaving, count } = ends(path, selection, channel);
    if (count < 2 || (key !== first && key !== lastLeaving)) return key;
    return { ...key, ease: count === 2 ? 'ease-in-out' : key === first ? 'ease-in' : 'ease-out' };
  });
