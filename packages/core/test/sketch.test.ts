/** Sketches: the best way against trying all, what is worth seeing, and laying a Sketch into a path. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Moving, MovingLook, MovingStreak } from '../src/moving/moving.js';
import type { SubjectLook, SubjectTrack } from '../src/follow/subject.js';
import { IDENTITY, rotationOf, transpose, wrapHeading } from '../src/geometry/rotation.js';
import { directionOf } from '../src/geometry/sphere.js';
import { setViewKey, viewKeysOf } from '../src/path/edit.js';
import { emptyPath, viewAt } from '../src/path/path.js';
import { bestWay, type WayProblem } from '../src/sketch/best-way.js';
import { headingOf, momentsOf, thingsIn, type Activity, type Wanted } from '../src/sketch/interest.js';
import { freeSpans, laySketch, layStretch } from '../src/sketch/lay.js';
import { sketch, USUAL_SKETCH, type SketchTask } from '../src/sketch/sketch.js';
import { tooFast } from '../src/view/comfort.js';

/** The best score over all ways there are, shot by shot. */
function bruteForce({ rewards, moves, cuts, cutCost, shortest, longest, fade }: WayProblem): number {
  const steps = rewards.length;
  // What a step from one state to another costs at least, one kind of move after the other.
  const states = moves[0]!.map((_, s) => s);
  const stepCosts = states.map((s) =>
    moves.reduce(
      (costs, kind) =>
        states.map((t) =>
          Math.min(costs[t]!, ...states.map((u) => costs[u]! + (kind[u]!.cost[kind[u]!.to.indexOf(t)] ?? Infinity))),
        ),
      states.map((t) => (t === s ? 0 : Infinity)),
    ),
  );
  const go = (k: number, state: number, long: number, left: number): number => {
    const here = fade(long) * rewards[k]![state]!;
    if (k === steps - 1) return long + 1 >= Math.min(shortest, steps) ? here : -Infinity;
    let best = -Infinity;
    if (long + 1 < longest)
      stepCosts[state]!.forEach((cost, to) => {
        if (cost < Infinity) best = Math.max(best, go(k + 1, to, long + 1, left) - cost);
      });
    if (left > 0 && long + 1 >= shortest)
      states.forEach((to) => (best = Math.max(best, go(k + 1, to, 0, left - 1) - cutCost)));
    return here + best;
  };
  return Math.max(...states.map((s) => go(0, s, 0, cuts)));
}

describe('the best way', () => {
  test('is worth as much as the best of all ways, and its states add up to that', () => {
    const value = fc.integer({ min: -5, max: 20 });
    fc.assert(
      fc.property(
        fc.array(fc.array(value, { minLength: 3, maxLength: 3 }), { minLength: 2, maxLength: 6 }),
        fc.nat(2),
        fc.nat(6),
        fc.integer({ min: 1, max: 2 }),
        (rows, cuts, cutCost, shortest) => {
          const problem: WayProblem = {
            rewards: rows.map((r) => Float32Array.from(r)),
            // A step to the side, and then between the first and the last.
            moves: [
              [0, 1, 2].map((s) => {
                const to = [s - 1, s + 1].filter((t) => t >= 0 && t < 3);
                return { to, cost: to.map(() => 2) };
              }),
              [0, 1, 2].map((s) => ({ to: s === 1 ? [] : [2 - s], cost: s === 1 ? [] : [3] })),
            ],
            cuts,
            cutCost,
            shortest,
            longest: 6,
            fade: (n) => 1 / (1 + n / 4),
          };
          const way = bestWay(problem);
          expect(way.score).toBeCloseTo(bruteForce(problem), 4);
          let [sum, begins] = [0, 0];
          way.states.forEach((s, k) => {
            if (way.cutAt.includes(k)) {
              sum -= cutCost;
              begins = k;
            } else if (k > 0) sum -= [0, 2, 3][Math.abs(s - way.states[k - 1]!)]!;
            sum += problem.rewards[k]![s]! / (1 + (k - begins) / 4);
          });
          expect(sum).toBeCloseTo(way.score, 4);
        },
      ),
    );
  });

  test('needs shots enough to last to the end', () => {
    const rewards = Array.from({ length: 9 }, () => Float32Array.of(0));
    const moves = [[{ to: [], cost: [] }]];
    const problem = { rewards, moves, cutCost: 0, shortest: 1, longest: 4, fade: () => 1 };
    expect(() => bestWay({ ...problem, cuts: 1 })).toThrow(RangeError);
    expect(bestWay({ ...problem, cuts: 2 }).cutAt).toHaveLength(2);
  });
});

