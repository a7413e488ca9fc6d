/** Which frames a clip shows and when; histories of a take. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { newTake } from '../src/take/take.js';
import { clipTiming, frameShown, framesIn, type ClipTiming } from '../src/take/timing.js';
import { clockOf, shownLength } from '../src/time/clock.js';

const take = (from: number, to: number, reading?: number) => ({
  ...newTake('a.mp4', 10),
  range: { in: from, out: to },
  ...(reading ? { reading } : {}),
});

/** The frames of footage of 30 frames a second that a clip shows. */
const shown = (timing: ClipTiming) => Array.from({ length: timing.frames }, (_, n) => frameShown(timing, 30, n));

describe('the timing of a clip', () => {
  test('at the footage’s own rate is frame for frame', () => {
    const timing = clipTiming(take(1, 3), 30, 300)!;
    expect(timing).toMatchObject({ first: 30, last: 90, rate: 30, frames: 60 });
    expect(shown(timing)).toEqual(Array.from({ length: 60 }, (_, n) => 30 + n));
  });

  test('read slower it has as many frames, at the slower rate; exported faster it repeats them', () => {
    const slow = clipTiming(take(0, 2, 24), 30, 300)!;
    expect([slow.rate, slow.frames]).toEqual([24, 60]);
    expect(slow.step).toBeCloseTo(1 / 30, 12);
    const fast = clipTiming(take(0, 1), 30, 300, 60)!;
    expect(shown(fast).slice(0, 6)).toEqual([0, 0, 1, 1, 2, 2]);
    expect(shown(clipTiming(take(0, 1), 30, 300, 15)!).slice(0, 3)).toEqual([0, 2, 4]);
  });

  test('stays within the footage and the range, in order, at any rate and reading', () => {
    const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    fc.assert(
      fc.property(
        number(0, 9),
        number(0.05, 6),
        fc.option(number(5, 120), { nil: undefined }),
        fc.option(number(1, 120), { nil: undefined }),
        (from, length, reading, rate) => {
          const timing = clipTiming(take(from, from + length, reading), 30, 300, rate);
          if (!timing) return expect(Math.round(from * 30)).toBeGreaterThanOrEqual(300);
          const { first, last } = timing;
          if (last <= first) return;
          const frames = shown(timing);
          for (const [i, n] of frames.entries()) {
            expect(n).toBeGreaterThanOrEqual(first);
            expect(n).toBeLessThan(last);
            if (i) expect(n).toBeGreaterThanOrEqual(frames[i - 1]!);
          }
        },
      ),
    );
  });

  test('begins after the footage’s end nowhere', () => {
    expect(clipTiming(take(10, 11), 30, 300)).toBeNull();
    expect(framesIn(0.001, 30)).toBe(1);
  });
});

describe('the clock of a take', () => {
  test('is the footage’s own as long as it is read as it was filmed', () => {
    const clock = clockOf(take(0, 1), 30);
    expect([clock.shown(3.7), clock.footage(3.7), clock.speed]).toEqual([3.7, 3.7, 1]);
  });

  test('30 read as 24 is a quarter slower, and goes both ways', () => {
    const clock = clockOf(take(0, 2, 24), 30);
    expect(clock.shown(2)).toBeCloseTo(2.5, 12);
    expect(clock.speed).toBeCloseTo(0.8, 12);
    expect(shownLength(clock, { in: 1, out: 3 })).toBeCloseTo(2.5, 12);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1e5, noNaN: true }), (t) =>
        expect(clock.footage(clock.shown(t))).toBeCloseTo(t, 6),
      ),
    );
  });
});
