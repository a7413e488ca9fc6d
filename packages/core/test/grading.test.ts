/** A look over time and what is made of it: keyed dials, moods, treatments, the Meter, shake, scopes, decisions that come near. */
import { describe, expect, test } from '@jest/globals';
import { IDENTITY, vec3, type Vec3 } from '../src/geometry/rotation.js';
import { DEFAULT_VIEW } from '../src/lens/view.js';
import { mapOfDecision } from '../src/look/cdl.js';
import { gradeAt } from '../src/look/channels.js';
import { cubeOf } from '../src/look/cube.js';
import { dialThrough, HANDLES, toneCurve } from '../src/look/curve.js';
import { fitDecision } from '../src/look/fit-decision.js';
import { gradeOf } from '../src/look/grade.js';
import { LIGHT, lightOf } from '../src/look/light.js';
import { meterStops, seenStops, stopsAt, USUAL_METER } from '../src/look/meter.js';
import { MOODS } from '../src/look/moods.js';
import { neutralFor } from '../src/look/neutral.js';
import { clippedOf, histogramOf, lightByHeading, waveformOf } from '../src/look/scopes.js';
import { DIALS, NEUTRAL, type Light } from '../src/look/settings.js';
import { shakeAt, shaken, USUAL_SHAKE } from '../src/look/shake.js';
import { bake, codesOfRgb, directly, lookUp } from '../src/look/table.js';
import { fromLinear } from '../src/look/transfer.js';
import { mapOf, NO_CUBES, treatmentAt } from '../src/look/treatment.js';
import { keyId } from '../src/path/keys.js';
import { keysOf } from '../src/path/path.js';
import { removeKeys, setChannelKey } from '../src/path/edit.js';
import { shiftKeys } from '../src/path/group.js';
import { seededRandom } from '../src/random.js';
import { curvesOf, withCurves } from '../src/edit/curves.js';
import { withDetail, withGrade, withLook, withShake } from '../src/edit/look.js';
import { meteringOf, meterToKeys } from '../src/edit/metering.js';
import { newTake } from '../src/take/take.js';
import { readTake } from '../src/take/validate.js';
import { aimOf, TAKE_ALONE, viewOf } from '../src/view/view-of.js';

const take = newTake('a.mp4', 10);
const near = (a: Vec3, b: Vec3, digits = 6) => a.forEach((v, k) => expect(v).toBeCloseTo(b[k]!, digits));

describe('dials over time', () => {
  const keyed = withGrade(take, {
    exposure: [
      { time: 1, value: 0, ease: 'linear' },
      { time: 3, value: 2 },
    ],
    tint: 20,
  });

  test('are evaluated like the path’s channels', () => {
    expect(gradeAt(keyed.look!.grade!, 2)).toMatchObject({ exposure: 1, tint: 20, contrast: 0 });
    expect(treatmentAt(keyed, 2)).toEqual({ grade: { ...NEUTRAL, exposure: 1, tint: 20 } });
  });

  test('are edited with the path’s own means, and the path stays the same object', () => {
    const ref = new Set([keyId({ channel: 'exposure', time: 3 })]);
    const moved = withCurves(keyed, shiftKeys(curvesOf(keyed), ref, 1, { exposure: 9 }));
    expect(moved.look!.grade!.exposure).toEqual([
      keysOf(curvesOf(keyed), 'exposure')[0],
      { time: 4, value: DIALS.exposure.most },
    ]);
    expect(moved.path).toBe(keyed.path);
    const both = withCurves(keyed, setChannelKey(setChannelKey(curvesOf(keyed), 'pan', 2, 30), 'contrast', 2, 5));
    expect([both.path.pan, both.look!.grade!.contrast]).toEqual([
      [{ time: 2, value: 30, ease: 'smooth' }],
      [{ time: 2, value: 5, ease: 'smooth' }],
    ]);
    expect('contrast' in both.path).toBe(false);
  });

  test('without its last key a dial keeps its value; at nothing it is gone, and with it the look', () => {
    const only = withGrade(take, { shadows: [{ time: 2, value: 30 }] });
    const freed = withCurves(only, removeKeys(curvesOf(only), new Set([keyId({ channel: 'shadows', time: 2 })])));
    expect(freed.look).toEqual({ grade: { shadows: 30 } });
    expect(withGrade(freed, { shadows: 0 }).look).toBeUndefined();
    expect(withDetail(withDetail(take, { clarity: 5 }), { clarity: 0 }).look).toBeUndefined();
    expect(withShake(withShake(take, { roll: 1 }), { roll: 0 }).look).toBeUndefined();
  });

  test.each([
    [{ grade: { exposure: 5 } }, /exposure lies from -4 to 4/],
    [{ grade: { contrast: 'much' } }, /number or a list/],
    [{ mood: { name: 'x', grade: { tint: [] }, amount: 50 } }, /numbers/],
    [{ lut: { file: '', amount: 50 } }, /file/],
    [{ detail: { sharpen: { amount: 10, radius: 9, threshold: 0 } } }, /radius/],
    [{ shake: { position: 50, roll: 0, roughness: 0, seed: 1 } }, /position/],
    [{ meter: { target: 0, limit: 3 } }, /smooth/],
    [{ overlays: {} }, /list/],
  ])('a document with the look %j is refused', (look, words) => {
    expect(() => readTake({ ...take, look })).toThrow(words);
  });
});

