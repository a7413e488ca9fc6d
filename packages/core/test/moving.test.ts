/** What moves: regions of known pictures, streaks of known ways, a known square beside a known world, and following by it. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { boxAbout, framesOf, NotWorld, takesInItsOwn, type Beside } from '../src/follow/not-world.js';
import { boxMoving } from '../src/follow/point-out.js';
import { cellOf, glimpse, glimpseOf, SphereFrame, type Level } from '../src/frame/sphere-frame.js';
import { NOBODY } from '../src/follow/next-frame.js';
import { SubjectTracker, TRUSTED } from '../src/follow/tracker.js';
import { uprightTo } from '../src/follow/aim.js';
import {
  angleBetween,
  apply,
  IDENTITY,
  multiply,
  RADIANS,
  rotationOf,
  transpose,
  type Matrix3,
  type Vec3,
} from '../src/geometry/rotation.js';
import { directionOf, lonLatOf } from '../src/geometry/sphere.js';
import { foundIn } from '../src/moving/found.js';
import { readMoving, toldShare, writtenStreak, type Moving } from '../src/moving/moving.js';
import { regionsOf, standsOut, type Region } from '../src/moving/regions.js';
import { StreakJoiner, type Rig } from '../src/moving/streaks.js';
import { seededRandom } from '../src/random.js';

const WIDTH = 512;
const HEIGHT = WIDTH / 2;

/** Excess of 40 within boxes given by their middles and sizes in degrees. */
function excessIn(boxes: readonly { lon: number; lat: number; width: number; height: number }[]): Uint8Array {
  const out = new Uint8Array(WIDTH * HEIGHT);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const [lon, lat] = [((x + 0.5) / WIDTH - 0.5) * 360, (0.5 - (y + 0.5) / HEIGHT) * 180];
      for (const b of boxes) {
        const off = ((lon - b.lon + 540) % 360) - 180;
        if (Math.abs(off) * Math.cos(b.lat * RADIANS) < b.width / 2 && Math.abs(lat - b.lat) < b.height / 2)
          out[y * WIDTH + x] = 40;
      }
    }
  return out;
}

describe('regions', () => {
  test('are boxes where they are, also across the back and high up, in degrees on the sphere', () => {
    const boxes = [
      { lon: 20, lat: 5, width: 8, height: 16 },
      { lon: 180, lat: -10, width: 12, height: 9 },
      { lon: -60, lat: 60, width: 10, height: 10 },
    ];
    const found = regionsOf(excessIn(boxes), WIDTH);
    expect(found).toHaveLength(3);
    for (const box of boxes) {
      const region = found.find(({ direction }) => angleBetween(direction, directionOf(box.lon, box.lat)) < 1)!;
      expect(Math.abs(region.width - box.width)).toBeLessThan(1.5);
      expect(Math.abs(region.height - box.height)).toBeLessThan(1.5);
      expect(region.excess).toBe(40);
    }
  });

  test('are none in specks, and none where all is another light', () => {
    const random = seededRandom(3);
    const specks = new Uint8Array(WIDTH * HEIGHT).map(() => (random() < 0.01 ? 60 : 0));
    expect(regionsOf(specks, WIDTH)).toEqual([]);
    expect(regionsOf(new Uint8Array(WIDTH * HEIGHT).fill(40), WIDTH)).toEqual([]);
    expect(standsOut(new Uint8Array(WIDTH * HEIGHT).fill(40), WIDTH)).toBeCloseTo(1, 6);
    expect(standsOut(excessIn([{ lon: 0, lat: 0, width: 360, height: 60 }]), WIDTH)).toBeCloseTo(0.5, 1);
  });
});

const regionAt = (lon: number, lat: number, size = 6): Region => ({
  direction: directionOf(lon, lat),
  width: size / 2,
  height: size,
  excess: 30,
});

const stands: Rig = { toWorld: () => IDENTITY, travels: () => false };