const still = { at: () => IDENTITY };
/** Activity of 120 headings and ten rows a second: at each time at one heading. */
const activityAt = (heading: (t: number) => number | null, seconds = 20): Activity => ({
  duration: seconds,
  rows: Array.from({ length: seconds * 10 }, (_, r) => {
    const at = heading(r / 10);
    return Uint8Array.from({ length: 120 }, (_, x) =>
      at !== null && Math.abs(wrapHeading(((x + 0.5) / 120 - 0.5) * 360 - at)) < 8 ? 180 : 0,
    );
  }),
});
const trackAt = (pan: number, tilt: number, size = 20): SubjectTrack => ({
  format: 'glimbo-subject',
  version: 2,
  rate: 10,
  looks: Array.from({ length: 200 }, (): SubjectLook => [...directionOf(pan, tilt), size, size, 1] as SubjectLook),
});
const task: SketchTask = {
  from: 0,
  to: 20,
  rate: 30,
  ratio: 16 / 9,
  toWorld: still,
  activity: activityAt((t) => (t < 10 ? 100 : -80)),
  moving: null,
  subjects: [],
  marks: [],
  dials: USUAL_SKETCH,
};
/** Something of a size that goes on from a heading at so many degrees a second, between two seconds. */
const goes = (heading: number, speed: number, size: number, [from, to]: [number, number]): MovingStreak => ({
  sure: 0.9,
  looks: Array.from({ length: (to - from) * 4 }, (_, i): MovingLook => {
    const t = from + i / 4;
    return [Math.round(t * 30), ...directionOf(heading + speed * (t - from), 0), size / 2, size];
  }),
});
const movingOf = (streaks: MovingStreak[], still = Array.from({ length: 20 }, () => true)): Moving => ({
  format: 'glimbo-moving',
  ...{ version: 1, rate: 30, every: 8, frames: 600, stage: 30, still, streaks },
});
const offAt = (path: ReturnType<typeof emptyPath>, t: number, heading: number) =>
  Math.abs(wrapHeading(viewAt(path, t).pan - heading));

describe('what is worth seeing', () => {
  test('activity is brought into the world by the take’s correction', () => {
    const look = { ...task, to: 2, step: 0.5, activity: activityAt(() => 25), things: [] };
    const liveliest = (toWorld: typeof still) => {
      const { activity } = momentsOf({ ...look, toWorld })[0]!;
      return headingOf(activity.indexOf(Math.max(...activity)));
    };
    expect(liveliest(still)).toBeCloseTo(25, -1);
    const turned = transpose(rotationOf({ pan: 90, tilt: 0, roll: 0 }));
    expect(wrapHeading(liveliest({ at: () => turned }) - liveliest(still))).toBeCloseTo(-90, -1);
  });

  test('what is to be left out takes its activity with it', () => {
    const subjects: Wanted[] = [{ name: 'A', track: trackAt(100, 0), want: 'never' }];
    const moments = momentsOf({ ...task, things: [], subjects, step: 0.5, to: 9 });
    expect(Math.max(...moments.flatMap((m) => [...m.activity]))).toBe(0);
    expect(moments[0]!.subjects).toEqual([]);
  });
});

describe('what moves', () => {
  const two = movingOf([goes(100, 6, 20, [0, 10]), goes(-80, 6, 20, [10, 20])]);

  test('is looked at where it is known, and activity by heading where it is not', () => {
    const elsewhere = activityAt(() => 10);
    const { path, reasons } = sketch({ ...task, activity: elsewhere, moving: two });
    expect(offAt(path, 5, 130)).toBeLessThan(35);
    expect(offAt(path, 15, -50)).toBeLessThan(35);
    expect(reasons[0]!.why.kind).toBe('activity');
    const travels = movingOf(
      two.streaks.slice(0, 1),
      two.still.map((_, n) => n < 10),
    );
    expect(offAt(sketch({ ...task, activity: elsewhere, moving: travels }).path, 15, 10)).toBeLessThan(35);
  });

  test('is worth the more the larger it is and the quicker it goes', () => {
    const moving = movingOf([goes(100, 1, 5, [0, 20]), goes(-80, 6, 20, [0, 20])]);
    const { path } = sketch({ ...task, to: 4, moving });
    expect(offAt(path, 2, -68)).toBeLessThan(40);
  });

  test('is nothing where it is a subject that is to be left out', () => {
    const there = trackAt(100, 0);
    const track = { ...there, rate: 30, looks: [0, 1, 2].flatMap(() => there.looks) };
    const subjects: Wanted[] = [{ name: 'A', track, want: 'never' }];
    const stays = movingOf([goes(100, 0.1, 20, [0, 20])]);
    expect(thingsIn(stays, subjects)).toEqual([]);
    expect(thingsIn(stays, [])).toHaveLength(1);
    expect(thingsIn(null, subjects)).toEqual([]);
  });

  test('says which stretch of a length is the best', () => {
    const { from } = sketch({
      ...task,
      moving: movingOf([goes(100, 6, 20, [12, 18])]),
      dials: { ...USUAL_SKETCH, length: 5 },
    });
    expect(from).toBeGreaterThan(11);
    expect(from).toBeLessThan(14);
  });
});

