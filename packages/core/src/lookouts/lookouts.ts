/** Lookouts: named views that play side by side, and the cuts between them that a take has. */
import type { Follow } from '../follow/rule.js';
import type { Path } from '../path/path.js';

/** How a Lookout keeps a subject in frame: a Follow that lasts as long as the Lookout does. */
export type LookoutFollow = Omit<Follow, 'in' | 'out' | 'blend'>;

export interface Lookout {
  name: string;
  /** A fixed view, or a path of its own. */
  path: Path;
  follow?: LookoutFollow;
}

/** How Lookouts stand in the picture: one alone, side by side, over and under, a small one over a corner, or four. */
export const LAYOUTS = ['one', 'beside', 'over', 'inset', 'four'] as const;
export type Layout = (typeof LAYOUTS)[number];

/** How many Lookouts a layout shows. */
export const SHOWN: Readonly<Record<Layout, number>> = { one: 1, beside: 2, over: 2, inset: 2, four: 4 };

/** What is on air: Lookouts by their place in the list, in a layout. */
export interface Showing {
  layout: Layout;
  views: number[];
}

/** How one comes to the next: at once, turning fast, or turning softly. */
export const JOINS = ['cut', 'whip', 'glide'] as const;
export type Join = (typeof JOINS)[number];

/** Seconds that joins take where nothing else is said. */
export const JOIN_TIMES: Readonly<Record<Join, number>> = { cut: 0, whip: 0.35, glide: 1.5 };
export const LONGEST_JOIN = 10;

/** From a time in seconds of the footage on this is on air, until the next cut; null: the take's own path. */
export interface Cut {
  time: number;
  shows: Showing | null;
  /** A cut when absent. */
  join?: Join;
  /** Seconds that the join takes. */
  over?: number;
}

/** The line between several views in one picture: its width in % of the shorter side, and its colour. */
export interface Line {
  width: number;
  colour: string;
}

export interface Lookouts {
  views: Lookout[];
  /** In order of time; before the first the take's own path is on air. */
  cuts: Cut[];
  /** None when absent. */
  line?: Line;
}

export const MOST_LOOKOUTS = 9;

/** Which cut is in force at a time; −1 before the first. */
export function cutAt({ cuts }: { cuts: readonly Cut[] }, time: number): number {
  let [low, high] = [0, cuts.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (cuts[middle]!.time <= time) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** What is on air at a time; null where it is the take's own path. */
export const onAir = (lookouts: Lookouts | undefined, time: number): Showing | null =>
  (lookouts && lookouts.cuts[cutAt(lookouts, time)]?.shows) ?? null;

/** Seconds around a cut in which its join goes on: half before, half after, and never beyond the middle of a neighbouring piece. */
export function joinSpan(cuts: readonly Cut[], i: number): { from: number; to: number } | null {
  const cut = cuts[i];
  if (!cut?.join || cut.join === 'cut') return null;
  const single = (shows: Showing | null | undefined) => !shows || shows.layout === 'one';
  if (!single(cut.shows) || !single(cuts[i - 1]?.shows)) return null;
  const half = (cut.over ?? JOIN_TIMES[cut.join]) / 2;
  const before = i > 0 ? (cut.time - cuts[i - 1]!.time) / 2 : Infinity;
  const after = i + 1 < cuts.length ? (cuts[i + 1]!.time - cut.time) / 2 : Infinity;
  return { from: cut.time - Math.min(half, before), to: cut.time + Math.min(half, after) };
}

/** Whether the picture is cut, without a join, after one time and no later than another. */
export const isCutBetween = (lookouts: Lookouts | undefined, from: number, to: number): boolean =>
  !!lookouts?.cuts.some((c, i) => c.time > from && c.time <= to && !joinSpan(lookouts.cuts, i));

/** Lookouts that suit any footage: whom they follow is known in their own only. */
export const withoutSubjects = (views: readonly Lookout[]): Lookout[] =>
  views.map(({ name, path }) => ({ name, path }));
