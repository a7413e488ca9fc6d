/** Whole pictures against a panorama of those before. */
import { expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import {
  angleOf,
  apply,
  IDENTITY,
  multiply,
  rotationAbout,
  transpose,
  type Matrix3,
  type Vec3,
} from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { Panorama } from '@glimbo/core/motion/panorama';
import { POINT_CAPACITY, POINT_GRID } from '@glimbo/core/motion/points';
import { seededRandom } from '@glimbo/core/random';
import { createTracker } from '../src/motion.js';

const module = await WebAssembly.compile(readFileSync(resolve('build/engine/motion.wasm')));
const [W, H] = [512, 256];
const directions = Array.from({ length: W * H }, (_, i) =>
  directionOf((((i % W) + 0.5) / W - 0.5) * 360, (0.5 - (Math.floor(i / W) + 0.5) / H) * 180),
);
/** What is seen in a direction: soft hills of light all over the sphere. */
const light = ([x, y, z]: Vec3) =>
  110 + 40 * Math.sin(9 * x + 5 * y) + 30 * Math.sin(11 * z - 6 * x) + 20 * Math.sin(13 * y);

const random = seededRandom(3);
/** A picture taken with an orientation, some noise and an exposure; on its mount a grid that turns with it. */
const picture = (orientation: Matrix3, { noise = 0, gain = 1, lift = 0, mount = (d: Vec3) => d[1] < -2 } = {}) =>
  Uint8Array.from(directions, (d) => {
    const seen = mount(d)
      ? 120 + 90 * Math.sign(Math.sin(40 * d[0]) * Math.sin(40 * d[1]))
      : light(apply(orientation, d));
    return Math.max(0, Math.min(255, gain * seen + lift + noise * (random() + random() - 1)));
  });
const weights = () => new Float32Array(POINT_GRID.cells).fill(1);
const off = (a: Matrix3, b: Matrix3) => angleOf(multiply(transpose(a), b));
const turn = rotationAbout([0.006, -0.011, 0.004]);

test('a turn is found from a guess that is off, through noise and another exposure', async () => {
  const tracker = await createTracker(module, W, POINT_CAPACITY, POINT_GRID);
  const panorama = new Panorama(tracker);
  tracker.setPicture(picture(IDENTITY, { noise: 10 }));
  expect(panorama.next(IDENTITY, weights(), 1)).toBeNull();
  let orientation: Matrix3 = IDENTITY;
  for (const [gain, lift] of [
    [1, 0],
    [1.15, -12],
    [0.8, 6],
  ] as const) {
    orientation = multiply(orientation, turn);
    tracker.setPicture(picture(orientation, { noise: 10, gain, lift }));
    const found = panorama.next(multiply(turn, rotationAbout([0.003, 0.002, -0.003])), weights(), 1);
    expect(off(found!, turn)).toBeLessThan(0.03);
  }
});

test('what turns with the rig holds it back, unless its cells count nothing', async () => {
  const mount = (d: Vec3) => d[1] < -0.5;
  const found: Matrix3[] = [];
  for (const counts of [1, 0]) {
    const tracker = await createTracker(module, W, POINT_CAPACITY, POINT_GRID);
    const panorama = new Panorama(tracker);
    const cells = weights();
    // The rows of cells below −30°, and one more for what is blended.
    cells.fill(counts, POINT_GRID.first[11]);
    tracker.setPicture(picture(IDENTITY, { mount }));
    panorama.next(IDENTITY, cells, 1);
    tracker.setPicture(picture(turn, { mount }));
    found.push(panorama.next(turn, cells, 2)!);
  }
  expect(off(found[0]!, turn)).toBeGreaterThan(0.1);
  expect(off(found[1]!, turn)).toBeLessThan(0.02);
});

test('where it says otherwise than it may, it begins anew', async () => {
  const tracker = await createTracker(module, W, POINT_CAPACITY, POINT_GRID);
  const panorama = new Panorama(tracker);
  tracker.setPicture(picture(IDENTITY));
  panorama.next(IDENTITY, weights(), 1);
  tracker.setPicture(picture(turn));
  expect(panorama.next(IDENTITY, weights(), 0.2)).toBeNull();
  tracker.setPicture(picture(multiply(turn, turn)));
  expect(off(panorama.next(IDENTITY, weights(), 1)!, turn)).toBeLessThan(0.02);
});