describe('streaks', () => {
  test('two that pass each other stay two, and go on over a look in which neither is seen', () => {
    const joiner = new StreakJoiner();
    for (let n = 0; n < 30; n++)
      if (n !== 11) joiner.add(n, [regionAt(-30 + 2 * n, 0), regionAt(30 - 2 * n, 9)]);
      else joiner.add(n, []);
    const streaks = joiner.streaks(stands);
    expect(streaks).toHaveLength(2);
    for (const { looks, sure } of streaks) {
      expect(looks).toHaveLength(29);
      expect(sure).toBeGreaterThan(0.9);
      const longitudes = looks.map(({ direction }) => lonLatOf(direction).longitude);
      const ways = longitudes.slice(1).map((l, i) => Math.sign(l - longitudes[i]!));
      expect(new Set(ways).size).toBe(1);
    }
  });

  test('what flutters where it is, is less sure than what goes, and what is seen twice is chance', () => {
    const joiner = new StreakJoiner();
    for (let n = 0; n < 12; n++) {
      const twice = n < 2 ? [regionAt(120, 0)] : [];
      joiner.add(n, [regionAt(n * 2, 0), regionAt(-90 + (n % 2), 20), ...twice]);
    }
    const [goes, flutters] = [...joiner.streaks(stands)].sort((a, b) => b.sure - a.sure);
    expect(joiner.streaks(stands)).toHaveLength(2);
    expect(flutters!.sure).toBeLessThan(0.6 * goes!.sure);
  });

  test('what stays where it is in the picture of a rig that travels goes with the rig', () => {
    const toWorld = (look: number) => rotationOf({ pan: 3 * look, tilt: 0, roll: 0 });
    const joiner = new StreakJoiner();
    for (let n = 0; n < 20; n++) joiner.add(n, [regionAt(3 * n, -30), regionAt(100 - 2 * n, 10)]);
    const streaks = joiner.streaks({ toWorld, travels: () => true });
    const of = (latitude: number) =>
      streaks.find(({ looks }) => lonLatOf(looks[0]!.direction).latitude * latitude > 0)!;
    expect(of(-30).sure).toBeLessThan(0.4);
    expect(of(10).sure).toBeGreaterThan(0.9);
    for (const { sure } of joiner.streaks({ toWorld, travels: () => false })) expect(sure).toBeGreaterThan(0.9);
  });
});

test('the document says in which frame and where in its picture, and is read back; broken ones are refused', () => {
  const joiner = new StreakJoiner();
  for (let n = 0; n < 6; n++) joiner.add(n, [regionAt(4 * n, 5)]);
  const turned = (frame: number) => rotationOf({ pan: frame, tilt: 3, roll: 0 });
  const [streak] = joiner.streaks(stands);
  const written = writtenStreak(streak!, 7, turned);
  const moving: Moving = {
    format: 'glimbo-moving',
    version: 1,
    rate: 30,
    every: 7,
    frames: 42,
    stage: 14,
    still: [true, true, false],
    travels: [false, false, true],
    streaks: [written],
  };
  expect(readMoving(JSON.parse(JSON.stringify(moving)))).toEqual(moving);
  expect(foundIn({ ...moving, streaks: [written, { ...written, sure: 0.2 }] })).toEqual([
    { streak: 0, kind: null, in: 0, out: 1.4, size: 6, sure: written.sure, look: expect.any(Array) },
  ]);
  expect(toldShare(moving)).toBe(1);
  expect(toldShare({ still: moving.still })).toBeCloseTo(2 / 3, 6);
  for (const wrong of [{ kind: 'ghost' }, { portrait: 3 }])
    expect(() => readMoving({ ...moving, streaks: [{ ...written, ...wrong }] })).toThrow();
  const look = written.looks[3]!;
  expect(look[0]).toBe(21);
  expect(angleBetween(apply(turned(21), [look[1], look[2], look[3]]), directionOf(12, 5))).toBeLessThan(0.1);
  for (const broken of [
    { version: 2 },
    { rate: 0 },
    { every: 0 },
    { still: [1] },
    { travels: [true] },
    { streaks: [{ sure: 2, looks: [] }] },
    { streaks: [{ sure: 1, looks: [[0, 1, 1, 1, 3, 3]] }] },
  ])
    expect(() => readMoving({ ...moving, ...broken })).toThrow(/cannot be read/);
});

/**
 * A still world of soft noise in grey, `WIDTH` across, and a frame of it with a box that differs by `more` grey levels; where it `stood`
 * for long it is in the world as well.
 */
function scene(
  m: Matrix3,
  at: Vec3 | null,
  { width = 5, height = 12, more = -50, stood = false } = {},
): { frame: SphereFrame; beside: Beside } {
  const light = ([x, y, z]: Vec3) => 120 + 25 * Math.sin(7 * x + 2) * Math.cos(9 * z) + 20 * Math.sin(11 * y + 5 * x);
  const level = (turn: Matrix3, box: Matrix3 | null): Level => {
    const luma = new Uint8Array(WIDTH * HEIGHT);
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) {
        const d = apply(turn, directionOf(((x + 0.5) / WIDTH - 0.5) * 360, (0.5 - (y + 0.5) / HEIGHT) * 180));
        const [bx, by, bz] = box ? apply(box, d) : [0, 0, -1];
        const inside =
          bz > 0 &&
          Math.abs(Math.atan2(bx, bz)) < (width / 2) * RADIANS &&
          Math.abs(Math.atan2(by, bz)) < (height / 2) * RADIANS;
        luma[y * WIDTH + x] = light(d) + (inside ? more + 15 * Math.sin(60 * by) : 0);
      }
    const tint = () => new Uint8Array((WIDTH * HEIGHT) / 4).fill(128);
    return { width: WIDTH, height: HEIGHT, planes: [luma, tint(), tint()] };
  };
  const frame = new SphereFrame(level(m, at && transpose(uprightTo(at))));
  const usual = [new Uint8Array(WIDTH * HEIGHT).fill(1), new Uint8Array((WIDTH * HEIGHT) / 4)] as const;
  const picture = level(IDENTITY, stood ? at && transpose(uprightTo(at)) : null);
  return { frame, beside: { ...framesOf({ picture, usual }), toWorld: m } };
}

