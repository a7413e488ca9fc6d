/** A Sketch: a path proposed from what happens in the footage. The same footage and dials give the same Sketch. */
import { unwrapNear, wrapHeading, type Matrix3 } from '../geometry/rotation.js';
import { readOut } from '../lens/view.js';
import { emptyPath, type ChannelName, type Path } from '../path/path.js';
import type { Keyframe } from '../path/channel.js';
import { simplify, smoothed, type Sample } from '../path/simplify.js';
import { bestWay, type Moves, type Way } from './best-way.js';
import { headingOf, HEADINGS, momentsOf, type Activity, type Moment, type Wanted } from './interest.js';

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

/** Why the camera looks where it does in a stretch, in seconds. */
export interface Reason {
  from: number;
  to: number;
  why: { kind: 'activity'; heading: number } | { kind: 'subject'; name: string } | { kind: 'calm' };
  /** Whether a mark lies in it. */
  mark: boolean;
}

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
  activity: Activity;
  subjects: readonly Wanted[];
  marks: readonly number[];
  dials: SketchDials;
}

/** Seconds from one step to the next, and how many steps there are at most. */
const STEP = 0.5;
const MOST_STEPS = 480;

const TILTS = [-25, -5, 15, 40] as const;
const FOVS = [62, 80, 100] as const;
const LEVEL_TILT = 1;

interface State {
  heading: number;
  tilt: number;
  fov: number;
}

const STATES: State[] = FOVS.flatMap((_, fov) =>
  TILTS.flatMap((_, tilt) => Array.from({ length: HEADINGS }, (_, heading) => ({ heading, tilt, fov }))),
);
const stateAt = ({ heading, tilt, fov }: State) =>
  (fov * TILTS.length + tilt) * HEADINGS + ((heading + HEADINGS) % HEADINGS);

/** Half the angles of sight across and up of each field of view in a picture of a ratio, degrees. */
function halfAngles(ratio: number): { across: number; up: number }[] {
  return FOVS.map((fov) => {
    const size = [ratio * 1000, 1000] as const;
    const view = { pan: 0, tilt: 0, roll: 0, fov, bend: 0, shiftX: 0, shiftY: 0 };
    const { horizontal, vertical } = readOut(view, ...size);
    return { across: horizontal / 2, up: vertical / 2 };
  });
}

/** 1 in the middle of the frame, a little less away from it, and soon nothing at its rim. */
const inFrame = (off: number, half: number) =>
  Math.max(0, Math.min(1, (half - Math.abs(off)) / (0.45 * half))) * (1 - 0.25 * Math.min(1, (off / half) ** 2));

/** Activity below this is noise; small things count more than in proportion, and many less. */
const NOISE = 0.035;
const SMALL = 0.25;
/** How much closer views are liked. */
const CLOSER = 0.4;
const MUCH = 0.4;
/** What marks, subjects and those that must be seen add. */
const MARKED = 1.6;
const SUBJECT = 1.2;
const REQUIRED = 8;

/** How much of each cell's activity is in the frame, by how many cells it is off the frame's middle, for each field of view. */
const seenShares = (ratio: number): Float64Array[] =>
  halfAngles(ratio).map(({ across }) =>
    Float64Array.from({ length: HEADINGS }, (_, d) => inFrame(wrapHeading((d * 360) / HEADINGS), across)),
  );

function rewardsOf(
  moments: readonly Moment[],
  subjects: readonly Wanted[],
  ratio: number,
  fresh: readonly Fresh[],
): Float32Array[] {
  const angles = halfAngles(ratio);
  const shares = seenShares(ratio);
  return moments.map(({ activity, subjects: seen, mark }, k) => {
    const worth = activity.map((a, h) => (a > NOISE ? fresh[k]!.headings[h]! * a ** SMALL : 0));
    const level = shares.map((share) =>
      Float64Array.from({ length: HEADINGS }, (_, heading) => {
        let sum = 0;
        for (let h = 0; h < HEADINGS; h++) sum += worth[h]! * share[(h - heading + HEADINGS) % HEADINGS]!;
        return sum ** MUCH;
      }),
    );
    const row = new Float32Array(STATES.length);
    STATES.forEach(({ heading, tilt, fov }, s) => {
      const { across, up } = angles[fov]!;
      const pan = headingOf(heading);
      // Activity is known along the horizon only.
      let sum =
        level[fov]![heading]! * inFrame(TILTS[tilt]! - TILTS[LEVEL_TILT], up) * (FOVS[1] / FOVS[fov]!) ** CLOSER;
      for (const { of, pan: p, tilt: t, size } of seen) {
        const within = inFrame(wrapHeading(p - pan), across) * inFrame(t - TILTS[tilt]!, up);
        const fills = Math.min(1, size / (0.25 * up)) ** 0.5;
        sum += within * (subjects[of]!.want === 'must' ? REQUIRED : SUBJECT * fills * fresh[k]!.subjects[of]!);
      }
      row[s] = sum * (mark === null ? 1 : MARKED) - 0.15 * Math.abs(tilt - LEVEL_TILT);
    });
    return row;
  });
}

