import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { evaluate, type Keyframe } from '../src/curve/channel.js';
import { bezierAt, EASES, easeAt, type Ease } from '../src/curve/ease.js';
import {
  hasKeyframes,
  holdUntil,
  viewKeysOf,
  moveViewKey,
  removeViewKey,
  setEase,
  setViewKey,
  snap,
  turnDials,
} from '../src/path/edit.js';
import { viewKeySelection } from '../src/path/keys.js';
import { emptyPath, speedAt, viewAt } from '../src/path/path.js';

const ease: fc.Arbitrary<Ease> = fc.oneof(
  fc.constantFrom(...EASES),
  fc.tuple(...[0, -2, 0, -2].map((low, i) => fc.double({ min: low, max: i % 2 ? 3 : 1, noNaN: true }))) as fc.Arbitrary<
    [number, number, number, number]
  >,
);
const keys: fc.Arbitrary<Keyframe[]> = fc
  .uniqueArray(fc.integer({ min: 0, max: 900 }), { minLength: 1, maxLength: 8 })
  .chain((frames) =>
    fc.tuple(
      ...frames
        .sort((a, b) => a - b)
        .map((f) =>
          fc.record({ time: fc.constant(f / 30), value: fc.double({ min: -720, max: 720, noNaN: true }), ease }),
        ),
    ),
  );

describe('eases', () => {
  test('start at 0 and end at 1', () => {
    for (const name of EASES) if (name !== 'smooth') expect([easeAt(name, 0), easeAt(name, 1)]).toEqual([0, 1]);
  });

  test('have the shapes their names say', () => {
    expect(easeAt('linear', 0.3)).toBeCloseTo(0.3, 12);
    expect(easeAt('hold', 0.99)).toBe(0);
    expect(easeAt('ease-in', 0.2)).toBeLessThan(0.1);
    expect(easeAt('ease-out', 0.2)).toBeGreaterThan(0.3);
    expect(easeAt('ease-in-out', 0.5)).toBeCloseTo(0.5, 9);
    expect(easeAt('whip', 0.25)).toBeLessThan(0.05);
    expect(easeAt('whip', 0.75)).toBeGreaterThan(0.95);
    expect(easeAt('jolt', 0.15)).toBeGreaterThan(0.6);
  });

  test('a Bézier passes through the points of its parameter form', () => {
    const [x1, y1, x2, y2] = [0.25, 0.1, 0.25, 1] as const;
    for (let t = 0.05; t < 1; t += 0.05) {
      const c = (a: number, b: number) => 3 * (1 - t) ** 2 * t * a + 3 * (1 - t) * t * t * b + t ** 3;
      expect(bezierAt([x1, y1, x2, y2], c(x1, x2))).toBeCloseTo(c(y1, y2), 8);
    }
  });
});

describe('a channel', () => {
  test('is finite everywhere and exact at its keyframes, for any keyframes and eases', () => {
    fc.assert(
      fc.property(keys, fc.double({ min: -5, max: 40, noNaN: true }), (channel, time) => {
        expect(Number.isFinite(evaluate(channel, time, 0))).toBe(true);
        for (const k of channel) expect(evaluate(channel, k.time, 0)).toBeCloseTo(k.value, 6);
      }),
    );
  });

  test('smooth never overshoots and stands still between equal values', () => {
    fc.assert(
      fc.property(keys, fc.double({ min: 0, max: 1, noNaN: true }), (any, share) => {
        const channel = any.map((k) => ({ ...k, ease: 'smooth' as const }));
        for (let i = 0; i + 1 < channel.length; i++) {
          const [a, b] = [channel[i]!, channel[i + 1]!];
          const v = evaluate(channel, a.time + (b.time - a.time) * share, 0);
          expect(v).toBeGreaterThanOrEqual(Math.min(a.value, b.value) - 1e-6);
          expect(v).toBeLessThanOrEqual(Math.max(a.value, b.value) + 1e-6);
        }
      }),
    );
    const still = [
      { time: 0, value: 0 },
      { time: 1, value: 50 },
      { time: 2, value: 50 },
      { time: 3, value: 0 },
    ];
    for (const t of [1.1, 1.5, 1.9]) expect(evaluate(still, t, 0)).toBe(50);
  });

  test('smooth has no corner at a keyframe', () => {
    const channel = [
      { time: 0, value: 0 },
      { time: 1, value: 30 },
      { time: 3, value: 50 },
    ];
    const slope = (t: number) => (evaluate(channel, t + 1e-5, 0) - evaluate(channel, t - 1e-5, 0)) / 2e-5;
    expect(slope(1 - 1e-4)).toBeCloseTo(slope(1 + 1e-4), 1);
    expect(slope(1)).toBeGreaterThan(5);
  });

  test('without keyframes is its default or its fixed value', () => {
    expect(evaluate([], 3, 75)).toBe(75);
    expect(evaluate(20, 3, 75)).toBe(20);
  });
});

