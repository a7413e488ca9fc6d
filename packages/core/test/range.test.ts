/** In and out points, ticks of time, names that tell apart, sizes that are learned. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { numbered, unique, versionName } from '../src/gather/names.js';
import { estimateSize, learnedRatio, ratioKey } from '../src/export/estimate.js';
import { rangeProblem, setIn, setOut } from '../src/edit/range.js';
import { tickText, timeTicks } from '../src/time/ticks.js';

const length = { rate: 30, duration: 12 };
const range = { in: 2, out: 8 };
const time = fc.double({ min: -5, max: 20, noNaN: true });

describe('in and out', () => {
  test('are never empty and never outside the footage, whatever is set and how', () => {
    fc.assert(
      fc.property(time, time, fc.constantFrom('stop' as const, 'yield' as const), (a, b, beyond) => {
        for (const r of [
          setIn(setOut(range, a, length, beyond), b, length, beyond),
          setOut(setIn(range, a, length, beyond), b, length, beyond),
        ]) {
          expect(r.in).toBeGreaterThanOrEqual(0);
          expect(r.out).toBeLessThanOrEqual(length.duration);
          expect(r.out - r.in).toBeGreaterThan(0.9 / length.rate);
        }
      }),
    );
  });

  test('dragging stops at the other point; a key lets it give way', () => {
    expect(setIn(range, 10, length)).toEqual({ in: 8 - 1 / 30, out: 8 });
    expect(setIn(range, 10, length, 'yield')).toEqual({ in: 10, out: 12 });
    expect(setOut(range, 1, length)).toEqual({ in: 2, out: 2 + 1 / 30 });
    expect(setOut(range, 1, length, 'yield')).toEqual({ in: 0, out: 1 });
    expect(setIn(range, 3.0101, length).in).toBeCloseTo(3, 9);
  });

  test('that do not fit a footage are told in a sentence', () => {
    expect(rangeProblem({ in: 0, out: 12 }, length)).toBeNull();
    expect(rangeProblem({ in: 0, out: 12 + 1.5 / 30 }, length)).toBeNull();
    expect(rangeProblem({ in: 0, out: 1e6 }, length)).toMatch(/out point, 1000000 s.*at 12 s/);
    expect(rangeProblem({ in: 12, out: 13 }, length)).toMatch(/in point/);
  });
});

describe('ticks', () => {
  test('stand far enough apart, on round times, within the axis', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 4000, noNaN: true }),
        fc.double({ min: 0.3, max: 9000, noNaN: true }),
        fc.integer({ min: 80, max: 2000 }),
        (from, span, pixels) => {
          const { times, step } = timeTicks(from, from + span, pixels, 30);
          expect((step / span) * pixels).toBeGreaterThanOrEqual(55.9);
          const near = 1e-8 + step * 1e-8;
          for (const t of times)
            expect(
              t >= from - near && t <= from + span + near && Math.abs(t / step - Math.round(t / step)) < 1e-6,
            ).toBe(true);
          if (pixels > 400) expect(times.length).toBeGreaterThan(1);
        },
      ),
    );
  });

  test('five minutes, and a part of a second', () => {
    expect(timeTicks(0, 300, 520, 30)).toEqual({ step: 60, digits: 0, times: [0, 60, 120, 180, 240, 300] });
    const close = timeTicks(10, 10.3, 520, 30);
    expect(close.step).toBeCloseTo(1 / 30, 9);
    expect(close.digits).toBe(2);
  });

  test('are written as people read time', () => {
    expect([tickText(0, 0), tickText(65, 0), tickText(5.5, 1), tickText(3725, 0)]).toEqual([
      '0:00',
      '1:05',
      '0:05.5',
      '1:02:05',
    ]);
  });
});

describe('names', () => {
  test('takes of one footage are numbered, and versions too', () => {
    expect(numbered('Ridge, take', [])).toBe('Ridge, take 1');
    expect(numbered('Ridge, take', ['Ridge, take 1', 'Ridge, take 3'])).toBe('Ridge, take 2');
    expect(unique('Mine', [])).toBe('Mine');
    expect(unique('Mine', ['Mine', 'Mine 2'])).toBe('Mine 3');
    expect(versionName('Ridge', ['Ridge'])).toBe('Ridge, version 2');
    expect(versionName('Ridge, version 2', ['Ridge', 'Ridge, version 2'])).toBe('Ridge, version 3');
  });
});

describe('sizes', () => {
  const settings = { width: 1920, height: 1080, codec: 'h264' as const };
  test('what came out is learned by codec, and comes nearer with each clip', () => {
    const guess = estimateSize(settings, 10, 30, true);
    let ratio: number | undefined;
    const off: number[] = [];
    for (let i = 0; i < 6; i++) {
      off.push(Math.abs(Math.log(3 / (ratio ?? 1))));
      ratio = learnedRatio(ratio, 3 * guess, guess);
    }
    expect(ratio).toBeCloseTo(3, 6);
    expect(off[1]!).toBeLessThan(off[0]!);
    expect(learnedRatio(3, guess, guess)).toBeGreaterThan(1);
    expect(learnedRatio(3, guess, guess)).toBeLessThan(3);
    expect(ratioKey(settings)).not.toBe(ratioKey({ ...settings, bitRate: 8e6 }));
  });

  test('nonsense teaches nothing, and nothing is believed to be off without bounds', () => {
    expect(learnedRatio(2, 0, 100)).toBe(2);
    expect(learnedRatio(undefined, 100, 0)).toBe(1);
    expect(learnedRatio(undefined, 1e12, 1)).toBe(8);
  });
});
