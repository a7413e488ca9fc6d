/** Lookouts: what is on air, cutting live and afterwards, layouts, joins, and what a plan makes of them. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readKept } from '../src/moves/kept.js';
import { angleBetween } from '../src/geometry/rotation.js';
import { blended } from '../src/lens/blend.js';
import { DEFAULT_VIEW } from '../src/lens/view.js';
import {
  addLookout,
  changeCut,
  cutHere,
  cutOver,
  layLookouts,
  lookoutsAllRound,
  removeCut,
  removeLookout,
  rollCut,
  slidePiece,
  withCuts,
  withLookouts,
} from '../src/edit/lookouts.js';
import { linesOf, pixelsOf, placesOf } from '../src/lookouts/layout.js';
import {
  cutAt,
  isCutBetween,
  joinSpan,
  LAYOUTS,
  MOST_LOOKOUTS,
  onAir,
  SHOWN,
  type Cut,
  type Showing,
} from '../src/lookouts/lookouts.js';
import { overTake } from '../src/plan/over-take.js';
import { emptyPath } from '../src/path/path.js';
import { panesIn, shotsIn } from './planned-shots.js';
import { clipPlan } from '../src/plan/clip-plan.js';
import type { PlanFootage } from '../src/plan/footage.js';
import { stillPlan } from '../src/plan/still-plan.js';
import { newTake, type Take } from '../src/take/take.js';
import { readTake } from '../src/take/validate.js';
import { tooFast } from '../src/view/comfort.js';
import { aimOf, framesOf, sightOf } from '../src/view/view-of.js';

const one = (n: number): Showing => ({ layout: 'one', views: [n] });
const bare = newTake('a.mp4', 20);
const all = withLookouts(bare, lookoutsAllRound());
const withAll = (cuts: Cut[]): Take => ({ ...all, lookouts: { ...all.lookouts!, cuts } });
const footage: PlanFootage = { source: { kind: 'sphere' }, rate: 30, frames: 600, motion: null };
/** What is on air at whole seconds, in a word. */
const aired = (cuts: readonly Cut[], seconds = 10) =>
  Array.from({ length: seconds }, (_, t) => {
    const shows = onAir({ views: [], cuts: [...cuts] }, t + 0.5);
    return shows ? shows.views.join('') : 'p';
  }).join(' ');

describe('cutting', () => {
  test('what is cut goes on to the next cut; cutting over a part leaves what comes after as it was', () => {
    let cuts = cutHere([], 2, one(1));
    cuts = cutHere(cuts, 6, one(2));
    expect(aired(cuts)).toBe('p p 1 1 1 1 2 2 2 2');
    cuts = cutOver(cuts, 3, 5, one(3));
    expect(aired(cuts)).toBe('p p 1 3 3 1 2 2 2 2');
    expect(aired(cutOver(cuts, 0, 20, null))).toBe('p p p p p p p p p p');
    expect(cutOver(cuts, 0, Infinity, null)).toEqual([]);
  });

  test('the same again is no cut, and only the part is replaced, whatever was there', () => {
    const piece = fc.record({ at: fc.integer({ min: 0, max: 9 }), view: fc.integer({ min: 0, max: 3 }) });
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 12 }), fc.nat(8), fc.integer({ min: 1, max: 5 }), (list, from, long) => {
        const before = list.reduce<Cut[]>((cuts, p) => cutHere(cuts, p.at, one(p.view)), []);
        const after = cutOver(before, from, from + long, one(7));
        const [was, is] = [aired(before).split(' '), aired(after).split(' ')];
        is.forEach((v, t) => expect(v).toBe(t >= from && t < from + long ? '7' : was[t]));
        after.slice(1).forEach((c, i) => {
          expect(c.time).toBeGreaterThan(after[i]!.time);
          expect(c.shows).not.toEqual(after[i]!.shows);
        });
      }),
    );
  });

  test('cuts are rolled between their neighbours, pieces slide with both ends, and go', () => {
    const cuts: Cut[] = [
      { time: 2, shows: one(0) },
      { time: 4, shows: one(1) },
      { time: 6, shows: null },
    ];
    expect(rollCut(cuts, 1, 3, 0.1)[1]!.time).toBe(3);
    expect(rollCut(cuts, 1, 99, 0.1)[1]!.time).toBeCloseTo(5.9);
    expect(rollCut(cuts, 0, -5, 0.1)[0]!.time).toBe(0);
    expect(slidePiece(cuts, 1, -1, 0.1).map((c) => c.time)).toEqual([2, 3, 5]);
    expect(slidePiece(cuts, 1, -9, 0.1).map((c) => c.time)).toEqual([2, 2.1, 4.1].map((v) => expect.closeTo(v)));
    expect(slidePiece(cuts, 2, 1, 0.1)[2]!.time).toBe(7);
    expect(aired(removeCut(cuts, 1))).toBe('p p 0 0 0 0 p p p p');
    expect(aired(changeCut(cuts, 1, { shows: one(3) }))).toBe('p p 0 0 3 3 p p p p');
  });

  test('without a Lookout the path is on air in its place, and the others keep their places', () => {
    const take = withAll([
      { time: 1, shows: one(1) },
      { time: 3, shows: one(2) },
      { time: 5, shows: { layout: 'beside', views: [0, 3] } },
    ]);
    const less = removeLookout(take, 1);
    expect(less.lookouts!.views.map((v) => v.name)).toEqual(['Front', 'Back', 'Left']);
    expect(aired(less.lookouts!.cuts)).toBe('p p p 1 1 02 02 02 02 02');
    expect([0, 1, 2, 3].reduce((t) => removeLookout(t, 0), take)).not.toHaveProperty('lookouts');
  });

  test('there are nine at most, and a set is laid without its subjects', () => {
    const many = Array.from({ length: 12 }).reduce<Take>((t, _, n) => addLookout(t, `V${n}`, emptyPath()), all);
    expect(many.lookouts!.views).toHaveLength(MOST_LOOKOUTS);
    const followed = {
      views: [
        { name: 'Her', path: emptyPath(), follow: { subject: 'a.json', x: 0, y: 0, ahead: 0, soft: 0, dead: 0 } },
      ],
    };
    const target = withAll([
      { time: 1, shows: one(0) },
      { time: 3, shows: one(2) },
    ]);
    const laid = layLookouts(target, followed, false).lookouts!;
    expect(laid.views).toEqual([{ name: 'Her', path: emptyPath() }]);
    expect(laid.cuts).toEqual([{ time: 1, shows: one(0) }]);
    expect(layLookouts(target, followed, true).lookouts!.views[0]!.follow?.subject).toBe('a.json');
    expect(layLookouts(target, undefined, true)).not.toHaveProperty('lookouts');
  });
});

