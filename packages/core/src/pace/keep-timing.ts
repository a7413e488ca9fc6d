/** The path's keyframes at the moments of the clip at which they were, when the pace becomes another. */
import type { Keyframe } from '../curve/channel.js';
import { CHANNELS, keysOf, type Path } from '../path/path.js';
import type { PaceMap } from './pace.js';

/** Keyframes are moved onto frames of the footage; of those that meet on one the later stays, and none goes past `end` seconds. */
export function keepTiming(
  path: Path,
  before: PaceMap,
  now: PaceMap,
  { rate, end }: { rate: number; end: number },
): Path {
  const at = (time: number) => Math.round(Math.max(0, Math.min(end, now.footage(before.clip(time)))) * rate) / rate;
  const next = { ...path };
  for (const name of CHANNELS) {
    const keys = keysOf(path, name);
    if (!keys.length) continue;
    const byTime = new Map<number, Keyframe>(keys.map((k) => [at(k.time), { ...k, time: at(k.time) }]));
    next[name] = [...byTime.values()].sort((a, b) => a.time - b.time);
  }
  return next;
}
