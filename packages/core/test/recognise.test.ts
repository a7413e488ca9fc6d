import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { cellOf } from '../src/frame/sphere-frame.js';
import { angleBetween, apply, IDENTITY, rotationOf, transpose, type Matrix3 } from '../src/geometry/rotation.js';
import { directionOf } from '../src/geometry/sphere.js';
import { foundIn } from '../src/moving/found.js';
import type { Moving, MovingLook } from '../src/moving/moving.js';
import { recognisedAt, withRecognised, type Moment } from '../src/recognise/recognised.js';
import { ACROSS, placed, VIEWS_AROUND, withoutDoubles, type Recognised } from '../src/recognise/views.js';

const SIDE = 512;
const still = () => IDENTITY;

/** Where a direction of a view's axes is seen in it, in pixels. */
function seenAt([x, y, z]: readonly [number, number, number]) {
  const k = 2 / (1 + z) / cellOf(ACROSS, SIDE);
  return { u: SIDE / 2 + x * k, v: SIDE / 2 - y * k };
}

describe('what is recognised in a view', () => {
  test('lies in the world where it is, in its size, whichever view shows it', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: VIEWS_AROUND.length - 1 }),
        fc.double({ min: -30, max: 30, noNaN: true }),
        fc.double({ min: -30, max: 30, noNaN: true }),
        (n, pan, tilt) => {
          const view = VIEWS_AROUND[n]!;
          const [left, right] = [directionOf(pan - 2, tilt), directionOf(pan + 2, tilt)].map(seenAt);
          const [top, bottom] = [directionOf(pan, tilt + 5), directionOf(pan, tilt - 5)].map(seenAt);
          const box = { left: left!.u, right: right!.u, top: top!.v, bottom: bottom!.v };
          const one = placed({ kind: 'person', likeness: 0.5, ...box }, SIDE, view);
          expect(angleBetween(one.direction, apply(view, directionOf(pan, tilt)))).toBeLessThan(0.6);
          expect(Math.abs(one.width / (4 * Math.cos((tilt * Math.PI) / 180)) - 1)).toBeLessThan(0.06);
          expect(Math.abs(one.height / 10 - 1)).toBeLessThan(0.06);
        },
      ),
      { numRuns: 60, seed: 3 },
    );
  });

  test('all round the horizon something is seen whole in one of them', () => {
    for (let heading = 0; heading < 360; heading += 5) {
      const edges = [-6, 6].map((off) => directionOf(heading + off, 0));
      const whole = VIEWS_AROUND.some((view) =>
        edges.every((edge) => {
          const { u } = seenAt(apply(transpose(view), edge));
          return u > 0 && u < SIDE;
        }),
      );
      expect(whole).toBe(true);
    }
  });

  const one = (pan: number, likeness: number, height = 10): Recognised => ({
    kind: 'person',
    likeness,
    direction: directionOf(pan, 0),
    width: height / 2,
    height,
  });

  test('and twice in two of them, counts once; two who stand together are two', () => {
    expect(withoutDoubles([one(0, 0.4), one(1, 0.7), one(30, 0.5)]).map((r) => r.likeness)).toEqual([0.7, 0.5]);
    expect(withoutDoubles([one(0, 0.4), one(5, 0.7)])).toHaveLength(2);
    expect(withoutDoubles([one(0, 0.4, 30), one(1, 0.7)])).toHaveLength(2);
  });
});