describe('what the camera sees', () => {
  test('a Lookout on air takes the place of the path, cut to the frame', () => {
    const take = withAll([{ time: 2, shows: one(1) }]);
    expect(aimOf(take, {}, 1.999).pan).toBe(0);
    expect(aimOf(take, {}, 2).pan).toBe(90);
    expect(aimOf(take, { lookout: 3 }, 2).pan).toBe(-90);
    expect(cutAt(take.lookouts!, 1.999)).toBe(-1);
    expect(isCutBetween(take.lookouts, 1.9, 2.1)).toBe(true);
    expect(isCutBetween(take.lookouts, 2, 2.1)).toBe(false);
  });

  test('a whip and a glide turn the short way, softly, and are no cuts', () => {
    const take = withAll([
      { time: 2, shows: one(2) },
      { time: 6, shows: one(3), join: 'glide', over: 2 },
    ]);
    const pans = Array.from({ length: 41 }, (_, i) => aimOf(take, {}, 4.9 + i * 0.055).pan);
    expect(pans[0]).toBe(180);
    expect(pans.at(-1)! % 360).toBeCloseTo(-90, 0);
    // From 180° to −90° over 270°, never more than 90°.
    pans.forEach((pan) => expect(pan).toBeGreaterThanOrEqual(-90 - 1e-9));
    expect(Math.max(...pans.slice(1, -2))).toBeLessThanOrEqual(270.001);
    expect(aimOf(take, {}, 6).pan).toBeCloseTo(225);
    expect(joinSpan(take.lookouts!.cuts, 1)).toEqual({ from: 5, to: 7 });
    expect(isCutBetween(take.lookouts, 5.9, 6.1)).toBe(false);
  });

  test('a join never reaches beyond the middle of a neighbouring piece', () => {
    const cuts: Cut[] = [
      { time: 2, shows: one(0) },
      { time: 3, shows: one(1), join: 'glide', over: 8 },
      { time: 4, shows: one(2) },
    ];
    expect(joinSpan(cuts, 1)).toEqual({ from: 2.5, to: 3.5 });
  });

  test('half way from one view to another zooms by factors and turns by the shorter way', () => {
    const half = blended({ ...DEFAULT_VIEW, pan: 170, fov: 40 }, { ...DEFAULT_VIEW, pan: -170, fov: 90 }, 0.5);
    expect(half.pan).toBeCloseTo(180);
    expect(half.fov).toBeCloseTo(60);
  });

  test('a cut is not told as too fast, a jump of the path is', () => {
    const take = withAll([{ time: 2, shows: one(1) }]);
    const span = { from: 1, to: 3, rate: 30, ratio: 16 / 9 };
    const seen = (t: number) => aimOf(take, {}, t);
    expect(tooFast(seen, span, (a, b) => isCutBetween(take.lookouts, a, b))).toEqual([]);
    expect(tooFast(seen, span)).toHaveLength(1);
  });

  test('several in one picture each see with their own shape', () => {
    const take = withAll([{ time: 2, shows: { layout: 'inset', views: [2, 0] } }]);
    const frames = framesOf(take, {}, 3);
    expect(frames.map((f) => f.view.pan)).toEqual([180, 0]);
    expect(frames[1]!.place.width).toBeCloseTo(1 / 3);
    expect(framesOf(take, {}, 1)).toHaveLength(1);
    // A glance is at one thing only.
    expect(framesOf(take, { glance: { pan: 10, tilt: 0 } }, 3)).toHaveLength(1);
  });
});