describe('a path', () => {
  const spin = {
    ...emptyPath(),
    pan: [
      { time: 0, value: -40, ease: 'linear' as const },
      { time: 4, value: 720 },
    ],
  };

  test('turns any number of times along its dials', () => {
    expect(viewAt(spin, 2).pan).toBeCloseTo(340, 9);
    expect(speedAt(spin, 2, 30)).toBeCloseTo(190, 3);
  });

  test('by arc takes the shortest turn, evenly, and meets its keyframes', () => {
    const path = {
      ...setViewKey(setViewKey(emptyPath(), 0, { pan: 170, tilt: 20 }, 'linear'), 2, { pan: -170, tilt: 20 }),
      turn: 'arc' as const,
    };
    expect(viewAt(path, 2).pan).toBe(-170);
    const middle = viewAt(path, 1);
    expect(Math.abs(((middle.pan + 540) % 360) - 180)).toBeCloseTo(180, 6);
    expect(speedAt(path, 0.5, 30)).toBeCloseTo(speedAt(path, 1.5, 30), 3);
    expect(speedAt(path, 1, 30)).toBeLessThan(12);
  });
});

describe('editing', () => {
  const two = setViewKey(setViewKey(emptyPath(), 1, { pan: 10 }), 3, { pan: 50, fov: 40 });

  test('a keyframe of the view sets all dials together', () => {
    expect(viewKeysOf(two).map((m) => [m.time, m.view.pan, m.view.fov])).toEqual([
      [1, 10, 75],
      [3, 50, 40],
    ]);
    expect(viewKeysOf(two)[0]!.channels).toEqual(['pan', 'tilt', 'roll', 'fov', 'bend']);
  });

  test('dials set a keyframe; the first one makes the view stand still, and is kept when another follows', () => {
    const first = turnDials(emptyPath(), 0, { pan: 33 });
    expect(viewAt(first, 99).pan).toBe(33);
    const second = turnDials(first, 4, { pan: 70 });
    expect([viewAt(second, 0).pan, viewAt(second, 4).pan]).toEqual([33, 70]);
    expect(viewKeysOf(turnDials(two, 2, { tilt: 5 })).map((m) => m.time)).toEqual([1, 2, 3]);
  });

  test('moving, duplicating, removing and easing leave the others alone', () => {
    expect(viewKeysOf(moveViewKey(two, 1, 2)).map((m) => m.time)).toEqual([2, 3]);
    expect(viewKeysOf(moveViewKey(two, 1, 3)).map((m) => m.view.pan)).toEqual([10]);
    expect(viewKeysOf(setEase(two, viewKeySelection(two, 1), 'whip')).map((m) => m.ease)).toEqual(['whip', 'smooth']);
    const none = removeViewKey(removeViewKey(two, 1), 3);
    expect(hasKeyframes(none)).toBe(false);
    expect(viewAt(none, 0)).toMatchObject({ pan: 50, fov: 40 });
  });

  test('hold stands still until a time, then goes on', () => {
    const held = holdUntil(two, 2, 2.5);
    const before = viewAt(two, 2).pan;
    for (const t of [2, 2.2, 2.49]) expect(viewAt(held, t).pan).toBeCloseTo(before, 9);
    expect(viewAt(held, 3).pan).toBe(50);
    expect(viewAt(held, 2.8).pan).toBeGreaterThan(before);
  });

  test('snaps to frames', () => expect(snap(1.234, 30)).toBeCloseTo(37 / 30, 12));
});
