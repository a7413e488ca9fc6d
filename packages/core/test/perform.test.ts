/** Steering by hand, and shaping by handles. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { evaluate, slopeAt, type Keyframe } from '../src/curve/channel.js';
import { setEase, setViewKey } from '../src/path/edit.js';
import type { Bezier } from '../src/curve/ease.js';
import { allKeys } from '../src/path/keys.js';
import { emptyPath, keysOf, viewAt } from '../src/path/path.js';
import { RADIANS } from '../src/geometry/rotation.js';
import { directionOf } from '../src/geometry/sphere.js';
import { FOV_MIN, maxFov, radiusOf, widened } from '../src/lens/projection.js';
import { carriedView, carriedWith, NOT_CARRIED, onFrames, perform, pushed } from '../src/path/perform.js';
import { arrivingAt, leavingAt, meanSpeed, segmentAt, shapeSegment, speedsOf, turnSegment } from '../src/path/shape.js';
import { DEFAULT_VIEW } from '../src/lens/view.js';

describe('steering', () => {
  const none = { pan: 0, tilt: 0, roll: 0, zoom: 0 };
  test('turns, tilts no further than the poles, rolls, and zooms within the lens', () => {
    expect(pushed(DEFAULT_VIEW, { ...none, pan: 1 }, 0.5).pan).toBeCloseTo(35, 6);
    expect(pushed(DEFAULT_VIEW, { ...none, tilt: 1 }, 60).tilt).toBe(90);
    expect(pushed(DEFAULT_VIEW, { ...none, roll: -1 }, 1).roll).toBe(-45);
    expect(pushed(DEFAULT_VIEW, { ...none, zoom: 1 }, 1).fov).toBeCloseTo(37.5, 6);
    expect(pushed(DEFAULT_VIEW, { ...none, zoom: 1 }, 60).fov).toBe(5);
    // Closer in the same push turns more slowly.
    expect(pushed({ ...DEFAULT_VIEW, fov: 30 }, { ...none, pan: 1 }, 0.5).pan).toBeCloseTo(14, 6);
  });

  test('goes along with a subject, over the seam and round again', () => {
    const directions = Array.from({ length: 41 }, (_, n) => directionOf(150 + 18 * n, 20 - n));
    const sizes = directions.map(() => 10);
    const carried = carriedWith({ rate: 10, directions, sizes }, 1, false);
    expect(carried(1)).toEqual(NOT_CARRIED);
    expect(carried(1.05).pan).toBeCloseTo(9, 6);
    expect(carried(4).pan).toBeCloseTo(540, 6);
    expect(carried(4).tilt).toBeCloseTo(-30, 6);
    // Before and after what is known it stays.
    expect(carried(60)).toEqual(carried(4));
    expect(carried(0).pan).toBeCloseTo(-180, 6);
    expect(carriedView({ ...DEFAULT_VIEW, pan: 10, tilt: 80 }, { pan: 200, tilt: 30, wider: 1 })).toMatchObject({
      pan: 210,
      tilt: 90,
      fov: DEFAULT_VIEW.fov,
    });
  });

  test.each([0, 0.5, 1, 2])(
    'keeps its size in the frame where that is kept, with bend %d, as far as the lens goes',
    (bend) => {
      const directions = Array.from({ length: 41 }, () => directionOf(0, 0));
      const sizes = directions.map((_, n) => 2 * 1.04 ** n);
      const view = { ...DEFAULT_VIEW, fov: 40, bend };
      const share = (time: number, fov: number) =>
        radiusOf((sizes[Math.round(time * 10)]! / 2) * RADIANS, bend) / radiusOf((fov / 2) * RADIANS, bend);
      const carried = carriedWith({ rate: 10, directions, sizes }, 0, true);
      for (const time of [0, 1, 2])
        expect(share(time, carriedView(view, carried(time)).fov) / share(0, 40)).toBeCloseTo(1, 2);
      expect(carriedWith({ rate: 10, directions, sizes }, 0, false)(4).wider).toBe(1);
      expect(widened(view, 1e6)).toBeLessThanOrEqual(maxFov(bend));
      expect(widened(view, 1e-6)).toBe(FOV_MIN);
      expect(widened({ ...view, fov: widened(view, 1.4) }, 1 / 1.4)).toBeCloseTo(40, 6);
    },
  );

  const steered = Array.from({ length: 50 }, (_, i) => ({
    time: 2 + i * 0.0413,
    values: { pan: 20 * Math.sin(i / 8), tilt: 0, roll: 0, fov: 60, bend: 0 },
  }));
  test('is brought onto frames, straight between what was taken down', () => {
    const frames = onFrames(
      [
        { time: 1, values: { pan: 0 } },
        { time: 2, values: { pan: 30 } },
      ],
      30,
    );
    expect(frames).toHaveLength(31);
    expect(frames[15]!.values.pan).toBeCloseTo(15, 6);
    expect(onFrames([], 30)).toEqual([]);
  });
  test('punches into a path: only its own stretch is another', () => {
    let path = emptyPath();
    for (const [t, pan] of [
      [0, 5],
      [2.5, 90],
      [3, 95],
      [8, 5],
    ] as const)
      path = setViewKey(path, t, { pan });
    const made = perform(path, steered, { width: 0, tolerance: 1, rate: 30 })!;
    expect(made.deviation).toBeLessThanOrEqual(1);
    const pans = keysOf(made.path, 'pan');
    expect([pans[0]!.value, pans.at(-1)!.value]).toEqual([5, 5]);
    expect(pans.some((k) => k.value > 80)).toBe(false);
    for (const s of onFrames(steered, 30))
      expect(Math.abs(viewAt(made.path, s.time).pan - s.values.pan!)).toBeLessThan(1.01);
    expect(made.keys).toBe(pans.length - 2);
    expect(perform(path, steered.slice(0, 1), { width: 0, tolerance: 1, rate: 30 })).toBeNull();
  });
});

describe('handles', () => {
  const share = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  const curve: fc.Arbitrary<Bezier> = fc.tuple(share(0.1, 0.9), share(-0.5, 1.5), share(0.1, 0.9), share(-0.5, 1.5));
  const ends = { a: { time: 1, value: 10 }, b: { time: 3, value: 70 } };

  test('of the speed curve are those of the value curve: both say the same', () => {
    fc.assert(
      fc.property(curve, share(-200, 200), share(0.1, 0.9), (c, speed, x) => {
        const keys: Keyframe[] = [{ ...ends.a, ease: c }, ends.b];
        const { start, end } = speedsOf(ends, c);
        expect(slopeAt(keys, 1)).toBeCloseTo(start, 1);
        expect(slopeAt(keys, 3 - 1e-9)).toBeCloseTo(end, 1);
        expect(speedsOf(ends, leavingAt(ends, c, speed, x)).start).toBeCloseTo(speed, 6);
        expect(speedsOf(ends, arrivingAt(ends, c, speed, x)).end).toBeCloseTo(speed, 6);
      }),
    );
    expect(meanSpeed(ends)).toBe(30);
  });

  test('joined leave no corner on either side', () => {
    let path = emptyPath();
    for (const [t, pan] of [
      [0, 0],
      [1, 40],
      [2, 60],
      [4, 10],
    ] as const)
      path = setViewKey(path, t, { pan });
    path = setEase(path, allKeys(path), 'ease-in-out');
    const shaped = shapeSegment(path, 'pan', 1, [0.3, 0.9, 0.6, 0.5], { joined: true });
    const slope = (t: number) => slopeAt(keysOf(shaped, 'pan') as Keyframe[], t);
    for (const t of [1, 2]) expect(slope(t - 1e-7)).toBeCloseTo(slope(t + 1e-7), 2);
    // The others are as they were, and one alone stays alone.
    expect(keysOf(shaped, 'tilt')).toEqual(keysOf(path, 'tilt'));
    const together = shapeSegment(path, 'pan', 1, 'whip', { together: true });
    expect(keysOf(together, 'fov')[1]!.ease).toBe('whip');
    expect(shapeSegment(path, 'pan', 9, 'whip')).toBe(path);
  });

  test('the segment at a time is the one that goes on there, at the end the last', () => {
    const keys = [0, 1, 2].map((time) => ({ time, value: time * time }));
    expect([-1, 0, 0.5, 1, 5].map((t) => segmentAt(keys, t)!.index)).toEqual([0, 0, 0, 1, 1]);
    expect(segmentAt(keys.slice(0, 1), 0)).toBeNull();
    expect(evaluate(keys, 0.5, 0)).toBeGreaterThan(0);
    const path = setViewKey(setViewKey(emptyPath(), 0, {}), 1, {});
    expect(keysOf(turnSegment(path, 0, 'arc'), 'pan').map((k) => k.turn)).toEqual(['arc', undefined]);
  });
});