describe('layouts', () => {
  test('fill the frame without a gap or an overlap, in any even size; the inset lies inside', () => {
    const even = fc.integer({ min: 20, max: 1100 }).map((v) => 2 * v);
    fc.assert(
      fc.property(even, even, (width, height) => {
        for (const layout of LAYOUTS) {
          const boxes = placesOf(layout, width / height).map((p) => pixelsOf(p, { width, height }));
          expect(boxes).toHaveLength(SHOWN[layout]);
          boxes.forEach((b) => Object.values(b).forEach((v) => expect(v % 2).toBe(0)));
          const area = boxes.reduce((sum, b) => sum + b.width * b.height, 0);
          if (layout !== 'inset') expect(area).toBe(width * height);
          else {
            const small = boxes[1]!;
            expect(small.left + small.width).toBeLessThan(width);
            expect(small.top + small.height).toBeLessThan(height);
          }
        }
      }),
    );
  });

  test('are drawn by the plan only in the frames that show them, with a line where one is wanted', () => {
    const take = withAll([
      { time: 1, shows: { layout: 'four', views: [0, 1, 2, 3] } },
      { time: 2, shows: one(1) },
    ]);
    const plan = clipPlan({ ...take, range: { in: 0, out: 3 } }, footage, { width: 320, height: 180 })!;
    const drawn = (n: number) => shotsIn(plan, n).map((shots) => shots.length);
    expect(drawn(15)).toEqual([1]);
    expect(drawn(30)).toEqual([1, 1, 1, 1]);
    expect(drawn(60)).toEqual([1]);
    const still = stillPlan(take, footage, 1.5, { width: 320, height: 180 });
    expect(panesIn(still).map(({ left, top }) => [left, top])).toEqual([
      [0, 0],
      [160, 0],
      [0, 90],
      [160, 90],
    ]);
    const lined = { ...take, lookouts: { ...take.lookouts!, line: { width: 1, colour: '#ffffff' } } };
    const materials = { fonts: {}, pictures: new Map() };
    expect(overTake(lined, { width: 320, height: 180 }, 1.5, materials)).toContain('M160 0V180M0 90H320');
    expect(overTake(lined, { width: 320, height: 180 }, 2.5, materials)).toBeNull();
    expect(linesOf('one', { width: 1, colour: '#fff' }, { width: 320, height: 180 })).toBe('');
  });

  test('with the shutter open over a cut only what is on air is in the frame', () => {
    const take: Take = { ...withAll([{ time: 1, shows: one(1) }]), look: { shutter: 720 } };
    const plan = clipPlan(take, footage, { width: 320, height: 180 })!;
    for (const [n, pan] of [
      [29, 0],
      [30, 90],
    ] as const)
      for (const shot of shotsIn(plan, n)[0]!) {
        const { toSource: m } = shot;
        expect(angleBetween([m[2], m[5], m[8]], sightOf({ pan, tilt: 0, roll: 0 }))).toBeLessThan(1e-6);
      }
  });
});

describe('documents', () => {
  test('are read with channels filled in, and refused with a sentence', () => {
    const plain = JSON.parse(JSON.stringify(all)) as Take;
    expect(readTake(plain)).toEqual(all);
    const sparse = { ...plain, lookouts: { views: [{ name: 'A', path: { pan: 5 } }], cuts: [] } };
    expect(readTake(sparse).lookouts!.views[0]!.path).toEqual({ ...emptyPath(), pan: 5 });
    const wrong = (lookouts: unknown) => () => readTake({ ...plain, lookouts });
    const { views } = plain.lookouts!;
    expect(wrong({ views: [], cuts: [] })).toThrow(/1 to 9 Lookouts/);
    expect(wrong({ views, cuts: [{ time: 1, shows: one(4) }] })).toThrow(/shows 1 of the take's Lookouts/);
    expect(wrong({ views, cuts: [{ time: 1, shows: { layout: 'five', views: [] } }] })).toThrow(/a layout/);
    const [late, early] = [2, 1].map((time) => ({ time, shows: null }));
    expect(wrong({ views, cuts: [late, early] })).toThrow(/order of time/);
    expect(wrong({ views, cuts: [{ time: 1, shows: null, join: 'fade' }] })).toThrow(/cut, whip, glide/);
    expect(wrong({ views, cuts: [], line: { width: 99, colour: '#fff' } })).toThrow(/width/);
  });

  test('sets are kept without subjects', () => {
    const set = { format: 'glimbo-lookouts', version: 1, name: 'Four', views: all.lookouts!.views };
    expect(readKept(set)).toEqual(set);
    expect(() => readKept({ ...set, views: [] })).toThrow(/1 to 9 Lookouts/);
    expect(() => readKept({ ...set, views: [{ name: '', path: {} }] })).toThrow(/name/);
  });

  test('cuts of a take without Lookouts stay none', () => expect(withCuts(bare, () => [])).toBe(bare));
});
