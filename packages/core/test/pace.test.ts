/** Pace and its inverse, held frames, the frames and the sound of a clip that has one; formats with corrections. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { heldIn, keepsSpeed, paceMap, withoutPaceKey, withPaceKey, type Pace, type PaceKey } from '../src/pace/pace.js';
import { keepTiming } from '../src/pace/keep-timing.js';
import { pacedSound } from '../src/pace/sound.js';
import { shotsIn } from './planned-shots.js';
import { clipPlan } from '../src/plan/clip-plan.js';
import { setViewKey } from '../src/path/edit.js';
import { emptyPath } from '../src/path/path.js';
import { EASES } from '../src/curve/ease.js';
import { clipLength, clipTiming, frameShown } from '../src/take/timing.js';
import { correctTo, corrected, corrects, uncorrected } from '../src/take/format-correction.js';
import { addFormat, formatsOf, inFormat, removeFormat, withCorrection } from '../src/take/formats.js';
import { newTake, type Take } from '../src/take/take.js';
import { readTake } from '../src/take/validate.js';
import { frameOfTimecode, timecode } from '../src/time/timecode.js';
import { viewOf } from '../src/view/view-of.js';

const keys: fc.Arbitrary<PaceKey[]> = fc
  .uniqueArray(fc.integer({ min: 0, max: 300 }), { minLength: 1, maxLength: 6 })
  .chain((frames) =>
    fc.tuple(
      ...frames
        .sort((a, b) => a - b)
        .map((f) =>
          fc.record({
            time: fc.constant(f / 30),
            speed: fc.double({ min: 0.1, max: 16, noNaN: true }),
            ease: fc.constantFrom(...EASES),
            held: fc.constantFrom(0, 0, 0, 0.5, 2),
          }),
        ),
    ),
  );
const range = { in: 1, out: 9 };

describe('pace', () => {
  test('and its inverse agree, whatever the speeds, eases and held frames', () => {
    fc.assert(
      fc.property(keys, fc.double({ min: 0, max: 1, noNaN: true }), fc.constantFrom(1, 0.8), (k, share, unit) => {
        const map = paceMap({ keys: k }, range, unit);
        const time = range.in + (range.out - range.in) * share;
        expect(map.footage(map.clip(time))).toBeCloseTo(time, 9);
        expect(map.footage(0)).toBeCloseTo(range.in, 9);
        // A frame that is held at the in point stands from the beginning on.
        expect(map.footage(map.length)).toBeCloseTo(range.out, 9);
        let before = -Infinity;
        for (let i = 0; i <= 50; i++) {
          const at = map.footage((map.length * i) / 50);
          expect(at).toBeGreaterThanOrEqual(before - 1e-9);
          before = at;
        }
      }),
    );
  });

  test('is the integral of its speed', () => {
    fc.assert(
      fc.property(keys, (k) => {
        const map = paceMap({ keys: k.map(({ held: _, ...key }) => key) }, range);
        const steps = 4000;
        let clip = 0;
        for (let i = 0; i < steps; i++) clip += 8 / steps / map.speedAt(range.in + ((i + 0.5) * 8) / steps);
        expect(clip / map.length).toBeCloseTo(1, 2);
      }),
      { numRuns: 40 },
    );
  });

  test('known: half as fast lasts twice as long, a straight ramp its mean, a held frame its seconds more', () => {
    expect(paceMap({ keys: [{ time: 3, speed: 0.5 }] }, range).length).toBeCloseTo(16, 9);
    const ramp = paceMap(
      {
        keys: [
          { time: 1, speed: 1, ease: 'linear' },
          { time: 9, speed: 3 },
        ],
      },
      range,
    );
    expect(ramp.length).toBeCloseTo(4, 9);
    expect(ramp.footage(2)).toBeCloseTo(1 + 2 * 1.5, 9);
    const held = paceMap({ keys: [{ time: 5, speed: 1, held: 2 }] }, range);
    expect([held.length, held.footage(4), held.footage(5), held.footage(6), held.footage(7)]).toEqual([10, 5, 5, 5, 6]);
    expect(heldIn({ keys: [{ time: 5, speed: 1, held: 2 }] }, range)).toHaveLength(1);
    expect(paceMap(undefined, range).footage(3)).toBe(4);
  });

  test('keys are set, replaced and taken away', () => {
    const one = withPaceKey(undefined, { time: 2, speed: 0.5 });
    const two = withPaceKey(withPaceKey(one, { time: 1, speed: 2 }), { time: 2, speed: 4 });
    expect(two.keys.map((k) => [k.time, k.speed])).toEqual([
      [1, 2],
      [2, 4],
    ]);
    expect(withoutPaceKey(withoutPaceKey(two, 1), 2)).toBeUndefined();
  });

  test('a document with one that stands still or goes back is refused', () => {
    const take = (pace: unknown) => ({ ...newTake('a.mp4', 10), pace });
    expect(readTake(take({ keys: [{ time: 1, speed: 0.5 }], blend: 'mean' })).pace!.keys).toHaveLength(1);
    for (const bad of [
      { keys: [{ time: 1, speed: 0 }] },
      { keys: [{ time: 1, speed: 1, held: -1 }] },
      {
        keys: [
          { time: 2, speed: 1 },
          { time: 1, speed: 1 },
        ],
      },
      {
        keys: [
          { time: 1, speed: 1, ease: [0.3, -2, 0.7, 1] },
          { time: 2, speed: 3 },
        ],
      },
      { keys: 'all' },
    ])
      expect(() => readTake(take(bad))).toThrow(/pace/);
    expect(keepsSpeed([0.3, -2, 0.7, 1], 1, 3)).toBe(false);
  });

  test('decides which frames a clip has, and how many', () => {
    const take = { range: { in: 0, out: 4 }, pace: { keys: [{ time: 0, speed: 0.5 }] } } satisfies Partial<Take>;
    const timing = clipTiming(take, 30, 300)!;
    expect([timing.frames, clipLength(take, 30)]).toEqual([240, 8]);
    expect([0, 1, 2, 3, 239].map((n) => frameShown(timing, 30, n))).toEqual([0, 0, 1, 1, 119]);
    const fast = clipTiming({ ...take, pace: { keys: [{ time: 0, speed: 4 }] } }, 30, 300)!;
    expect([fast.frames, frameShown(fast, 30, 7)]).toEqual([30, 28]);
  });

  test('mixes neighbours by their shares where that is wanted, and never past the last frame', () => {
    const take: Take = {
      ...newTake('a.mp4', 10),
      range: { in: 0, out: 1 },
      pace: { keys: [{ time: 0, speed: 0.25 }], blend: 'mean' },
    };
    const footage = { source: { kind: 'sphere' as const }, rate: 30, frames: 30, motion: null };
    const plan = clipPlan(take, footage, { width: 64, height: 36 })!;
    const shots = (n: number) => shotsIn(plan, n)[0]!.map((s) => [s.frame, Number(s.weight.toFixed(6))]);
    expect([shots(0), shots(1), shots(4), shots(119)]).toEqual([
      [[0, 1]],
      [
        [0, 0.75],
        [1, 0.25],
      ],
      [[1, 1]],
      [[29, 1]],
    ]);
    expect(plan.frames).toBe(120);
  });

  test('lets the path keep its timing in the clip, where that is wanted', () => {
    const path = setViewKey(setViewKey(emptyPath(), 2, { pan: 0 }), 4, { pan: 9 });
    const before = paceMap(undefined, { in: 0, out: 10 });
    const now = paceMap({ keys: [{ time: 0, speed: 0.5 }] }, { in: 0, out: 10 });
    const kept = keepTiming(path, before, now, { rate: 30, end: 9.9 });
    expect((kept.pan as { time: number }[]).map((k) => [k.time, now.clip(k.time)])).toEqual([
      [1, 2],
      [2, 4],
    ]);
    expect(keepTiming(kept, now, before, { rate: 30, end: 9.9 })).toEqual(path);
  });

  test('says for the sound how long every stretch is, where frames stand, and where it is quiet', () => {
    const pace: Pace = {
      keys: [
        { time: 2, speed: 1, held: 1, ease: 'linear' },
        { time: 4, speed: 0.25 },
      ],
      quietBelow: 0.5,
    };
    const sound = pacedSound({ pace }, { in: 0, out: 6 }, 1);
    if (!sound || sound === 'off') throw new Error('there is sound');
    const map = paceMap(pace, { in: 0, out: 6 });
    const lengths = sound.stretches.map((s) => s.length + s.held);
    expect(lengths.reduce((a, b) => a + b, 0)).toBeCloseTo(map.length, 9);
    expect(sound.stretches.map((s) => [s.from, s.to, s.held])).toEqual([
      [0, 2, 1],
      [2, 6, 0],
    ]);
    expect(sound.quiet).toHaveLength(1);
    expect(sound.quiet[0]!.to).toBeCloseTo(map.length, 6);
    expect(pacedSound({ pace: { ...pace, sound: 'off' } }, range, 1)).toBe('off');
    expect(pacedSound({}, range, 1)).toBeNull();
  });
});

describe('formats with corrections', () => {
  const view = { pan: 30, tilt: -5, roll: 2, fov: 60, bend: 0, shiftX: 0, shiftY: 0 };

  test('are seen corrected, and what is seen is brought back to the path', () => {
    const correction = { pan: 10, zoom: 1.5, shiftY: 0.2 };
    const seen = corrected(view, correction, 0);
    expect(seen).toMatchObject({ pan: 40, fov: 90, shiftY: 0.2, tilt: -5 });
    expect(uncorrected(seen, correction, 0)).toEqual({ ...view, shiftY: 0 });
    expect(corrected(view, undefined, 0)).toBe(view);
    expect([corrects(undefined), corrects({ zoom: 1, pan: 0 }), corrects(correction)]).toEqual([false, false, true]);
  });

  test('one is aimed by a value, or with keyframes', () => {
    const one = correctTo(undefined, view, { pan: 50, fov: 30 }, 2);
    expect(one).toEqual({ pan: 20, zoom: 0.5 });
    const keyed = correctTo(correctTo({ pan: 20 }, view, { pan: 40 }, 1, true), view, { pan: 60 }, 3, true);
    expect(corrected(view, keyed, 2).pan).toBeCloseTo(50, 6);
    // Once it has keyframes it goes on with them.
    expect(correctTo(keyed, view, { pan: 30 }, 5).pan).toHaveLength(3);
  });

  test('each is its own in the view, the document, and when others come and go', () => {
    let take: Take = { ...newTake('a.mp4', 10), path: setViewKey(emptyPath(), 0, { pan: 30 }) };
    take = withCorrection(inFormat(addFormat(take, '9:16'), '9:16'), { pan: -12 });
    expect([viewOf(take, {}, 1).pan, viewOf(inFormat(take, '16:9'), {}, 1).pan]).toEqual([18, 30]);
    expect(readTake(JSON.parse(JSON.stringify(take)))).toEqual(take);
    expect(formatsOf(withCorrection(take, undefined)).every((f) => f.correction === undefined)).toBe(true);
    const less = removeFormat(take, '9:16');
    expect([less.frame.aspect, formatsOf(less).length, formatsOf(removeFormat(less, '16:9')).length]).toEqual([
      '16:9',
      1,
      1,
    ]);
    expect(() => inFormat(take, '1:1')).toThrow(RangeError);
    const bad = { ...take, frame: { aspect: '16:9', formats: [{ aspect: '16:9', correction: { zoom: 99 } }] } };
    expect(() => readTake(bad)).toThrow(/correction/);
  });
});

test('timecode is written and read', () => {
  expect([timecode(0, 30), timecode(3723 * 25 + 7, 25), timecode(59, 29.97)]).toEqual([
    '00:00:00:00',
    '01:02:03:07',
    '00:00:01:29',
  ]);
  expect([frameOfTimecode('01:02:03:07', 25), frameOfTimecode('2:10', 30), frameOfTimecode('12', 30)]).toEqual([
    93082, 70, 12,
  ]);
  expect(['', 'a:b', '1:2:3:4:5', '-1'].map((t) => frameOfTimecode(t, 30))).toEqual([NaN, NaN, NaN, NaN]);
});