describe('beside a known world', () => {
  test('a square over it is what is not the world, however the rig lies', () => {
    fc.assert(
      fc.property(
        fc.record({
          lon: fc.double({ min: -170, max: 170, noNaN: true }),
          lat: fc.double({ min: -50, max: 50, noNaN: true }),
          roll: fc.double({ min: -180, max: 180, noNaN: true }),
        }),
        ({ lon, lat, roll }) => {
          const m = rotationOf({ pan: 40, tilt: 10, roll });
          const at = directionOf(lon, lat);
          const { frame, beside } = scene(m, at);
          const toPicture = multiply(transpose(m), uprightTo(at));
          const look = glimpseOf(64);
          const shares = new Float32Array(64 * 64);
          glimpse(frame, toPicture, 30 * RADIANS, look);
          new NotWorld(64).of(look, beside, toPicture, 30 * RADIANS, shares);
          const cell = cellOf(30 * RADIANS, 64) / RADIANS;
          const box = boxAbout(shares, 64, { x: 0, y: 0, halfX: 3, halfY: 3 })!;
          expect(Math.abs(2 * box.halfX * cell - 5)).toBeLessThan(2.2);
          expect(Math.abs(2 * box.halfY * cell - 12)).toBeLessThan(2.2);
        },
      ),
      { numRuns: 8, seed: 4 },
    );
  });

  test('a box takes in more of what looks like the subject, and nobody who is near', () => {
    const side = 32;
    const now = { x: 0, y: -4, halfX: 3, halfY: 4 };
    const next = { x: 0, y: 0, halfX: 3, halfY: 8 };
    const column = (low: number) =>
      Float32Array.from({ length: side * side }, (_, i) => {
        const [u, v] = [(i % side) - side / 2, Math.floor(i / side) - side / 2];
        return Math.abs(u + 0.5) < 3 && Math.abs(v + 0.5) < 8 ? (v < 0 ? 0.9 : low) : 0;
      });
    const all = column(0.9);
    expect(takesInItsOwn(all, column(0.8), side, now, next)).toBe(true);
    expect(takesInItsOwn(all, column(0.2), side, now, next)).toBe(false);
    expect(takesInItsOwn(column(0), column(0.2), side, now, next)).toBe(true);
  });

  test('a press somewhat beside its middle finds its box; one on bare ground finds none', () => {
    const m = rotationOf({ pan: -70, tilt: 20, roll: 100 });
    const at = directionOf(35, -10);
    const { frame, beside } = scene(m, at);
    const box = boxMoving(frame, apply(transpose(m), directionOf(36, -13)), beside)!;
    expect(angleBetween(apply(m, box.direction), at)).toBeLessThan(1);
    expect(Math.abs(box.width - 5)).toBeLessThan(2);
    expect(Math.abs(box.height - 12)).toBeLessThan(2);
    expect(boxMoving(frame, apply(transpose(m), directionOf(80, 10)), beside)).toBeNull();
  });

  test('an outline drawn much too large is fitted to what goes, and when that has gone trust falls at once', () => {
    const at = (n: number) => directionOf(10 + 0.7 * n, 2);
    const first = scene(IDENTITY, at(0));
    const tracker = new SubjectTracker(
      first.frame,
      { direction: directionOf(11, 3), width: 8, height: 18 },
      first.beside,
    );
    for (let n = 1; n <= 24; n++) {
      const { frame, beside } = scene(IDENTITY, at(n));
      const found = tracker.step(frame, { beside });
      expect(found.trust).toBeGreaterThan(TRUSTED);
      expect(angleBetween(found.direction, at(n))).toBeLessThan(1.5);
      if (n === 24) expect(Math.abs(found.height / 12 - 1)).toBeLessThan(0.2);
    }
    // Where it stands until it is part of the world, it is known by being recognised there.
    const stands = scene(IDENTITY, at(24), { stood: true });
    const isRecognised = (direction: Vec3) => angleBetween(direction, at(24)) < 6;
    for (let n = 0; n < 30; n++) {
      const found = tracker.step(stands.frame, { beside: stands.beside, who: { ...NOBODY, isRecognised } });
      expect(found.trust).toBeGreaterThan(TRUSTED);
      expect(angleBetween(found.direction, at(24))).toBeLessThan(1.5);
    }
    expect(tracker.step(stands.frame, { beside: stands.beside }).trust).toBeLessThan(TRUSTED);
    const gone = scene(IDENTITY, null);
    for (let n = 0; n < 3; n++) expect(tracker.step(gone.frame, { beside: gone.beside }).trust).toBeLessThan(TRUSTED);
  });
});