describe('treatments', () => {
  const lut = { file: 'warm.cube', amount: 50 };
  const cube = cubeOf('Warm', gradeOf({ ...NEUTRAL, temperature: 60 }), 17);

  test('do the grade first, then the LUT by its amount, then the mood by its', () => {
    const looked = withLook(take, {
      grade: { exposure: 0.3 },
      lut,
      mood: { name: 'Slate', grade: { saturation: -100 }, amount: 50 },
    });
    const treatment = treatmentAt(looked, 0)!;
    const map = mapOf(treatment, new Map([['warm.cube', cube]]));
    const rgb: Vec3 = [0.4, 0.3, 0.2];
    const graded = gradeOf({ ...NEUTRAL, exposure: 0.3 })(rgb);
    const warm = gradeOf({ ...NEUTRAL, temperature: 60 })(graded);
    const half = vec3(graded.map((v, k) => (v + warm[k]!) / 2));
    const grey = gradeOf({ ...NEUTRAL, saturation: -100 })(half);
    near(map(rgb), vec3(half.map((v, k) => (v + grey[k]!) / 2)), 2);
    // Without its LUT the rest is still done.
    near(mapOf({ ...treatment, mood: undefined }, NO_CUBES)(rgb), graded);
  });

  test('nothing is none', () => {
    expect(treatmentAt(take, 0)).toBeNull();
    expect(treatmentAt(withLook(take, { lut: { ...lut, amount: 0 }, shutter: 180 }), 0)).toBeNull();
  });
});

describe('moods', () => {
  test.each(MOODS)('$name: its table is within 2 codes of the chain and half a code in the mean', ({ grade }) => {
    const map = gradeOf(gradeAt(grade, 0));
    const [table, direct] = [bake(map, 65), directly(map)];
    const random = seededRandom(4);
    const off = Array.from({ length: 1500 }, () => codesOfRgb([random(), random(), random()])).flatMap((codes) => {
      const wanted = direct(codes);
      return lookUp(table, codes).map((v, k) => Math.abs(v - wanted[k]!));
    });
    expect(off.reduce((a, b) => a + b) / off.length).toBeLessThan(0.5);
    expect(Math.max(...off)).toBeLessThan(2);
  });
});

describe('grey', () => {
  test.each<Vec3>([
    [0.5, 0.47, 0.42],
    [0.42, 0.45, 0.5],
    [0.3, 0.33, 0.3],
  ])('%j becomes neutral', (...rgb) => {
    const out = gradeOf({ ...NEUTRAL, ...neutralFor(vec3(rgb)) })(vec3(rgb));
    expect(Math.max(...out) - Math.min(...out)).toBeLessThan(0.004);
  });
});

