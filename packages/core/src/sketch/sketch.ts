/** A Sketch: a path proposed from what happens in the footage. The same footage and dials give the same Sketch. */
import type { Matrix3 } from '../geometry/rotation.js';
import type { Path } from '../path/path.js';
import { bestWay, type Moves, type Way } from './best-way.js';
import type { Moving } from '../moving/moving.js';
import { HEADINGS, momentsOf, thingsIn, type Activity, type Wanted } from './interest.js';
import { reasonsOf, type Reason } from './reasons.js';
import { freshness, MARKED, REQUIRED, rewardsOf, SUBJECT, type Fresh } from './rewards.js';
import { FOVS, stateAt, STATES, TILTS, type State } from './views.js';
import { pathOf } from './written.js';

export interface SketchDials {
  /** 0: long calm looks, 1: quick turns from one thing to the next. */
  lively: number;
  /** At most so many cuts. */
  cuts: number;
  /** Seconds that are wanted; all of the range when absent. */
  length?: number;
}

export const SKETCH_LIMITS = { cuts: { least: 0, most: 12 }, length: { least: 2, most: 3600 } } as const;
export const USUAL_SKETCH: SketchDials = { lively: 0.3, cuts: 3 };

export interface Sketch {
  /** Seconds. */
  from: number;
  to: number;
  path: Path;
  reasons: Reason[];
}

export interface SketchTask {
  from: number;
  to: number;
  /** Frames a second of the footage; width to height of the picture. */
  rate: number;
  ratio: number;
  toWorld: { at(time: number): Matrix3 };
  /** Activity by heading, which counts where it is not known what moves. */
  activity: Activity;
  /** What was found in the footage; null where it was not looked for. */
  moving: Moving | null;
  subjects: readonly Wanted[];
  marks: readonly number[];
  dials: SketchDials;
}

/** Seconds from one step to the next, and how many steps there are at most. */
const STEP = 0.5;
const MOST_STEPS = 480;

/** Cells of heading that a step may turn by, from calm to lively; and what turning costs. */
const REACH = [1, 3] as const;
const TURN = [0.9, 0.35] as const;
const ZOOM_COST = 0.6;
const TILT_COST = 0.6;

const between = ([calm, lively]: readonly [number, number], f: number) => calm + (lively - calm) * f;

/** Turning, tilting and zooming, each by itself: what they cost adds up. */
function movesOf(lively: number, step: number): Moves[][] {
  const reach = Math.max(1, Math.round((between(REACH, lively) * step) / STEP));
  const turns = Array.from({ length: reach }, (_, i) => [-1 - i, 1 + i]).flat();
  const kind = (by: readonly number[], next: (state: State, d: number) => State, cost: (d: number) => number) =>
    STATES.map((state): Moves => {
      const there = by.filter((d) => TILTS[next(state, d).tilt] && FOVS[next(state, d).fov]);
      return { to: there.map((d) => stateAt(next(state, d))), cost: there.map((d) => cost(Math.abs(d))) };
    });
  return [
    kind(
      turns,
      (s, d) => ({ ...s, heading: s.heading + d }),
      (d) => between(TURN, lively) * d ** 1.3,
    ),
    kind(
      [-1, 1],
      (s, d) => ({ ...s, tilt: s.tilt + d }),
      (d) => TILT_COST * d,
    ),
    kind(
      [-1, 1],
      (s, d) => ({ ...s, fov: s.fov + d }),
      (d) => ZOOM_COST * d,
    ),
  ];
}

const CUT_COST = [2.5, 1] as const;
/** Seconds after which what is seen is worth half, and the least that it comes to be worth. */
const WEARY = [3, 2] as const;
const LEAST = 0.1;
/** Steps of a shot at most, where there are cuts enough. */
const LONGEST = 24;
/** Seconds that a look after a cut lasts at least. */
const SHORTEST = [3, 1.5] as const;

/** Proposes a path for a stretch of a footage. */
export function sketch(task: SketchTask): Sketch {
  const { dials, subjects, ratio } = task;
  const things = thingsIn(task.moving, subjects);
  const stretch = stretchOf(task, things);
  const step = Math.max(STEP, (stretch.to - stretch.from) / MOST_STEPS);
  const moments = momentsOf({ ...task, ...stretch, step, things });
  const weary = between(WEARY, dials.lively);
  const problem = {
    moves: movesOf(dials.lively, step),
    cuts: dials.cuts,
    cutCost: between(CUT_COST, dials.lively),
    shortest: Math.max(1, Math.round(between(SHORTEST, dials.lively) / step)),
    longest: Math.max(LONGEST, Math.ceil(moments.length / (dials.cuts + 1))),
    fade: (n: number) => Math.max(LEAST, 1 / (1 + (n * step) ** 2 / weary ** 2)),
  };
  const of = { ratio, step, weary, count: subjects.length, things: things.length };
  const untouched = moments.map((): Fresh => ({
    headings: new Float32Array(HEADINGS).fill(1),
    things: things.map(() => 1),
    subjects: subjects.map(() => 1),
  }));
  let fresh = untouched;
  let best: { way: Way; score: number } | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    const way = bestWay({ ...problem, rewards: rewardsOf(moments, subjects, ratio, fresh) });
    const own = freshness(way, moments, of);
    const rewards = rewardsOf(moments, subjects, ratio, own);
    const score = way.states.reduce((sum, s, k) => sum + rewards[k]![s]!, -problem.cutCost * way.cutAt.length);
    if (!best || score > best.score + 1e-9) best = { way, score };
    fresh = fresh.map((f, k) => ({
      headings: f.headings.map((v, h) => (v + own[k]!.headings[h]!) / 2),
      things: f.things.map((v, i) => (v + own[k]!.things[i]!) / 2),
      subjects: f.subjects.map((v, i) => (v + own[k]!.subjects[i]!) / 2),
    }));
  }
  const { way } = best!;
  return {
    ...stretch,
    path: pathOf(way, moments, { ...stretch, rate: task.rate }),
    reasons: reasonsOf(way, moments, subjects, ratio, step),
  };
}

/** How often it is looked again, knowing what was seen for long by then. */
const ROUNDS = 6;

/** The stretch of the wanted length in which most happens. */
function stretchOf(
  { from, to, dials: { length }, ...task }: SketchTask,
  things: ReturnType<typeof thingsIn>,
): { from: number; to: number } {
  if (length === undefined || length >= to - from) return { from, to };
  const moments = momentsOf({ ...task, from, to, step: STEP, things });
  const worth = moments.map(
    ({ activity, things: there, subjects, mark }) =>
      (Math.max(...activity, ...there.map(({ worth }) => worth)) +
        subjects.reduce((sum, s) => sum + (task.subjects[s.of]!.want === 'must' ? REQUIRED : SUBJECT), 0)) *
      (mark === null ? 1 : MARKED),
  );
  const steps = Math.max(1, Math.round(length / STEP));
  let best = { at: 0, sum: -Infinity };
  for (let k = 0; k + steps <= worth.length; k++) {
    const sum = worth.slice(k, k + steps).reduce((a, b) => a + b, 0);
    if (sum > best.sum + 1e-9) best = { at: k, sum };
  }
  const start = Math.max(from, Math.min(to - length, from + best.at * STEP));
  return { from: start, to: start + length };
}
