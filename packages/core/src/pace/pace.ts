/**
 * Pace: how fast the footage goes by along a take. Its keyframes lie on moments of the footage and say a speed there, 1 being
 * as it is read; between two of them the speed goes from one to the other along an ease over the clip's time. A keyframe may hold
 * its frame for a while. From it comes a monotone map between seconds of the clip and seconds of the footage: the speed's
 * integral, computed exactly for each segment.
 */
import { bezierOf, easeAt, easeIntegral, type Bezier, type Ease } from '../curve/ease.js';
import { indexAt } from '../curve/channel.js';

export interface PaceKey {
  /** Seconds of the footage. */
  time: number;
  /** 0.1 to 16; 1 is as the footage is read. */
  speed: number;
  /** How the speed goes to the next keyframe's; smooth when absent. */
  ease?: Ease;
  /** Seconds of the clip for which this frame stands still. */
  held?: number;
}

export interface Pace {
  keys: PaceKey[];
  /** What is shown between two frames of the footage: the nearest, or a mix of both. */
  blend?: 'nearest' | 'mean';
  /** Whether its sound follows with its pitch kept, or is left out. */
  sound?: 'follow' | 'off';
  /** Sound is quiet where the speed is below or above these. */
  quietBelow?: number;
  quietAbove?: number;
}

/** One speed from a time in seconds of the footage on. */
export const evenPace = (from: number, speed: number): Pace => ({ keys: [{ time: from, speed, ease: 'linear' }] });

export const PACE_LIMITS = { slowest: 0.1, fastest: 16, longestHeld: 60 } as const;

export interface PaceMap {
  /** Seconds of the clip that a range takes. */
  readonly length: number;
  /** Seconds of the footage at seconds of the clip, counted from the range's in point. */
  footage(clip: number): number;
  /** Seconds of the clip at seconds of the footage; at a held frame those at which it begins to stand. */
  clip(footage: number): number;
  /** Seconds of the footage that go by in a second of the clip, at seconds of the footage. */
  speedAt(footage: number): number;
}

/** A stretch between two keyframes: seconds of the clip and of the footage at its beginning, and how long it takes. */
interface Segment {
  time: number;
  at: number;
  span: number;
  length: number;
  from: number;
  to: number;
  ease: Exclude<Ease, 'smooth'>;
}

const SMOOTH: Bezier = [1 / 3, 0, 2 / 3, 1];
const plain = (ease: Ease | undefined): Exclude<Ease, 'smooth'> =>
  ease === undefined || ease === 'smooth' ? SMOOTH : ease;

/** Share of a segment's way that is gone after a share u of its time. */
const gone = ({ from, to, ease }: Segment, u: number) =>
  (from * u + (to - from) * easeIntegral(ease, u)) / (from + (to - from) * easeIntegral(ease, 1));

/** The segments of a pace, `unit` seconds of the footage being a second as it is read. Its first begins at 0 of the clip. */
function segmentsOf(keys: readonly PaceKey[], unit: number): { segments: Segment[]; ends: number } {
  const segments: Segment[] = [];
  let at = keys[0]?.held ?? 0;
  keys.slice(0, -1).forEach((key, i) => {
    const next = keys[i + 1]!;
    const ease = plain(key.ease);
    const mean = key.speed + (next.speed - key.speed) * easeIntegral(ease, 1);
    const span = next.time - key.time;
    const length = span / unit / mean;
    segments.push({ time: key.time, at, span, length, from: key.speed, to: next.speed, ease });
    at += length + (next.held ?? 0);
  });
  return { segments, ends: at };
}

/**
 * The map of a range in seconds of the footage. `unit`: seconds of the footage that are a second as it is read, 1 where it is
 * read as filmed.
 */
