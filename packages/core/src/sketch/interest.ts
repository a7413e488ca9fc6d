/** What is worth seeing where and when: what moves, brought into the world, subjects, and marks. */
import { angleBetween, apply, DEGREES, wrapHeading, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { isSubject, lookOfStreak } from '../follow/streak-looks.js';
import { foundIn } from '../moving/found.js';
import { lookDirection, stageOf, type Moving, type MovingStreak } from '../moving/moving.js';
import { foundOf, isSeen, sizeOf, type SubjectTrack } from '../follow/subject.js';
import { frameOf } from '../time/frames.js';

/** Activity of a footage: rows from its beginning to its end, each of so many headings of the picture from −180° on, 0 to 255. */
export interface Activity {
  rows: readonly Uint8Array[];
  /** Seconds of the footage that all rows stand for. */
  duration: number;
}

/** A subject that counts: what it is called, where it is, and whether it must be seen or must not count. */
export interface Wanted {
  name: string;
  track: SubjectTrack;
  want: 'some' | 'must' | 'never';
}

/** Headings of the world that are told apart. */
export const HEADINGS = 36;

export interface Moment {
  /** Seconds of the footage. */
  time: number;
  /** Activity by heading of the world, about 0 to 1. */
  activity: Float32Array;
  /** Subjects that are seen: index into the list, heading and tilt in degrees, degrees across. */
  subjects: { of: number; pan: number; tilt: number; size: number }[];
  /** Streaks that are seen: index into the list of things, heading and tilt in degrees, degrees across, and what it is worth to see them. */
  things: { of: number; pan: number; tilt: number; size: number; worth: number }[];
  /** The nearest mark, if one is near: its place in the list. */
  mark: number | null;
}

/** Something that moves: its streak, and what it is worth to see it, 0 to 1. */
interface Thing {
  streak: MovingStreak;
  worth: number;
}

/** The streaks of a footage that count in a Sketch: found for sure, and no subject of somebody's. */
export function thingsIn(moving: Moving | null, subjects: readonly Wanted[]): Thing[] {
  if (!moving) return [];
  return foundIn(moving).flatMap(({ streak: n, size }) => {
    const streak = moving.streaks[n]!;
    if (subjects.some(({ track }) => isSubject(streak, track))) return [];
    return [{ streak, worth: worthOf(streak, size, moving.rate) }];
  });
}

interface Looking {
  from: number;
  to: number;
  /** Seconds from one moment to the next. */
  step: number;
  toWorld: { at(time: number): Matrix3 };
  /** Counts where it is not known what moves. */
  activity: Activity;
  moving: Moving | null;
  things: readonly Thing[];
  subjects: readonly Wanted[];
  /** Seconds. */
  marks: readonly number[];
}

/** Whether it is known what moves at a time. */
const isKnown = (moving: Moving, time: number): boolean =>
  moving.still[stageOf(moving, frameOf(time, moving.rate))] ?? false;

/** Below this something was seen in passing only; degrees from which it is large, and degrees a second from which it is quick. */
const DOUBTED = 0.4;
const LARGE = 20;
const QUICK = 8;

/** What something is worth, 0 to 1: the surer it is, the larger, and the quicker it goes, the more. */
function worthOf({ sure, looks }: MovingStreak, size: number, rate: number): number {
  const seconds = Math.max(1, (looks.at(-1)![0] - looks[0]![0]) / rate);
  let way = 0;
  for (let i = 1; i < looks.length; i++) way += angleBetween(lookDirection(looks[i - 1]!), lookDirection(looks[i]!));
  const striking = Math.min(1, size / LARGE) * Math.min(1, way / seconds / QUICK);
  return Math.max(0, (sure - DOUBTED) / (1 - DOUBTED)) * Math.sqrt(striking);
}

/** Seconds around a mark that belong to it. */
const NEAR_MARK = 1;

/** The moments of a stretch with what is worth seeing in each. */
export function momentsOf({ from, to, step, toWorld, activity, moving, things, subjects, marks }: Looking): Moment[] {
  const count = Math.max(1, Math.round((to - from) / step));
  const moments = Array.from({ length: count }, (_, k): Moment => {
    const time = from + (k + 0.5) * step;
    const c = toWorld.at(time);
    const mark = marks.findIndex((m) => Math.abs(m - time) <= NEAR_MARK);
    return {
      time,
      activity:
        moving && isKnown(moving, time)
          ? new Float32Array(HEADINGS)
          : turned(meanRow(activity, time - step / 2, time + step / 2), c),
      things: things.flatMap(({ streak, worth }, of) => {
        const look = moving && lookOfStreak(moving, streak, frameOf(time, moving.rate));
        return look ? [{ of, ...placed(apply(c, foundOf(look).direction)), size: sizeOf(look), worth }] : [];
      }),
      subjects: subjects.flatMap(({ track, want }, of) => {
        if (want === 'never') return [];
        const seen = seenAt(track, time);
        return seen ? [{ of, ...placed(apply(c, seen.direction)), size: seen.size }] : [];
      }),
      mark: mark < 0 ? null : mark,
    };
  });
  hide(moments, subjects, toWorld);
  return levelled(moments);
}

const placed = ([x, y, z]: Vec3) => ({
  pan: Math.atan2(x, z) * DEGREES,
  tilt: Math.asin(Math.max(-1, Math.min(1, y))) * DEGREES,
});

function seenAt({ looks, rate }: SubjectTrack, time: number): { direction: Vec3; size: number } | null {
  const look = looks[frameOf(time, rate)];
  return isSeen(look) ? { direction: foundOf(look).direction, size: sizeOf(look) } : null;
}

/** The mean of the rows that a stretch of time has. */
function meanRow({ rows, duration }: Activity, from: number, to: number): Float32Array {
  const width = rows[0]?.length ?? 0;
  const at = (t: number) => Math.floor((t / duration) * rows.length);
  const first = Math.max(0, Math.min(rows.length - 1, at(from)));
  const end = Math.max(first + 1, Math.min(rows.length, at(to)));
  const mean = new Float32Array(width);
  for (let r = first; r < end; r++) for (let x = 0; x < width; x++) mean[x]! += rows[r]![x]! / (end - first);
  return mean;
}

/** Activity by heading of the picture as activity by heading of the world. */
function turned(row: Float32Array, c: Matrix3): Float32Array {
  const out = new Float32Array(HEADINGS);
  row.forEach((value, x) => {
    const heading = ((x + 0.5) / row.length - 0.5) * 2 * Math.PI;
    const [wx, , wz] = apply(c, [Math.sin(heading), 0, Math.cos(heading)]);
    const place = (Math.atan2(wx, wz) / (2 * Math.PI) + 0.5) * HEADINGS - 0.5;
    const cell = Math.floor(place);
    const f = place - cell;
    out[(cell + HEADINGS) % HEADINGS]! += (1 - f) * value;
    out[(cell + 1 + HEADINGS) % HEADINGS]! += f * value;
  });
  return out;
}

/** Takes the activity about subjects away that must not count. */
function hide(moments: readonly Moment[], subjects: readonly Wanted[], toWorld: Looking['toWorld']) {
  for (const { track, want } of subjects) {
    if (want !== 'never') continue;
    for (const { time, activity } of moments) {
      const seen = seenAt(track, time);
      if (!seen) continue;
      const { pan } = placed(apply(toWorld.at(time), seen.direction));
      const half = seen.size / 2 + 360 / HEADINGS;
      activity.forEach((_, h) => {
        if (Math.abs(wrapHeading(headingOf(h) - pan)) < half) activity[h] = 0;
      });
    }
  }
}

/** The middle of a cell of headings, degrees. */
export const headingOf = (cell: number): number => ((cell + 0.5) / HEADINGS - 0.5) * 360;

/** What is like that everywhere and always is nothing: activity above its usual, as a share of the liveliest. */
function levelled(moments: Moment[]): Moment[] {
  const all = moments.flatMap((m) => [...m.activity]).sort((a, b) => a - b);
  const usual = all[Math.floor(all.length * 0.5)] ?? 0;
  const most = (all[Math.floor(all.length * 0.985)] ?? 0) - usual;
  for (const { activity } of moments)
    for (let h = 0; h < HEADINGS; h++)
      activity[h] = most > 0 ? Math.max(0, Math.min(1.5, (activity[h]! - usual) / most)) : 0;
  return moments;
}
