/** Even speed: the same way over the sphere, gone at a constant number of degrees a second. */
import { quaternionOf, rotationOf, turnBetween } from '../geometry/rotation.js';
import { indexAt, type Keyframe } from '../curve/channel.js';
import type { Ease } from '../curve/ease.js';
import { CHANNELS, keysOf, viewAt, type ChannelName, type Path } from './path.js';

/** Steps in which the way is measured, a second, and at least. */
const FINE = 120;
const LEAST = 200;
/** A time between two steps is found by so many halvings. */
const HALVINGS = 16;
/** How uneven the speed may be, as a share. */
const UNEVEN = 0.004;
/** Keyframes of the way are halved this often at most. */
const DEEPEST = 6;

/** The way from one time to another: how far the view has turned at each of evenly spaced times, in degrees. */
function wayOf(path: Path, from: number, to: number) {
  const steps = Math.max(LEAST, Math.ceil((to - from) * FINE));
  const timeOf = (i: number) => from + ((to - from) * i) / steps;
  const at = (t: number) => quaternionOf(rotationOf(viewAt(path, t)));
  const gone = new Float64Array(steps + 1);
  let before = at(from);
  for (let i = 1; i <= steps; i++) {
    const now = at(timeOf(i));
    gone[i] = gone[i - 1]! + turnBetween(before, now);
    before = now;
  }
  const places = Array.from(gone, (g) => ({ time: g }));
  return {
    length: gone[steps]!,
    /** The time at which so many degrees are gone; rests are passed over. */
    timeAfter(degrees: number) {
      const i = Math.max(0, Math.min(steps - 1, indexAt(places, degrees)));
      const start = at(timeOf(i));
      let [low, high] = [timeOf(i), timeOf(i + 1)];
      for (let n = 0; n < HALVINGS; n++) {
        const middle = (low + high) / 2;
        if (gone[i]! + turnBetween(start, at(middle)) < degrees) low = middle;
        else high = middle;
      }
      return (low + high) / 2;
    },
    goneAt(time: number) {
      const i = Math.floor(((time - from) / (to - from)) * steps);
      return gone[i]! + turnBetween(at(timeOf(i)), at(time));
    },
  };
}

/**
 * The path with the view turning evenly from one time to another, °/s constant along the way. Its keyframes between are met in
 * the same order at other moments; where their curves alone would not be even, more lie between them. Without any turning, and
 * outside, nothing changes.
 */
export function evenSpeed(path: Path, from: number, to: number): Path {
  const way = wayOf(path, from, to);
  if (!(to > from) || way.length < 1e-6) return path;
  const channels = CHANNELS.filter((name) => keysOf(path, name).length > 0);
  const inner = new Set(channels.flatMap((n) => keysOf(path, n).map((k) => k.time)).filter((t) => t > from && t < to));
  const moved = [...inner].map((t) => from + ((to - from) * way.goneAt(t)) / way.length);
  /** The values that the new path has at a time. */
  const source = (t: number) => way.timeAfter((way.length * (t - from)) / (to - from));
  const valueAt = (name: ChannelName, t: number) => viewAt(path, source(t))[name];
  let times = [from, ...moved.sort((a, b) => a - b), to].filter((t, i, all) => i === 0 || t - all[i - 1]! > 1e-4);
  for (let depth = 0; ; depth++) {
    const next = laid(path, channels, times, valueAt);
    const uneven = times
      .slice(1)
      .flatMap((t, i) => (unevenIn(next, times[i]!, t, way.length / (to - from)) ? [(times[i]! + t) / 2] : []));
    if (!uneven.length || depth === DEEPEST) return next;
    times = [...times, ...uneven].sort((a, b) => a - b);
  }
}

/** Keyframes at times, with curves between them that leave and arrive as the values do. */
function laid(
  path: Path,
  channels: readonly ChannelName[],
  times: readonly number[],
  valueAt: (name: ChannelName, t: number) => number,
): Path {
  const [from, to] = [times[0]!, times.at(-1)!];
  const next = { ...path };
  for (const name of channels) {
    const stay = keysOf(path, name).filter((k) => k.time < from - 1e-6 || k.time > to + 1e-6);
    const last = keysOf(path, name).find((k) => Math.abs(k.time - to) < 1e-6);
    const keys = times.map((time, i): Keyframe => {
      const until = times[i + 1];
      const value = valueAt(name, time);
      if (until === undefined) return { ...last, time, value };
      const turn = name === 'pan' ? { turn: 'dials' as const } : {};
      return { time, value, ease: easeBetween((t) => valueAt(name, t), time, until), ...turn };
    });
    next[name] = [...stay, ...keys].sort((a, b) => a.time - b.time);
  }
  return next;
}

/** The ease of a segment with the slopes that a function has just inside it. */
function easeBetween(value: (t: number) => number, from: number, to: number): Ease {
  const [a, b] = [value(from), value(to)];
  if (Math.abs(b - a) < 1e-9) return 'linear';
  const d = (to - from) / 50;
  const begins = (-3 * a + 4 * value(from + d) - value(from + 2 * d)) / (2 * d);
  const ends = (3 * b - 4 * value(to - d) + value(to - 2 * d)) / (2 * d);
  const h = to - from;
  return [1 / 3, (begins * h) / (b - a) / 3, 2 / 3, 1 - (ends * h) / (b - a) / 3];
}

/** Whether the speed in a stretch leaves what it should be. */
function unevenIn(path: Path, from: number, to: number, speed: number): boolean {
  const d = Math.min(1e-3, (to - from) / 20);
  const at = (t: number) => quaternionOf(rotationOf(viewAt(path, t)));
  for (let i = 0; i <= 8; i++) {
    const t = from + d + ((to - from - 2 * d) * i) / 8;
    const here = turnBetween(at(t - d), at(t + d)) / (2 * d);
    if (Math.abs(here - speed) > UNEVEN * speed) return true;
  }
  return false;
}

/** The times from the first to the last keyframe of a channel, or of all; null with fewer than two. */
export function spanOfKeys(
  path: Path,
  channels: readonly ChannelName[] = CHANNELS,
): { from: number; to: number } | null {
  const times = channels.flatMap((name) => keysOf(path, name).map((k) => k.time));
  const [from, to] = [Math.min(...times), Math.max(...times)];
  return times.length && to > from ? { from, to } : null;
}

/** Even speed of one channel alone: straight from each keyframe to the next, at times in proportion to the way. */
export function evenChannel(path: Path, channel: ChannelName): Path {
  const keys = keysOf(path, channel);
  const whole = keys.slice(1).reduce((sum, k, i) => sum + Math.abs(k.value - keys[i]!.value), 0);
  const [first, last] = [keys[0], keys.at(-1)];
  if (!first || !last || whole === 0) return path;
  let gone = 0;
  const even = keys.map((key, i): Keyframe => {
    if (i > 0) gone += Math.abs(key.value - keys[i - 1]!.value);
    return { ...key, time: first.time + ((last.time - first.time) * gone) / whole, ease: 'linear' };
  });
  // Equal neighbours would meet at one moment: of these the first stays.
  const apart = even.filter((k, i) => i === 0 || k.time - even[i - 1]!.time > 1e-6);
  return { ...path, [channel]: apart };
}
