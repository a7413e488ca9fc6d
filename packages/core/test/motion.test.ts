/** The fit of turning and travel to points, level proposals, sidecars and motion documents. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  angleBetween,
  apply,
  DEGREES,
  IDENTITY,
  multiply,
  quaternionOf,
  rotationAbout,
  rotationVector,
  transpose,
  unit,
  type Matrix3,
  type Vec3,
  vec3,
} from '../src/geometry/rotation.js';
import { directionOf } from '../src/geometry/sphere.js';
import { fitMotion } from '../src/motion/fit.js';
import type { Pairs } from '../src/motion/pairs.js';
import { cellOf, makeGrid } from '../src/motion/grid.js';
import { RigParts } from '../src/motion/rig-parts.js';
import type { Motion } from '../src/motion/motion.js';
import { matchSidecar, readSidecar, withSidecar } from '../src/motion/sidecar.js';
import { readMotionDocument } from '../src/motion/validate.js';
import { seededRandom } from '../src/random.js';

/** Points all round at distances of 2 to 20, seen before and after a step; some of them go their own way. */
function pairsOf(turn: Matrix3, step: Vec3, outliers = 0, noise = 0.0003, seed = 1): Pairs {
  const random = seededRandom(seed);
  const count = 240;
  const before = new Float64Array(3 * count);
  const after = new Float64Array(3 * count);
  for (let i = 0; i < count; i++) {
    const d = directionOf(random() * 360 - 180, Math.asin(random() * 2 - 1) * DEGREES);
    const far = 2 + 18 * random();
    const moved = unit(vec3(d.map((v, k) => v * far - step[k]!)));
    const seen = i < outliers * count ? directionOf(random() * 360, random() * 90 - 45) : apply(transpose(turn), moved);
    before.set(d, 3 * i);
    after.set(unit(vec3(seen.map((v) => v + noise * (random() - 0.5) * 2))), 3 * i);
  }
  return { before, after, variance: new Float64Array(count).fill(1), count };
}

describe('the fit', () => {
  const small = fc.tuple(
    ...[0, 1, 2].map(() => fc.double({ min: -0.03, max: 0.03, noNaN: true })),
  ) as unknown as fc.Arbitrary<Vec3>;
  const error = (a: Matrix3, b: Matrix3) => Math.hypot(...rotationVector(multiply(transpose(a), b))) * DEGREES;

  test('finds a turn without any travel', () => {
    fc.assert(
      fc.property(small, (v) => {
        const turn = rotationAbout(v);
        const fit = fitMotion(pairsOf(turn, [0, 0, 0], 0.2), { rotation: IDENTITY })!;
        expect(error(turn, fit.rotation)).toBeLessThan(0.01);
        expect(fit.parallax).toBeLessThan(0.0005);
      }),
      { numRuns: 25 },
    );
  });

  test('does not take driving for turning, and finds the way, with a quarter of the points going their own', () => {
    fc.assert(
      fc.property(small, small, (v, w) => {
        const turn = rotationAbout(v);
        const way = unit([w[0], w[1], w[2] + 0.05]);
        const fit = fitMotion(pairsOf(turn, vec3(way.map((x) => x * 0.05)), 0.25), {
          rotation: IDENTITY,
        })!;
        expect(error(turn, fit.rotation)).toBeLessThan(0.03);
        expect(angleBetween(fit.travel, way)).toBeLessThan(3);
        expect(fit.share).toBeGreaterThan(0.5);
        expect(fit.share).toBeLessThan(0.85);
      }),
      { numRuns: 25 },
    );
  });

  test('says that noise says nothing', () => {
    const fit = fitMotion(pairsOf(IDENTITY, [0, 0, 0], 1), { rotation: IDENTITY })!;
    expect(fit.share).toBeLessThan(0.2);
    expect(
      fitMotion(
        { before: new Float64Array(9), after: new Float64Array(9), variance: new Float64Array(3), count: 3 },
        { rotation: IDENTITY },
      ),
    ).toBeNull();
  });
});

test('what does not move with the world is the rig, told by most of what was seen there', () => {
  const parts = new RigParts(makeGrid(17));
  const [here, turned] = [directionOf(40, -50), directionOf(43, -50)];
  expect(parts.tell(here, directionOf(40.5, -50), here)).toBeNull();
  expect(parts.tell(here, turned, directionOf(40.1, -50))).toBe('rig');
  expect(parts.tell(here, turned, here)).toBe('rig');
  expect(parts.has(here)).toBe(true);
  // A visitor who walks by behind the mount does not make it part of the world.
  expect(parts.tell(turned, here, here)).toBe('world');
  expect(parts.has(here)).toBe(true);
  for (let n = 0; n < 2; n++) parts.tell(turned, here, here);
  expect(parts.has(here)).toBe(false);
});

