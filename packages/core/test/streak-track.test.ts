import { expect, test } from '@jest/globals';
import { foundTracks, isSubject, trackOfStreak } from '../src/follow/streak-track.js';
import { foundOf, isSeen, lostStretches } from '../src/follow/subject.js';
import { angleBetween } from '../src/geometry/rotation.js';
import { directionOf } from '../src/geometry/sphere.js';
import { foundIn, type Moving, type MovingLook } from '../src/moving/moving.js';

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

test('a streak as a track is on its way between looks, and nowhere where it was not seen for long', () => {
  const [track, ...others] = foundTracks(moving);
  expect(others).toEqual([]);
  for (const n of [0, 3, 12, 42, 54]) {
    const seen = foundOf(track!.looks[n]!);
    expect(angleBetween(seen.direction, directionOf(Math.min(n, 50), 0))).toBeLessThan(0.01);
    expect([seen.width, seen.height, seen.trust]).toEqual([4, 8, 0.9]);
  }
  expect(track!.looks.filter((l) => isSeen(l))).toHaveLength(35);
  expect([track!.looks[25], track!.looks[56]]).toEqual([null, null]);
  expect(lostStretches(track!)).toEqual([]);
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

test('a subject is what a streak shows where it is in it for most of the time', () => {
  const shifted = (by: number, from = 0) => ({
    ...goes,
    looks: goes.looks.slice(from).map(([n]) => look(n, n + by)),
  });
  const track = trackOfStreak(moving, goes);
  expect(isSubject(shifted(2), track)).toBe(true);
  expect(isSubject(shifted(9), track)).toBe(false);
  // It was seen there for the least part only.
  expect(isSubject({ looks: [20, 25, 30, 35, 40].map((n) => look(n, n)) }, track)).toBe(false);
});