export function paceMap(pace: Pace | undefined, range: { in: number; out: number }, unit = 1): PaceMap {
  const keys = pace?.keys ?? [];
  const [first, last] = [keys[0], keys.at(-1)];
  if (!first || !last) {
    return {
      length: (range.out - range.in) / unit,
      footage: (clip) => range.in + clip * unit,
      clip: (footage) => (footage - range.in) / unit,
      speedAt: () => unit,
    };
  }
  const { segments, ends } = segmentsOf(keys, unit);
  const starts = segments.map((s) => ({ time: s.at }));
  /** Seconds since the first keyframe is met, before its hold. */
  const clipOf = (footage: number): number => {
    if (footage <= first.time) return (footage - first.time) / unit / first.speed;
    if (footage > last.time) return ends + (footage - last.time) / unit / last.speed;
    const i = indexAt(segments, footage);
    const s = segments[Math.max(0, Math.min(segments.length - 1, i))]!;
    // At a keyframe it is the end of what leads there.
    const before = i > 0 && footage === s.time ? segments[i - 1]! : s;
    return before.at + before.length * shareAt(before, (footage - before.time) / before.span);
  };
  const footageOf = (clip: number): number => {
    if (clip <= 0) return first.time + clip * unit * first.speed;
    if (clip >= ends) return last.time + (clip - ends) * unit * last.speed;
    const s = segments[indexAt(starts, clip)];
    if (!s) return first.time;
    const u = Math.min(1, (clip - s.at) / s.length);
    return s.time + s.span * gone(s, u);
  };
  const speedAt = (footage: number): number => {
    if (footage <= first.time) return first.speed * unit;
    const s = segments[indexAt(segments, footage)];
    if (!s || footage >= last.time) return last.speed * unit;
    const u = shareAt(s, (footage - s.time) / s.span);
    return (s.from + (s.to - s.from) * easeAt(s.ease, u)) * unit;
  };
  const begins = clipOf(range.in);
  return {
    length: clipOf(range.out) - begins,
    footage: (clip) => footageOf(clip + begins),
    clip: (footage) => clipOf(footage) - begins,
    speedAt,
  };
}

/** The share of a segment's time at which a share of its way is gone: Newton's steps within a bracket. */
function shareAt(s: Segment, way: number): number {
  if (way <= 0) return 0;
  if (way >= 1) return 1;
  const whole = s.from + (s.to - s.from) * easeIntegral(s.ease, 1);
  let [low, high, u] = [0, 1, way];
  for (let n = 0; n < 60; n++) {
    const off = gone(s, u) - way;
    if (Math.abs(off) < 1e-14) break;
    if (off > 0) high = u;
    else low = u;
    const next = u - (off * whole) / (s.from + (s.to - s.from) * easeAt(s.ease, u));
    u = next > low && next < high ? next : (low + high) / 2;
  }
  return u;
}

/** Whether an ease lets a speed go below what is allowed between two speeds that are not: a Bézier may overshoot. */
export const keepsSpeed = (ease: Ease | undefined, from: number, to: number): boolean => {
  const e = plain(ease);
  if (typeof e === 'string') return true;
  const [, y1, , y2] = bezierOf(e);
  const low = Math.min(0, y1, y2);
  const high = Math.max(1, y1, y2);
  return [low, high].every((y) => from + (to - from) * y > 0.01);
};

/** A pace with a keyframe at a time; one that is there already is replaced. */
export function withPaceKey(pace: Pace | undefined, key: PaceKey): Pace {
  const others = (pace?.keys ?? []).filter((k) => Math.abs(k.time - key.time) > 1e-6);
  return { ...pace, keys: [...others, key].sort((a, b) => a.time - b.time) };
}

/** A pace that goes down to a third round a time and back, from half a second before to a second after, within 0 … `end` s. */
export function withSlowMoment(
  pace: Pace | undefined,
  time: number,
  { rate, end }: { rate: number; end: number },
): Pace {
  const around = pace?.keys.length ? paceMap(pace, { in: 0, out: end }).speedAt(time) : 1;
  const slow = Math.max(PACE_LIMITS.slowest, around / 3);
  const at = (t: number) => Math.max(0, Math.min(end, Math.round(t * rate) / rate));
  const keys = [
    [-0.5, around],
    [0, slow],
    [0.5, slow],
    [1, around],
  ] as const;
  return keys.reduce<Pace>(
    (p, [after, speed]) => withPaceKey(p, { time: at(time + after), speed }),
    pace ?? { keys: [] },
  );
}

/** A pace without the keyframe at a time; undefined when it was the last one. */
export function withoutPaceKey(pace: Pace | undefined, time: number): Pace | undefined {
  const keys = (pace?.keys ?? []).filter((k) => Math.abs(k.time - time) > 1e-6);
  return keys.length ? { ...pace, keys } : undefined;
}

/** Clip seconds from the in point at which frames are held, and for how long. */
export const heldIn = (pace: Pace | undefined, range: { in: number; out: number }): PaceKey[] =>
  (pace?.keys ?? []).filter((k) => (k.held ?? 0) > 0 && k.time >= range.in && k.time < range.out);