test('every direction lies in a cell of the grid, and cells are about equally large', () => {
  const grid = makeGrid(17);
  const hits = new Array<number>(grid.cells).fill(0);
  const random = seededRandom(3);
  for (let i = 0; i < 40_000; i++)
    hits[cellOf(grid, directionOf(random() * 360 - 180, Math.asin(random() * 2 - 1) * DEGREES))]!++;
  const mean = 40_000 / grid.cells;
  expect(hits.filter((h) => h > mean / 2.5 && h < mean * 2.5).length).toBeGreaterThan(grid.cells * 0.95);
});

describe('sidecars', () => {
  const pose = (t: number) =>
    multiply(rotationAbout([0, 0.4 * t, 0]), rotationAbout([0.1 * Math.sin(5 * t), 0, 0.08 * Math.sin(3.3 * t + 1)]));
  const motion = (trust = 1): Motion => ({
    format: 'glimbo-motion',
    version: 1,
    rate: 30,
    method: 'quick',
    cuts: [],
    bad: [],
    levels: [],
    frames: Array.from({ length: 150 }, (_, n) => ({
      time: n / 30,
      orientation: quaternionOf(multiply(transpose(pose(0)), pose(n / 30))),
      travel: [0, 0, 1],
      travelConfidence: 0,
      trust,
      residual: 0,
    })),
  });
  const table = (ahead: number, bias: number) => {
    const lines = ['time;rate_x;rate_y;rate_z;acceleration_x;acceleration_y;acceleration_z'];
    for (let n = 0; n < 1400; n++) {
      const t = n / 200 - ahead - 0.5;
      const rate = rotationVector(multiply(transpose(pose(t - 0.0025)), pose(t + 0.0025))).map((v) => v / 0.005 + bias);
      const felt = apply(transpose(pose(t)), [0, 9.81, 0]);
      lines.push([n / 200 - 0.5, ...rate, ...felt].join(';'));
    }
    return lines.join('\n');
  };

  test('the clocks are brought together, the zero found, and up with them', () => {
    const samples = readSidecar(table(0.37, 0.02));
    const match = matchSidecar(samples, motion());
    expect(match.offset).toBeCloseTo(0.37, 2);
    expect(match.agreement).toBeGreaterThan(0.99);
    match.bias.forEach((b) => expect(b).toBeCloseTo(0.02, 2));
    const helped = withSidecar(motion(), samples, match, 'replace');
    expect(helped.method).toBe('sidecar');
    expect(angleBetween(helped.up!, apply(transpose(pose(0)), [0, 1, 0]))).toBeLessThan(0.5);
    const last = helped.frames.at(-1)!.orientation;
    expect(Math.abs(last.reduce((a, v, i) => a + v * motion().frames.at(-1)!.orientation[i]!, 0))).toBeGreaterThan(
      0.9999,
    );
  });

  test.each([
    ['', /does not name/],
    ['time,rate_x\n1,2', /rate_y/],
    [`time,rate_x,rate_y,rate_z\n${'1,0,0,0\n'.repeat(12)}`, /back in time/],
    ['time,rate_x,rate_y,rate_z\n1,0,0,x', /not a number/],
    ['time,rate_x,rate_y,rate_z\n1,0,0,0', /fewer than ten/],
  ])('%j is refused in words', (text, words) => expect(() => readSidecar(text)).toThrow(words));
});

describe('motion documents', () => {
  const frame = { time: 0, orientation: [0, 0, 0, 1] };
  test('fill in what is absent', () => {
    const read = readMotionDocument({ format: 'glimbo-motion', version: 1, rate: 30, frames: [frame] }) as Motion;
    expect(read.frames[0]).toEqual({ ...frame, travel: [0, 0, 1], travelConfidence: 0, trust: 1, residual: 0 });
    expect([read.cuts, read.bad, read.levels]).toEqual([[], [], []]);
  });

  test.each([
    [{}, /glimbo-motion/],
    [{ format: 'glimbo-motion', version: 1, rate: 0, frames: [frame] }, /rate/],
    [{ format: 'glimbo-motion', version: 1, rate: 30, frames: [] }, /no frames/],
    [{ format: 'glimbo-motion', version: 1, rate: 30, frames: [{ time: 0, orientation: [0, 0, 0, 2] }] }, /unit quaternion/],
    [{ format: 'glimbo-motion', version: 1, rate: 30, frames: [frame], bad: [{ in: 2, out: 1 }] }, /bad/],
  ])('%j are refused in words', (plain, words) => expect(() => readMotionDocument(plain)).toThrow(words)); // prettier-ignore
});