/** Cells of heading that a step may turn by, from calm to lively; and what turning costs. */
const REACH = [1, 3] as const;
const TURN = [0.9, 0.35] as const;
const ZOOM_COST = 0.6;
const TILT_COST = 0.6;

const between = ([calm, lively]: readonly [number, number], f: number) => calm + (lively - calm) * f;

function movesOf(lively: number, step: number): Moves[] {
  const reach = Math.max(1, Math.round((between(REACH, lively) * step) / STEP));
  return STATES.map((state) => {
    const to: number[] = [];
    const cost: number[] = [];
    for (let d = -reach; d <= reach; d++)
      for (const t of [-1, 0, 1])
        for (const f of [-1, 0, 1]) {
          const next = { heading: state.heading + d, tilt: state.tilt + t, fov: state.fov + f };
          if (!TILTS[next.tilt] || !FOVS[next.fov]) continue;
          to.push(stateAt(next));
          cost.push(between(TURN, lively) * Math.abs(d) ** 1.3 + TILT_COST * Math.abs(t) + ZOOM_COST * Math.abs(f));
        }
    return { to, cost };
  });
}

const CUT_COST = [2.5, 1] as const;
/** Seconds after which what is seen is worth half, and the least that it comes to be worth. */
const WEARY = [3, 2] as const;
const LEAST = 0.1;
/** Steps of a shot at most, where there are cuts enough. */
const LONGEST = 48;
/** Seconds that a look after a cut lasts at least. */
const SHORTEST = [3, 1.5] as const;

/** Proposes a path for a stretch of a footage. */
export function sketch(task: SketchTask): Sketch {
  const { dials, subjects, ratio } = task;
  const stretch = stretchOf(task);
  const step = Math.max(STEP, (stretch.to - stretch.from) / MOST_STEPS);
  const moments = momentsOf({ ...task, ...stretch, step });
  const weary = between(WEARY, dials.lively);
  const problem = {
    moves: movesOf(dials.lively, step),
    cuts: dials.cuts,
    cutCost: between(CUT_COST, dials.lively),
    shortest: Math.max(1, Math.round(between(SHORTEST, dials.lively) / step)),
    longest: Math.max(LONGEST, Math.ceil(moments.length / (dials.cuts + 1))),
    fade: (n: number) => Math.max(LEAST, 1 / (1 + (n * step) ** 2 / weary ** 2)),
  };
  const of = { ratio, step, weary, count: subjects.length };
  const untouched = moments.map((): Fresh => ({
    headings: new Float32Array(HEADINGS).fill(1),
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
      subjects: f.subjects.map((v, i) => (v + own[k]!.subjects[i]!) / 2),
    }));
  }
  const { way } = best!;
  return {
    ...stretch,
    path: pathOf(way, moments, task, stretch),
    reasons: reasonsOf(way, moments, subjects, ratio, step),
  };
}

interface Fresh {
  headings: Float32Array;
  subjects: number[];
}

/** How often it is looked again, knowing what was seen for long by then. */
const ROUNDS = 6;

/**
 * How fresh each heading's activity still is in each moment, 0 to 1, where a way has been seen: the same thing, followed from moment to
 * moment as far as it may have gone, wears off the longer it was in the frame.
 */
function freshness(
  way: Way,
  moments: readonly Moment[],
  { ratio, step, weary, count }: { ratio: number; step: number; weary: number; count: number },
): Fresh[] {
  const angles = halfAngles(ratio);
  const worn = (seconds: number) => 1 / (1 + (seconds / weary) ** 2);
  let seen = new Float32Array(HEADINGS);
  const met = Array.from({ length: count }, () => 0);
  return moments.map(({ activity, subjects }, k): Fresh => {
    const { heading, fov } = STATES[way.states[k]!]!;
    const within = (pan: number) => inFrame(wrapHeading(pan - headingOf(heading)), angles[fov]!.across);
    const now = new Float32Array(HEADINGS);
    for (let h = 0; h < HEADINGS; h++) {
      for (let d = -GOES; d <= GOES; d++) now[h] = Math.max(now[h]!, seen[(h + d + HEADINGS) % HEADINGS]!);
      if (activity[h]! <= NOISE) now[h] = seen[h]! * 0.8;
    }
    const fresh = {
      headings: now.map(worn),
      subjects: met.map(worn),
    };
    for (let h = 0; h < HEADINGS; h++) now[h]! += step * within(headingOf(h));
    for (const { of, pan } of subjects) met[of]! += step * within(pan);
    seen = now;
    return fresh;
  });
}

/** Cells that a thing may go on in a step. */
const GOES = 3;