describe('the curve of tones', () => {
  test.each(Object.keys(HANDLES) as (keyof Light)[])('dragged at %s it goes through where it is dragged to', (dial) => {
    const now = toneCurve(NEUTRAL)(HANDLES[dial]);
    for (const by of [-0.03, 0.03]) {
      const value = dialThrough(NEUTRAL, dial, now + by);
      expect(toneCurve({ ...NEUTRAL, [dial]: value })(HANDLES[dial])).toBeCloseTo(now + by, 2);
    }
  });
});

describe('a decision that comes near', () => {
  test('to a decision is that decision', () => {
    const decision = {
      id: 'x',
      slope: vec3([1.1, 1, 0.9]),
      offset: vec3([0.01, 0.02, 0]),
      power: vec3([1.1, 1, 0.95]),
      saturation: 1.2,
    };
    const { decision: found, off } = fitDecision('x', mapOfDecision(decision));
    near(found.slope, decision.slope, 1);
    near(found.power, decision.power, 1);
    expect(found.saturation).toBeCloseTo(1.2, 1);
    expect(off).toBeLessThan(0.01);
  });

  test.each(MOODS)('to the mood $name is off by less than 3 % in the mean', ({ grade }) => {
    expect(fitDecision('x', gradeOf(gradeAt(grade, 0))).off).toBeLessThan(0.03);
  });
});

describe('scopes', () => {
  test('count what there is', () => {
    expect(histogramOf([0, 0.1, 0.6, 1, 2, -1], 2)).toEqual([0.5, 0.5]);
    expect(waveformOf([0, 1, 0, 1], 2, 2, 2)).toEqual([
      [1, 0],
      [0, 1],
    ]);
    expect(clippedOf([0, 0.5, 1, 1])).toEqual({ black: 0.25, white: 0.5 });
  });

  test('light by heading is lightest where the sun is, also on a turned sphere', () => {
    const sun = (d: Vec3): Vec3 => (d[0] > 0.7 ? [1, 1, 1] : [0.2, 0.2, 0.2]);
    const lightest = (turn: typeof IDENTITY) =>
      lightByHeading(sun, turn, 36).reduce((a, b) => (a.mean >= b.mean ? a : b)).heading;
    expect(Math.abs(lightest(IDENTITY) - 90)).toBeLessThan(25);
    expect(Math.abs(lightest([0, 0, 1, 0, 1, 0, -1, 0, 0]))).toBeLessThan(25);
  });
});

describe('shake', () => {
  const hand = { ...USUAL_SHAKE, position: 1, roll: 2 };
  const over = (seconds: number) => Array.from({ length: seconds * 60 }, (_, i) => shakeAt(hand, i / 60));
  const rms = (values: number[]) => Math.sqrt(values.reduce((s, v) => s + v * v, 0) / values.length);

  test.each([0, 50, 100])('is as large as it says, at a roughness of %i', (roughness) => {
    const samples = Array.from({ length: 60 * 60 }, (_, i) => shakeAt({ ...hand, roughness, seed: 7 }, i / 60));
    expect(rms(samples.map((s) => s.x)) / 0.01).toBeCloseTo(1, 1);
    expect(rms(samples.map((s) => s.y)) / 0.01).toBeCloseTo(1, 1);
    expect(rms(samples.map((s) => s.roll)) / 2).toBeCloseTo(1, 1);
  });

  test('is the same again, another for another seed, and its axes have nothing to do with each other', () => {
    expect(over(2)).toEqual(over(2));
    expect(shakeAt({ ...hand, seed: 2 }, 1)).not.toEqual(shakeAt(hand, 1));
    const [xs, ys] = [over(60).map((s) => s.x), over(60).map((s) => s.y)];
    expect(Math.abs(xs.reduce((s, v, i) => s + v * ys[i]!, 0) / (xs.length * rms(xs) * rms(ys)))).toBeLessThan(0.25);
  });

  test('rougher is faster', () => {
    const speed = (roughness: number) => {
      const xs = Array.from({ length: 1200 }, (_, i) => shakeAt({ ...hand, roughness }, i / 60).x);
      return rms(xs.slice(1).map((v, i) => v - xs[i]!));
    };
    expect(speed(100)).toBeGreaterThan(2 * speed(0));
  });

  test('shifts the picture alike in every format, and only what is drawn', () => {
    const shaking = withShake(take, { position: 2 });
    const { x } = shakeAt(shaking.look!.shake!, 1.3);
    expect(viewOf(shaking, TAKE_ALONE, 1.3).shiftX).toBeCloseTo(2 * x, 9);
    expect(aimOf(shaking, TAKE_ALONE, 1.3).shiftX).toBe(0);
    // Half shorter sides of a frame that is twice as tall as wide: its height is four of them.
    expect(shaken(DEFAULT_VIEW, shaking.look!.shake, 1.3, 0.5).shiftX).toBeCloseTo(4 * x, 9);
  });
});

