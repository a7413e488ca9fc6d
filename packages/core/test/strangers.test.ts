import { describe, expect, test } from '@jest/globals';
import { Strangers } from '../src/follow/strangers.js';
import { apply, IDENTITY, rotationOf, transpose, type Matrix3 } from '../src/geometry/rotation.js';
import { directionOf, lonLatOf } from '../src/geometry/sphere.js';
import type { Moving, MovingLook } from '../src/moving/moving.js';

const RATE = 10;
const SIZE = 8;
const still = () => IDENTITY;

/** Somebody who goes from one pan to another, looked at five times a second. */
const way = (from: number, to: number, pan: (n: number) => number, toWorld: (n: number) => Matrix3 = still) =>
  Array.from({ length: Math.floor((to - from) / 2) + 1 }, (_, i): MovingLook => {
    const n = from + 2 * i;
    return [n, ...apply(transpose(toWorld(n)), directionOf(pan(n), 0)), SIZE / 2, SIZE];
  });

const movingOf = (...ways: MovingLook[][]): Moving => ({
  format: 'glimbo-moving',
  version: 1,
  rate: RATE,
  every: 2,
  frames: 400,
  stage: 100,
  still: [true, true, true, false],
  streaks: ways.map((looks) => ({ sure: 0.9, looks })),
});

/** The subject was at −20° when it was seen last, at 5 s. */
const last = { frame: 50, direction: directionOf(-20, 0), size: SIZE };
const own = way(0, 50, (n) => -70 + n);
const whose = (moving: Moving, frame: number, pan: number, seen = last) =>
  new Strangers(moving, still).whose(frame, directionOf(pan, 0), seen);

describe('who looks like a subject that was lost', () => {
  test('is somebody else, who was elsewhere while it was seen', () => {
    expect(
      whose(
        movingOf(
          own,
          way(0, 120, (n) => 60 - n / 2),
        ),
        100,
        10,
      ),
    ).toBe('stranger');
  });

  test('is the subject, where its streak goes on, or another begins where it ended', () => {
    expect(whose(movingOf(way(0, 120, (n) => -70 + n)), 100, 30)).toBe('subject');
    expect(
      whose(
        movingOf(
          own,
          way(58, 120, (n) => -70 + n),
        ),
        100,
        30,
      ),
    ).toBe('subject');
  });

  test('is somebody else whose streak was broken off, several times', () => {
    const pan = (n: number) => 60 - n / 2;
    expect(whose(movingOf(own, way(0, 60, pan), way(66, 80, pan), way(84, 120, pan)), 100, 10)).toBe('stranger');
  });

  test('is somebody else who splits off from one who was elsewhere', () => {
    const pair = way(0, 120, () => 60);
    expect(
      whose(
        movingOf(
          own,
          pair,
          way(70, 120, (n) => 60 - (n - 70)),
        ),
        100,
        30,
      ),
    ).toBe('stranger');
  });

  test('is a newcomer who comes from nowhere, for ten seconds; then nobody can say', () => {
    const later = (from: number) =>
      movingOf(
        own,
        way(from, from + 40, () => 90),
      );
    expect(whose(later(90), 110, 90)).toBe('newcomer');
    expect(whose(later(160), 180, 90)).toBe('stranger');
  });

  test('is nobody where nothing moves, and unknown where that is not known', () => {
    expect(whose(movingOf(own), 100, 120)).toBe('nobody');
    expect(whose(movingOf(own), 350, 120)).toBeNull();
  });

  test('may be whatever moves that is no stranger, what is nearest first, or anything where that is not known', () => {
    const moving = movingOf(
      own,
      way(0, 120, (n) => 60 - n / 2),
      way(90, 120, () => 90),
      way(58, 120, (n) => -70 + n),
      way(310, 360, () => -90),
    );
    const pans = (frame: number) => {
      const places = new Strangers(moving, still).mayBe(frame, last);
      return places.map(({ direction }) => Math.round(lonLatOf(direction).longitude));
    };
    expect(pans(100)).toEqual([30, 90]);
    expect(pans(340)).toEqual([-90]);
    expect(new Strangers(moving, still).mayBe(100, last)[0]!.size).toBe(SIZE);
  });

  test('is recognised where a streak has a kind, and is at that moment', () => {
    const moving = movingOf(
      way(0, 120, () => 10),
      way(0, 120, () => 50),
    );
    moving.streaks[0]!.kind = 'person';
    const strangers = new Strangers(moving, still);
    const pans = [10, 12, 30, 50].map((pan) => strangers.isRecognised(60, directionOf(pan, 0)));
    expect(pans).toEqual([true, true, false, false]);
    expect(strangers.isRecognised(140, directionOf(10, 0))).toBe(false);
  });

  test('is traced on the way back alike', () => {
    const seen = { frame: 150, direction: directionOf(-20, 0), size: SIZE };
    const moving = movingOf(
      way(80, 200, (n) => 90 - n / 2),
      way(150, 200, () => -20),
      way(90, 140, () => -24),
    );
    expect(whose(moving, 100, 40, seen)).toBe('stranger');
    expect(whose(moving, 100, -24, seen)).toBe('subject');
  });

  test('in the world, however the rig turns', () => {
    const turning = (n: number) => rotationOf({ pan: 3 * n, tilt: 0, roll: n });
    const moving = movingOf(
      way(0, 50, (n) => -70 + n, turning),
      way(0, 120, (n) => 60 - n / 2, turning),
    );
    const strangers = new Strangers(moving, turning);
    expect(strangers.whose(100, directionOf(10, 0), last)).toBe('stranger');
    expect(strangers.whose(100, directionOf(-20, 0), last)).toBe('nobody');
  });
});
