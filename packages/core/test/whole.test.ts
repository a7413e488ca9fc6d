/** When whole pictures are asked how the rig turned, and which parts of them count. */
import { expect, test } from '@jest/globals';
import {
  angleOf,
  apply,
  IDENTITY,
  multiply,
  rotationAbout,
  rotationVector,
  transpose,
  type Matrix3,
  type Vec3,
} from '../src/geometry/rotation.js';
import { directionOf } from '../src/geometry/sphere.js';
import { cellOf, makeGrid } from '../src/motion/grid.js';
import type { MotionFit } from '../src/motion/motion-fit.js';
import { RigParts } from '../src/motion/rig-parts.js';
import type { PatchTracker, WholeModel } from '../src/motion/tracker.js';
import { WholePictures, type Sighting } from '../src/motion/whole.js';

const grid = makeGrid(9);
const step = rotationAbout([0.004, 0.01, -0.003]);
const off = (a: Matrix3, b: Matrix3) => angleOf(multiply(transpose(a), b));

/** A tracker whose pictures say exactly how the panorama is turned in them: by `truth`. Remembers what cells counted. */
function fakeTracker() {
  const seen = { truth: IDENTITY, weights: new Float32Array(), mixed: [] as number[] };
  const tracker = {
    compare({ rotation }: WholeModel, weights: Float32Array) {
      seen.weights = weights.slice();
      // Normal equations of ones on the diagonal: the right side is the step itself, against the turn that is still missing.
      const sums = new Float64Array(22);
      [0, 5, 9, 12, 14].forEach((at) => (sums[at] = 1));
      rotationVector(multiply(transpose(rotation), seen.truth)).forEach((v, k) => (sums[15 + k] = -v));
      sums[20] = sums[21] = 1;
      return sums;
    },
    mixIn: (_: WholeModel, share: number) => void seen.mixed.push(share),
  } as Partial<PatchTracker> as PatchTracker;
  return { tracker, seen };
}

const points: Sighting[] = [-120, -40, 30, 100].flatMap((longitude) =>
  [-50, 0, 45].map((latitude): Sighting => {
    const before = directionOf(longitude, latitude);
    return { before, direction: apply(transpose(step), before) };
  }),
);
const fit = (change: Partial<MotionFit> = {}): MotionFit => ({
  rotation: step,
  travel: [0, 0, 1],
  travelError: 10,
  error: 0.01,
  parallax: 0,
  stretched: 1,
  share: 1,
  residual: 0.02,
  inliers: new Uint8Array(points.length).fill(1),
  ...change,
});
/** One that has seen for some frames that the rig does not travel. */
function settled() {
  const { tracker, seen } = fakeTracker();
  const rig = new RigParts(grid);
  const whole = new WholePictures(tracker, grid, rig);
  for (let n = 0; n < 12; n++) {
    whole.next(fit({ rotation: IDENTITY }), [], []);
    seen.truth = IDENTITY;
  }
  return { whole, seen, rig };
}

test('what the pictures say is taken, once the rig is seen not to travel', () => {
  const { tracker, seen } = fakeTracker();
  const whole = new WholePictures(tracker, grid, new RigParts(grid));
  // At first it may travel, for all one knows.
  expect(whole.next(fit(), points, points)).toBeNull();
  expect(seen.mixed).toEqual([]);
  const { whole: later, seen: shown } = settled();
  const true_ = multiply(step, rotationAbout([0, 0.001, 0.001]));
  shown.truth = transpose(true_);
  expect(off(later.next(fit(), points, points)!, true_)).toBeLessThan(1e-6);
});

test('where they say otherwise than points that agree, they are not believed', () => {
  const { whole, seen } = settled();
  seen.truth = transpose(multiply(step, rotationAbout([0, 0.01, 0])));
  expect(whole.next(fit(), points, points)).toBeNull();
  // It begins anew with that picture.
  expect(seen.mixed.at(-1)).toBe(1);
});

test('points that are off among themselves leave them more room', () => {
  const { whole, seen } = settled();
  const true_ = multiply(step, rotationAbout([0, 0.006, 0]));
  seen.truth = transpose(true_);
  expect(off(whole.next(fit({ residual: 0.1 }), points, points)!, true_)).toBeLessThan(1e-6);
});

test('while the rig travels they are not asked', () => {
  const { whole, seen } = settled();
  const before = seen.mixed.length;
  for (let n = 0; n < 20; n++) whole.next(fit({ stretched: 6 }), points, points);
  const asked = seen.mixed.length - before;
  expect(asked).toBeLessThan(5);
  expect(whole.next(fit({ stretched: 6 }), points, points)).toBeNull();
  expect(seen.mixed.length - before).toBe(asked);
});

test('what is the rig counts nothing, what goes astray little, and what is near less than what is far', () => {
  const { whole, seen, rig } = settled();
  const cell = ({ direction }: Sighting) => cellOf(grid, direction);
  const [mounted, astray, near, far] = [points[0]!, points[4]!, points[7]!, points[10]!];
  const turned = (d: Vec3) => apply(rotationAbout([0, 0.2, 0]), d);
  for (let n = 0; n < 5; n++) rig.tell(mounted.direction, turned(mounted.direction), mounted.direction);
  const shifted = { ...near, direction: apply(rotationAbout([0, 0.005, 0]), near.direction) };
  const list = points.map((p) => (p === near ? shifted : p));
  const inliers = Uint8Array.from(points, (p) => (p === astray ? 0 : 1));
  seen.truth = transpose(step);
  whole.next(fit({ inliers }), list, list);
  expect(seen.weights[cell(mounted)]).toBe(0);
  expect(seen.weights[cell(astray)]).toBeCloseTo(0.1, 6);
  expect(seen.weights[cell(shifted)]).toBeLessThan(0.5);
  expect(seen.weights[cell(far)]).toBeGreaterThan(0.99);
  expect(seen.weights).toHaveLength(grid.cells);
});