describe('what is recognised beside what moves', () => {
  const look = (frame: number, pan: number): MovingLook => [frame, ...directionOf(pan, 0), 4, 8];
  const goes = { sure: 0.4, looks: Array.from({ length: 21 }, (_, i) => look(5 * i, i)) };
  const moving: Moving = {
    format: 'glimbo-moving',
    version: 1,
    rate: 10,
    every: 5,
    frames: 100,
    stage: 10,
    still: Array.from({ length: 10 }, () => true),
    streaks: [goes],
  };
  const seen = (pan: number, likeness: number, kind: Recognised['kind'] = 'person'): Recognised => ({
    kind,
    likeness,
    direction: directionOf(pan, 0),
    width: 4,
    height: 8,
  });
  const every = (of: (frame: number) => Recognised[]): Moment[] =>
    [0, 25, 50, 75].map((frame) => ({ frame, seen: of(frame) }));

  test('what moves gets its kind, and is surer', () => {
    const { streaks, recognised } = withRecognised(
      moving,
      every((n) => [seen(n / 5, 0.4)]),
      still,
    );
    expect(recognised).toBe(true);
    expect(streaks).toHaveLength(1);
    expect(streaks[0]!.kind).toBe('person');
    expect(foundIn({ ...moving, streaks }).map(({ kind }) => kind)).toEqual(['person']);
    expect(foundIn(moving)).toEqual([]);
  });

  test('the kind is what most of it says, or none where little is said', () => {
    const kinds = (at: (n: number) => Recognised[]) => withRecognised(moving, every(at), still).streaks[0]!.kind;
    expect(kinds((n) => [seen(n / 5, n === 0 ? 0.5 : 0.4, n === 0 ? 'vehicle' : 'animal')])).toBe('animal');
    expect(kinds((n) => (n === 25 ? [seen(5, 0.35)] : []))).toBeUndefined();
  });

  test('who stands still is found from when to when it is seen, also where it is missed once', () => {
    const at = every((n) => (n === 50 ? [] : [seen(-90, 0.5)]));
    const { streaks } = withRecognised(moving, at, still);
    const [found, ...others] = foundIn({ ...moving, streaks });
    expect(others).toEqual([]);
    expect([found!.kind, found!.in]).toEqual(['person', 0]);
    expect(found!.out).toBeCloseTo(8, 1);
    for (const [, x, y, z] of streaks[1]!.looks) expect(angleBetween([x, y, z], directionOf(-90, 0))).toBeLessThan(0.1);
  });

  test('what was seen once, faintly, or now here and now there, is not offered', () => {
    const offered = (of: (n: number) => Recognised[]) => withRecognised(moving, every(of), still).streaks.length - 1;
    expect(offered((n) => (n === 50 ? [seen(-90, 0.5)] : []))).toBe(0);
    expect(offered((n) => (n === 50 ? [seen(-90, 0.65)] : []))).toBe(1);
    const passing = withRecognised(
      { ...moving, still: moving.still.map(() => false) },
      every((n) => (n === 50 ? [seen(-90, 0.5)] : [])),
      still,
    );
    expect(foundIn(passing)).toHaveLength(1);
    expect(offered((n) => [seen(-90 - 2 * n, 0.4)])).toBe(0);
    expect(offered((n) => [seen(-90, n < 50 ? 0.5 : 0.4, n < 50 ? 'person' : 'animal')])).toBe(2);
  });

  test('who walks, stands still and walks on is one; somebody else who stands there, or of another kind, is not', () => {
    const moments = (kind: Recognised['kind'], pan: number): Moment[] =>
      [10, 35, 60, 85].map((frame) => ({ frame, seen: frame === 10 || frame === 85 ? [] : [seen(pan, 0.6, kind)] }));
    const walks = (from: number, to: number, pan: (n: number) => number) => ({
      sure: 0.7,
      kind: 'person' as const,
      looks: Array.from({ length: (to - from) / 5 + 1 }, (_, i) => look(from + 5 * i, pan(from + 5 * i))),
    });
    const streaks = [walks(0, 20, (n) => n - 20), walks(75, 95, (n) => n - 75)];
    const found = (kind: Recognised['kind'], pan: number) =>
      withRecognised({ ...moving, streaks }, moments(kind, pan), still).streaks;
    const [whole, ...others] = found('person', 0);
    expect(others).toEqual([]);
    expect(whole!.looks.map(([frame]) => frame)).toEqual(Array.from({ length: 20 }, (_, i) => 5 * i));
    for (const [frame, x, y, z] of whole!.looks) {
      const pan = frame < 20 ? frame - 20 : Math.max(0, frame - 75);
      expect(angleBetween([x, y, z], directionOf(pan, 0))).toBeLessThan(0.1);
    }
    expect(found('person', 6)).toHaveLength(3);
    expect(found('vehicle', 0)).toHaveLength(3);
  });

  test('a press finds the box of who was recognised there, and of two the nearer', () => {
    const both = every(() => [seen(-90, 0.5), seen(-85, 0.5)]);
    const known = withRecognised(moving, both, still);
    const pressed = (pan: number) => recognisedAt(known, 33, directionOf(pan, 2));
    expect(pressed(-91)!.width).toBeCloseTo(4, 1);
    expect(pressed(-91)!.height).toBeCloseTo(8, 1);
    expect(angleBetween(pressed(-91)!.direction, directionOf(-90, 0))).toBeLessThan(0.1);
    expect(angleBetween(pressed(-86)!.direction, directionOf(-85, 0))).toBeLessThan(0.1);
    expect(pressed(-100)).toBeNull();
    expect(recognisedAt(moving, 33, directionOf(6.6, 0))).toBeNull();
  });

  test('looks are in the pictures of a rig that turns', () => {
    const turning = (n: number): Matrix3 => rotationOf({ pan: n, tilt: 0, roll: n / 2 });
    const { streaks } = withRecognised(
      { ...moving, streaks: [] },
      every(() => [seen(-90, 0.5)]),
      turning,
    );
    expect(streaks[0]!.looks.length).toBeGreaterThan(12);
    for (const [frame, x, y, z] of streaks[0]!.looks)
      expect(angleBetween(apply(turning(frame), [x, y, z]), directionOf(-90, 0))).toBeLessThan(0.1);
  });
});