describe('the Meter', () => {
  /** A footage of ten seconds, a third as bright from 4 to 6 s: luma codes of an even sphere. */
  const code = (light: number) => Math.round(16 + 219 * fromLinear(light));
  const lit = (t: number) => (t >= 4 && t < 6 ? 0.03 : 0.3);
  const light = lightOf(
    Uint8Array.from({ length: 10 * LIGHT.rate * LIGHT.width * LIGHT.height }, (_, i) =>
      code(lit(Math.floor(i / (LIGHT.width * LIGHT.height)) / LIGHT.rate)),
    ),
  );
  const metered = { light, viewAt: () => DEFAULT_VIEW, correctionAt: () => IDENTITY, ratio: 16 / 9 };

  test('sees what there is, in stops from mid-grey', () => {
    expect(seenStops(metered, 3)).toBeCloseTo(Math.log2(0.3 / 0.18), 1);
    expect(seenStops(metered, 30)).toBeCloseTo(Math.log2(0.03 / 0.18), 1);
  });

  test('brings it to the target, meets what comes, and never jumps', () => {
    const stops = meterStops(USUAL_METER, metered);
    const left = (t: number) => Math.log2(lit(t) / 0.18) + stopsAt(stops, t);
    for (const t of [0.5, 2, 5, 8, 9.5]) expect(Math.abs(left(t))).toBeLessThan(0.1);
    // On the way before the dark begins.
    expect(stopsAt(stops, 3.8)).toBeGreaterThan(stopsAt(stops, 2) + 0.3);
    const frames = Array.from({ length: 299 }, (_, n) =>
      Math.abs(stopsAt(stops, (n + 1) / 30) - stopsAt(stops, n / 30)),
    );
    expect(Math.max(...frames)).toBeLessThan(0.15);
  });

  test('keeps to its limits, and to a lock', () => {
    expect(Math.max(...meterStops({ ...USUAL_METER, limit: 1 }, metered))).toBeLessThanOrEqual(1);
    const locked = meterStops({ ...USUAL_METER, lock: 5 }, metered);
    expect(new Set(locked).size).toBe(1);
    expect(locked[0]).toBeGreaterThan(2);
  });

  test('adds to the exposure, and becomes keyframes of it', () => {
    const metering = withLook({ ...take, range: { in: 1, out: 9 } }, { meter: USUAL_METER, grade: { exposure: 0.5 } });
    const at = meteringOf(metering, light, { at: () => IDENTITY } as never)!;
    expect(treatmentAt(metering, 5, at)!.grade.exposure).toBeCloseTo(0.5 + at(5), 9);
    const { take: keyed, off } = meterToKeys(metering, at, 30);
    expect(keyed.look!.meter).toBeUndefined();
    expect(off).toBeLessThanOrEqual(0.03);
    for (const t of [1, 3.5, 5, 6.2, 8.9]) expect(gradeAt(keyed.look!.grade!, t).exposure).toBeCloseTo(0.5 + at(t), 1);
    expect(keysOf(curvesOf(keyed), 'exposure').length).toBeLessThan(20);
    expect(meteringOf(take, light, { at: () => IDENTITY } as never)).toBeNull();
  });
});