describe('a Sketch', () => {
  test('looks where something happens, with a cut between, and says why', () => {
    const made = sketch(task);
    expect(offAt(made.path, 5, 100)).toBeLessThan(30);
    expect(offAt(made.path, 15, -80)).toBeLessThan(30);
    expect(made.reasons.some((r) => r.why.kind === 'activity')).toBe(true);
    expect(made.reasons[0]!.from).toBeCloseTo(0);
    expect(made.reasons.at(-1)!.to).toBeCloseTo(20);
  });

  test('is the same twice, and never faster than comfort', () => {
    const [a, b] = [sketch(task), sketch(task)];
    expect(a).toEqual(b);
    const lively = sketch({ ...task, dials: { lively: 1, cuts: 0 }, activity: activityAt((t) => 25 * t) });
    const held = new Set(
      (lively.path.pan as { time: number; ease?: unknown }[]).filter((k) => k.ease === 'hold').map((k) => k.time),
    );
    const span = { from: 0, to: 20, rate: 30, ratio: 16 / 9 };
    const isCut = (from: number, to: number) => [...held].some((t) => t >= from - 1e-6 && t <= to + 1e-6);
    expect(tooFast((t) => viewAt(lively.path, t), span, isCut)).toEqual([]);
  });

  test('keeps whom it must, also high up, and picks the stretch in which most happens', () => {
    const subjects: Wanted[] = [{ name: 'A', track: trackAt(-30, 40), want: 'must' }];
    const made = sketch({ ...task, subjects, dials: { ...USUAL_SKETCH, cuts: 0 } });
    for (const t of [3, 10, 17]) {
      expect(offAt(made.path, t, -30)).toBeLessThan(25);
      expect(viewAt(made.path, t).tilt).toBeGreaterThan(10);
    }
    expect(made.reasons[0]!.why).toEqual({ kind: 'subject', name: 'A' });
    // Of two in the frame the larger one is the reason, whichever was pointed out first.
    const small: Wanted = { name: 'B', track: trackAt(-22, 40, 3), want: 'some' };
    const both = sketch({ ...task, subjects: [small, ...subjects], dials: { ...USUAL_SKETCH, cuts: 0 } });
    expect(both.reasons[0]!.why).toEqual({ kind: 'subject', name: 'A' });
    const short = sketch({
      ...task,
      activity: activityAt((t) => (t > 12 && t < 17 ? 0 : null)),
      dials: { ...USUAL_SKETCH, length: 4 },
    });
    expect(short.to - short.from).toBeCloseTo(4);
    expect(short.from).toBeGreaterThanOrEqual(11.5);
    expect(short.to).toBeLessThanOrEqual(17.5);
  });

  test('has no more cuts than wanted, and a mark is told', () => {
    const made = sketch({ ...task, marks: [5], dials: { lively: 1, cuts: 1 } });
    const held = (made.path.pan as { ease?: unknown }[]).filter((k) => k.ease === 'hold');
    expect(held.length).toBeLessThanOrEqual(2);
    expect(made.reasons.some((r) => r.mark)).toBe(true);
  });
});

describe('laying a Sketch', () => {
  const made = sketch(task);

  test('whole into a path without keyframes sees what it sees', () => {
    const path = laySketch(emptyPath(), made, false, 30);
    for (let t = 0.5; t < 19.5; t += 0.7) expect(offAt(path, t, viewAt(made.path, t).pan)).toBeLessThan(0.5);
  });

  test('leaves what was made by hand, unless it is told to go over it', () => {
    const byHand = [4, 8].reduce(
      (p, t) => setViewKey(p, t, { pan: t, tilt: 0, roll: 0, fov: 60, bend: 0 }),
      emptyPath(),
    );
    expect(freeSpans(byHand, made)).toEqual([
      { from: 0, to: 3.5 },
      { from: 8.5, to: 20 },
    ]);
    const beside = laySketch(byHand, made, false, 30);
    for (const t of [4, 8]) expect(viewAt(beside, t)).toEqual(viewAt(byHand, t));
    expect(viewKeysOf(beside).map((k) => k.time)).toEqual(expect.arrayContaining([4, 8]));
    const over = laySketch(byHand, made, true, 30);
    expect(offAt(over, 6, viewAt(made.path, 6).pan)).toBeLessThan(0.5);
    const all = [0, 19.9].reduce((p, t) => setViewKey(p, t, { pan: 0 }), emptyPath());
    expect(laySketch(all, made, false, 30)).toEqual(all);
  });

  test('a stretch of it replaces that stretch alone', () => {
    const path = setViewKey(setViewKey(emptyPath(), 0, { pan: 0 }), 19, { pan: 0 });
    const laid = layStretch(path, made, { from: 12, to: 15 }, 30);
    expect(viewAt(laid, 0).pan).toBe(0);
    for (const t of [12, 13, 14.5]) expect(offAt(laid, t, viewAt(made.path, t).pan)).toBeLessThan(0.5);
    expect(layStretch(path, made, { from: 30, to: 40 }, 30)).toBe(path);
  });
});