/** The stretch of the wanted length in which most happens. */
function stretchOf({ from, to, dials: { length }, ...task }: SketchTask): { from: number; to: number } {
  if (length === undefined || length >= to - from) return { from, to };
  const moments = momentsOf({ ...task, from, to, step: STEP });
  const worth = moments.map(
    ({ activity, subjects, mark }) =>
      (Math.max(...activity) +
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

/** Seconds of the Gaussian that softens the way, and degrees that its keyframes may be off. */
const SOFT = 0.6;
const TOLERANCE = 1.5;
const SAMPLES_A_SECOND = 10;
const WRITTEN = ['pan', 'tilt', 'fov'] as const;

/** The way as keyframes: smooth from cut to cut, and holding its last view until the next. */
function pathOf(
  way: Way,
  moments: readonly Moment[],
  { rate }: SketchTask,
  { from, to }: { from: number; to: number },
): Path {
  const onFrame = (time: number) => Math.round(time * rate) / rate;
  const keys: Partial<Record<ChannelName, Keyframe[]>> = {};
  const starts = [0, ...way.cutAt];
  starts.forEach((first, i) => {
    const end = starts[i + 1] ?? moments.length;
    const begins = i === 0 ? from : edge(moments, first);
    const ends = end === moments.length ? to : edge(moments, end);
    const shot = samplesOf(way.states.slice(first, end), moments.slice(first, end), begins, ends);
    const { clipping } = simplify(smoothed(shot, SOFT), TOLERANCE);
    for (const name of WRITTEN) {
      const list = clipping[name]!.map((k) => ({ ...k, time: onFrame(begins + k.time) }));
      // The last view of a look stays until it is cut: its keyframe lies a frame before.
      const last = list.at(-1)!;
      list[list.length - 1] = { ...last, time: Math.max(onFrame(begins), onFrame(ends) - 1 / rate), ease: 'hold' };
      const distinct = list.filter((k, n) => n === 0 || k.time > list[n - 1]!.time + 0.5 / rate);
      (keys[name] ??= []).push(...distinct);
    }
  });
  const still: Keyframe[] = [{ time: onFrame(from), value: 0, ease: 'hold' }];
  return { ...emptyPath(), ...keys, roll: still, bend: still };
}

const edge = (moments: readonly Moment[], k: number) => (moments[k - 1]!.time + moments[k]!.time) / 2;

/** States over time as evenly lying samples, straight between their moments. */
function samplesOf(states: readonly number[], moments: readonly Moment[], from: number, to: number): Sample[] {
  let near = headingOf(STATES[states[0]!]!.heading);
  const points = states.map((s, k) => {
    const { heading, tilt, fov } = STATES[s]!;
    near = unwrapNear(headingOf(heading), near);
    return { time: moments[k]!.time, pan: near, tilt: TILTS[tilt]!, fov: FOVS[fov]! };
  });
  const count = Math.max(2, Math.round((to - from) * SAMPLES_A_SECOND));
  return Array.from({ length: count + 1 }, (_, i): Sample => {
    const time = from + ((to - from) * i) / count;
    const after = points.findIndex((p) => p.time >= time);
    const b = points[after < 0 ? points.length - 1 : after]!;
    const a = points[after < 0 ? points.length - 1 : Math.max(0, after - 1)]!;
    const f = b.time > a.time ? (time - a.time) / (b.time - a.time) : 0;
    const mix = (name: (typeof WRITTEN)[number]) => a[name] + (b[name] - a[name]) * f;
    return { time, values: { pan: mix('pan'), tilt: mix('tilt'), fov: mix('fov') } };
  });
}

/** Below this activity in the frame nothing in particular is its reason. */
const CALM = 0.25;

/** Why it looks where it does, step by step, what is the same joined. */
function reasonsOf(
  way: Way,
  moments: readonly Moment[],
  subjects: readonly Wanted[],
  ratio: number,
  step: number,
): Reason[] {
  const angles = halfAngles(ratio);
  const reasons: Reason[] = [];
  moments.forEach(({ time, activity, subjects: seen, mark }, k) => {
    const { heading, fov } = STATES[way.states[k]!]!;
    const { across } = angles[fov]!;
    const pan = headingOf(heading);
    const subject = seen.find((s) => inFrame(wrapHeading(s.pan - pan), across) > 0.3);
    let [liveliest, most] = [heading, 0];
    activity.forEach((a, h) => {
      const worth = a * inFrame(wrapHeading(headingOf(h) - pan), across);
      if (worth > most) [liveliest, most] = [h, worth];
    });
    const why: Reason['why'] = subject
      ? { kind: 'subject', name: subjects[subject.of]!.name }
      : most > CALM
        ? { kind: 'activity', heading: headingOf(liveliest) }
        : { kind: 'calm' };
    const last = reasons.at(-1);
    const same = last && !way.cutAt.includes(k) && sameWhy(last.why, why);
    if (same) Object.assign(last, { to: time + step / 2, mark: last.mark || mark !== null });
    else reasons.push({ from: time - step / 2, to: time + step / 2, why, mark: mark !== null });
  });
  return reasons;
}

/** Degrees within which activity counts as the same thing going on. */
const SAME_THING = 35;

function sameWhy(a: Reason['why'], b: Reason['why']): boolean {
  if (a.kind === 'activity' && b.kind === 'activity') return Math.abs(wrapHeading(a.heading - b.heading)) < SAME_THING;
  if (a.kind === 'subject' && b.kind === 'subject') return a.name === b.name;
  return a.kind === b.kind;
}
