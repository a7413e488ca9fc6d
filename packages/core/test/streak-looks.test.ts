import { expect, test } from '@jest/globals';
import { outlineOfStreak, piecesOfStreak } from '../src/follow/outline.js';
import { isSubject, lookOfStreak } from '../src/follow/streak-looks.js';
import { foundOf, type SubjectTrack } from '../src/follow/subject.js';
import { angleBetween, IDENTITY } from '../src/geometry/rotation.js';
import { directionOf } from '../src/geometry/sphere.js';
import { foundIn } from '../src/moving/found.js';
import type { Moving, MovingLook } from '../src/moving/moving.js';

const look = (frame: number, pan: number, size = 8): MovingLook => [frame, ...directionOf(pan, 0), size / 2, size];
/** Somebody goes by at 10° a second, is not seen for two seconds, and goes on; something stays, unsure. */
const goes = { sure: 0.9, looks: [0, 5, 10, 15, 40, 45, 50].map((n) => look(n, n)) };
const moving: Moving = {
  format: 'glimbo-moving',
  version: 1,
  rate: 10,
  every: 5,
  frames: 60,
  stage: 10,
  still: [true, true, true, true, true, true],
  streaks: [{ sure: 0.2, looks: [look(0, 90), look(5, 90)] }, goes],
};

const frames = Array.from({ length: 60 }, (_, n) => n);
const still = { at: () => IDENTITY };

test('a streak is on its way between looks, and nowhere where it was not seen for long', () => {
  for (const n of [0, 3, 12, 42, 54]) {
    const seen = foundOf(lookOfStreak(moving, goes, n)!);
    expect(angleBetween(seen.direction, directionOf(Math.min(n, 50), 0))).toBeLessThan(0.01);
    expect([seen.width, seen.height, seen.trust]).toEqual([4, 8, 0.9]);
  }
  expect(frames.filter((n) => lookOfStreak(moving, goes, n))).toHaveLength(35);
  for (const n of [25, 56, 1000]) expect(lookOfStreak(moving, goes, n)).toBeNull();
  expect(lookOfStreak(moving, { sure: 1, looks: goes.looks.slice(2) }, 3)).toBeNull();
});

test('it is drawn where it is', () => {
  const outline = outlineOfStreak(moving, goes, 1, still)!;
  for (const d of outline) expect(angleBetween(d, directionOf(10, 0))).toBeLessThan(4.01);
  expect(outlineOfStreak(moving, goes, 2.5, still)).toBeNull();
  const pieces = piecesOfStreak(moving, goes, still, { from: 0.5, to: 1.5, step: 2 });
  expect(pieces.map(({ from }) => 10 * from)).toEqual([4, 6, 8, 10, 12, 14].map((n) => expect.closeTo(n)));
  for (const { from, heading, half } of pieces) {
    expect(heading).toBeCloseTo(10 * from, 2);
    expect(half).toBeCloseTo(2, 2);
  }
});

test('what was found is told by when it is seen, with a look that is large but not the largest', () => {
  const sizes = [6, 8, 10, 12, 30];
  const grows = { sure: 0.6, kind: 'animal' as const, looks: sizes.map((size, i) => look(5 * i, 0, size)) };
  const found = foundIn({ ...moving, streaks: [...moving.streaks, grows] });
  expect(found.map(({ streak, kind, in: from, out, size }) => ({ streak, kind, from, out, size }))).toEqual([
    { streak: 1, kind: null, from: 0, out: 5.5, size: 8 },
    { streak: 2, kind: 'animal', from: 0, out: 2.5, size: 10 },
  ]);
  expect(found[1]!.look[5]).toBe(12);
});

test('what lies in something larger for most of the time is a part of it, and not offered', () => {
  const on = (by: number, size: number, from = 0, to = 8) => ({
    sure: 0.8,
    looks: Array.from({ length: to - from }, (_, i) => look(5 * (from + i), 5 * i + by, size)),
  });
  const offered = (...streaks: Moving['streaks']) => foundIn({ ...moving, streaks }).map(({ streak }) => streak);
  expect(offered(on(0, 20), on(3, 4), on(20, 4))).toEqual([0, 2]);
  // One that is there for longer, one that was met in passing, and one of the same size are somebody else.
  expect(offered(on(0, 20, 2, 5), on(3, 4))).toEqual([1, 0]);
  expect(
    offered(on(0, 20, 0, 8), { sure: 0.8, looks: [0, 1, 2, 3, 4, 5].map((n) => look(5 * n, n < 2 ? 5 * n : 90, 4)) }),
  ).toEqual([0, 1]);
  expect(offered(on(0, 20), on(1, 20))).toEqual([0, 1]);
});

test('a subject is what a streak shows where it is in it for most of the time', () => {
  const shifted = (by: number, from = 0) => ({
    ...goes,
    looks: goes.looks.slice(from).map(([n]) => look(n, n + by)),
  });
  const looks = frames.map((n) => lookOfStreak(moving, goes, n));
  const track: SubjectTrack = { format: 'glimbo-subject', version: 2, rate: 10, looks };
  expect(isSubject(shifted(2), track)).toBe(true);
  expect(isSubject(shifted(9), track)).toBe(false);
  // It was seen there for the least part only.
  expect(isSubject({ looks: [20, 25, 30, 35, 40].map((n) => look(n, n)) }, track)).toBe(false);
});
