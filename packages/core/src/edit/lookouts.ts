/** Changing Lookouts and the cuts between them. */
import { USUAL_RULE } from '../follow/rule.js';
import { hasKeyframes, setViewKey } from '../path/edit.js';
import { emptyPath, viewAt, type Path } from '../path/path.js';
import { sameTime } from '../path/keys.js';
import type { Take } from '../take/take.js';
import {
  cutAt,
  MOST_LOOKOUTS,
  SHOWN,
  withoutSubjects,
  type Cut,
  type Layout,
  type Lookout,
  type Lookouts,
  type Showing,
} from '../lookouts/lookouts.js';

const AROUND = [
  ['Front', 0],
  ['Right', 90],
  ['Back', 180],
  ['Left', -90],
] as const;

const looking = (name: string, pan: number): Lookout => ({ name, path: { ...emptyPath(), pan } });

/** Four Lookouts all round, as wide as a usual view. */
export const lookoutsAllRound = (): Lookouts => ({ views: AROUND.map(([name, pan]) => looking(name, pan)), cuts: [] });

/** A take with other Lookouts; without any there is no member either. */
export function withLookouts({ lookouts: _, ...take }: Take, lookouts: Lookouts | undefined): Take {
  return lookouts?.views.length ? { ...take, lookouts } : take;
}

const change = (take: Take, by: (lookouts: Lookouts) => Lookouts): Take =>
  take.lookouts ? withLookouts(take, by(take.lookouts)) : take;

/** A take with one more Lookout, of a path; as it was where there are as many as there can be. */
export function addLookout(take: Take, name: string, path: Path): Take {
  const { views = [], cuts = [], ...rest } = take.lookouts ?? {};
  if (views.length >= MOST_LOOKOUTS) return take;
  return withLookouts(take, { ...rest, cuts, views: [...views, { name, path }] });
}

export const changeLookout = (take: Take, n: number, by: (lookout: Lookout) => Lookout): Take =>
  change(take, (l) => ({ ...l, views: l.views.map((v, i) => (i === n ? by(v) : v)) }));

/** A Lookout that keeps a subject in frame, by the rule that it has or one that suits most; for none it stands. */
export function following({ follow, ...lookout }: Lookout, subject: string | null): Lookout {
  if (!subject) return lookout;
  const { blend: _, ...rule } = { ...USUAL_RULE, ...follow };
  return { ...lookout, follow: { ...rule, subject } };
}

/** A Lookout with a path of its own, begun by a keyframe at a time; one that has it stands as it does then. */
export const keyedOrStill = (lookout: Lookout, time: number): Lookout => ({
  ...lookout,
  path: hasKeyframes(lookout.path) ? { ...emptyPath(), ...viewAt(lookout.path, time) } : setViewKey(lookout.path, time),
});

/** What a layout shows at first: so many Lookouts of all that there are, from one on. */
export const showingOf = (layout: Layout, first: number, count: number): Showing => ({
  layout,
  views: Array.from({ length: SHOWN[layout] }, (_, k) => (first + k) % count),
});

/** Cuts without those that change nothing, since the same is on air already. */
function tidied(cuts: readonly Cut[]): Cut[] {
  const kept: Cut[] = [];
  for (const cut of cuts) {
    const before = kept.at(-1)?.shows ?? null;
    if (JSON.stringify(before) !== JSON.stringify(cut.shows)) kept.push(cut);
  }
  return kept;
}

/** A take without its n-th Lookout; where that was on air, the path is. */
export const removeLookout = (take: Take, n: number): Take =>
  change(take, ({ views, cuts, ...rest }) => ({
    ...rest,
    views: views.filter((_, i) => i !== n),
    cuts: tidied(
      cuts.map((c) => {
        if (!c.shows) return c;
        if (c.shows.views.includes(n)) return { ...c, shows: null };
        return { ...c, shows: { ...c.shows, views: c.shows.views.map((v) => (v > n ? v - 1 : v)) } };
      }),
    ),
  }));

/**
 * Cuts with something else on air from one time to another; what was on air there later goes on after it. Joins of what is cut over go
 * with it, the one at the end is a plain cut.
 */
export function cutOver(cuts: readonly Cut[], from: number, to: number, shows: Showing | null): Cut[] {
  const after = cuts[cutAt({ cuts }, to)]?.shows ?? null;
  const ends = cuts.some((c) => sameTime(c.time, to));
  return tidied([
    ...cuts.filter((c) => c.time < from && !sameTime(c.time, from)),
    { time: from, shows },
    ...(to === Infinity || ends ? [] : [{ time: to, shows: after }]),
    ...cuts.filter((c) => c.time > to || sameTime(c.time, to)),
  ]);
}

/** Cuts with something on air from a time to the next cut, or from the cut at that time on. */
export function cutHere(cuts: readonly Cut[], time: number, shows: Showing | null): Cut[] {
  const next = cuts.find((c) => c.time > time && !sameTime(c.time, time));
  return cutOver(cuts, time, next?.time ?? Infinity, shows);
}

/** Cuts with the i-th rolled to another time, between its neighbours and at least a frame (seconds) from both. */
export function rollCut(cuts: readonly Cut[], i: number, time: number, frame: number): Cut[] {
  const least = i > 0 ? cuts[i - 1]!.time + frame : 0;
  const most = i + 1 < cuts.length ? cuts[i + 1]!.time - frame : Infinity;
  return cuts.map((c, k) => (k === i ? { ...c, time: Math.max(least, Math.min(most, time)) } : c));
}

/** Cuts with a whole piece moved by some seconds, as far as its neighbours let it; both its ends go along. */
export function slidePiece(cuts: readonly Cut[], i: number, by: number, frame: number): Cut[] {
  const [own, next] = [cuts[i]!, cuts[i + 1]];
  if (!next) return rollCut(cuts, i, own.time + by, frame);
  const least = (i > 0 ? cuts[i - 1]!.time + frame : 0) - own.time;
  const most = (cuts[i + 2] ? cuts[i + 2]!.time - frame : Infinity) - next.time;
  const moved = Math.max(Math.min(least, 0), Math.min(Math.max(most, 0), by));
  return cuts.map((c, k) => (k === i || k === i + 1 ? { ...c, time: c.time + moved } : c));
}

/** Cuts without the i-th: what was on air before it goes on. */
export const removeCut = (cuts: readonly Cut[], i: number): Cut[] => tidied(cuts.filter((_, k) => k !== i));

/** Cuts whose i-th shows something else, or joins otherwise. */
export const changeCut = (cuts: readonly Cut[], i: number, part: Partial<Cut>): Cut[] =>
  cuts.map((c, k) => (k === i ? { ...c, ...part } : c));

/** A take with other cuts between its Lookouts. */
export const withCuts = (take: Take, by: (cuts: readonly Cut[]) => Cut[]): Take =>
  change(take, (l) => ({ ...l, cuts: by(l.cuts) }));

/**
 * A take with the views of a set of Lookouts; they are aimed in the world, so its own level and heading count. Its cuts stay as far as
 * they show views that there are.
 */
export function layLookouts(take: Take, set: Pick<Lookouts, 'views' | 'line'> | undefined, sameFootage: boolean): Take {
  if (!set) return withLookouts(take, undefined);
  const views = sameFootage ? set.views : withoutSubjects(set.views);
  const cuts = (take.lookouts?.cuts ?? []).filter((c) => !c.shows || c.shows.views.every((v) => v < views.length));
  return withLookouts(take, { views, cuts: tidied(cuts), ...(set.line ? { line: set.line } : {}) });
}
