/** Slopes for looking for up, and what is found with them. */
import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { aboveOf, layersFor, layersOf } from '@glimbo/core/level/evidence/layers';
import { net } from '@glimbo/core/level/evidence/net';
import { proposeUp } from '@glimbo/core/level/proposal';
import { Stance } from '@glimbo/core/level/stance';
import {
  angleBetween,
  apply,
  DEGREES,
  IDENTITY,
  multiply,
  rotationAbout,
  transpose,
  type Matrix3,
  type Vec3,
} from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { seededRandom } from '@glimbo/core/random';
import { skyward } from '@glimbo/core/level/skyward';
import { createPrepare } from '../src/slopes.js';

const module = await WebAssembly.compile(readFileSync(resolve('build/engine/motion.wasm')));
const [W, H] = [512, 256];
const prepare = await createPrepare(module, W);

describe('of a picture of noise', () => {
  const random = seededRandom(5);
  const grey = Uint8Array.from({ length: W * H }, () => 255 * random());
  const seen = prepare(grey);
  const at = (x: number, y: number) => grey[Math.max(0, Math.min(H - 1, y)) * W + ((x + W) % W)]!;
  /** What is seen through a filter of five across and one of five down. */
  const through = (x: number, y: number, across: number[], down: number[]) =>
    across.reduce((s, a, i) => s + a * down.reduce((t, d, j) => t + d * at(x + i - 2, y + j - 2), 0), 0);
  const soft = [0.037659, 0.249153, 0.426375, 0.249153, 0.037659];
  const slope = [-0.109604, -0.276691, 0, 0.276691, 0.109604];

  test.each([
    [0, 20],
    [511, 128],
    [257, 245],
    [100, 77],
  ])('slopes at %d, %d are those that the filters say, summed over the window', (x, y) => {
    const sums = [0, 0, 0];
    for (let j = -3; j <= 3; j++)
      for (let i = -3; i <= 3; i++) {
        if (y + j < 0 || y + j >= H) continue;
        const east = (2 * through(x + i, y + j, slope, soft)) / Math.cos((0.5 - (y + j + 0.5) / H) * Math.PI);
        const north = -2 * through(x + i, y + j, soft, slope);
        [east * east, east * north, north * north].forEach((v, k) => (sums[k]! += v));
      }
    const scale = sums[0]! + sums[2]!;
    [seen.xx, seen.xy, seen.yy].forEach((plane, k) =>
      expect(Math.abs(plane[y * W + x]! - sums[k]!) / scale).toBeLessThan(1e-5),
    );
  });

  test('softened it is the mean of nine by nine pixels, weighed by a binomial', () => {
    const nine = [1, 8, 28, 56, 70, 56, 28, 8, 1].map((v) => v / 256);
    const mean = (x: number, y: number) =>
      nine.reduce((s, a, i) => s + a * nine.reduce((t, b, j) => t + b * at(x + i - 4, y + j - 4), 0), 0);
    for (const [x, y] of [
      [0, 9],
      [300, 128],
      [510, 240],
    ] as const)
      expect(seen.soft[y * W + x]!).toBeCloseTo(mean(x, y), 3);
  });
});

describe('up in a picture', () => {
  /** Posts all round on a rough lawn under a bright sky, filmed with a lean. */
  function posts(lean: Matrix3): Uint8Array {
    const grass = seededRandom(4);
    const grey = new Uint8Array(W * H);
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const d = apply(lean, directionOf(((x + 0.5) / W - 0.5) * 360, (0.5 - (y + 0.5) / H) * 180));
        const longitude = Math.atan2(d[0], d[2]) * DEGREES;
        const post = d[1] > -0.3 && d[1] < 0.4 && (longitude + 360) % 18 < 4;
        grey[y * W + x] = post ? 40 : d[1] > 0 ? 210 : 90 + 40 * grass();
      }
    return grey;
  }

  test.each([
    [0, 0],
    [6, -4],
    [-11, 7],
  ])('upright posts tell a lean of %d° and %d°', (roll, pitch) => {
    const lean = rotationAbout([pitch / DEGREES, 0, roll / DEGREES]);
    const { up, confidence } = proposeUp(prepare(posts(lean)), [0, 1, 0]);
    expect(angleBetween(up, apply(transpose(lean), [0, 1, 0]))).toBeLessThan(0.7);
    expect(confidence).toBeGreaterThan(0.5);
  });

  test('a picture of nothing proposes nothing', () => {
    expect(proposeUp(prepare(new Uint8Array(W * H).fill(90)), [0, 1, 0]).confidence).toBeLessThan(0.05);
  });

  test('the sky is found where it is', () => {
    expect(skyward(prepare(posts(IDENTITY)))[1]).toBeGreaterThan(0.7);
    expect(skyward(prepare(posts(rotationAbout([0, 0, Math.PI]))))[1]).toBeLessThan(-0.7);
  });

  test('a bright floor full of edges is not the sky', () => {
    const hall = Uint8Array.from(posts(IDENTITY), (v, i) => {
      const [x, y] = [i % W, Math.floor(i / W)];
      return y < H / 2 ? 60 : v === 40 || (x >> 3) % 2 === (y >> 3) % 2 ? 150 : 190;
    });
    expect(skyward(prepare(hall))[1]).toBeGreaterThan(-0.5);
  });

  /** How a picture stands, from one look. */
  function stanceIn(grey: Uint8Array) {
    const stance = new Stance();
    stance.look(prepare(grey));
    return stance.axis;
  }

  test.each<[string, Vec3, Vec3]>([
    ['upright', [0, 0, 0], [0, 1, 0]],
    ['head down', [0, 0, Math.PI], [0, -1, 0]],
    ['on a side', [0, 0, Math.PI / 2], [1, 0, 0]],
    ['on its nose', [Math.PI / 2, 0, 0], [0, 0, -1]],
  ])('what stands %s is known to', (_, turn, up) => {
    const leaning = multiply(rotationAbout(turn), rotationAbout([0.1, 0.3, -0.12]));
    const found = stanceIn(posts(leaning));
    expect(found.up).toEqual(up);
    expect(found.confidence).toBeGreaterThan(0.9);
  });

  test('where sky and ground look alike upright is likeliest, as rigs are, but that is not taken for sure', () => {
    const found = stanceIn(new Uint8Array(W * H).fill(90));
    expect(found.up).toEqual([0, 1, 0]);
    expect(found.confidence).toBeGreaterThan(0.5);
    expect(found.confidence).toBeLessThan(0.7);
  });

  test.each<[string, Vec3]>([
    ['upright', [0, 1, 0]],
    ['head down', [0, -1, 0]],
    ['on a side', [1, 0, 0]],
  ])('on snow under a dull sky, filmed %s, it is never taken for sure that up is down', (_, up) => {
    const bumps = seededRandom(3);
    const snow = Uint8Array.from({ length: W * H }, (_, i) => {
      const direction = directionOf(((i % W) / W - 0.5) * 360, (0.5 - (Math.floor(i / W) + 0.5) / H) * 180);
      const height = direction[0] * up[0] + direction[1] * up[1] + direction[2] * up[2];
      return height > 0.05 ? 120 + 20 * height : height > -0.02 ? 40 : 215 + 40 * (bumps() - 0.5);
    });
    const found = stanceIn(snow);
    expect(angleBetween(found.up, up) < 1 || found.confidence < 0.7).toBe(true);
  });

  test('a bright window at the side is no reason to take the side for up', () => {
    const room = new Uint8Array(W * H);
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const [a, b, c] = directionOf(((x + 0.5) / W - 0.5) * 360, (0.5 - (y + 0.5) / H) * 180);
        room[y * W + x] = a > 0.7 && Math.abs(b) < 0.4 ? 230 : b > 0.5 ? 90 : b < -0.5 ? 60 : 70 + 20 * Math.sign(c);
      }
    expect(stanceIn(room).up).toEqual([0, 1, 0]);
  });

  test('what is seen tells most of height where the heights are the true ones', () => {
    const lean = rotationAbout([0.15, 0, -0.2]);
    const layers = layersOf(prepare(posts(lean)));
    const up = apply(transpose(lean), [0, 1, 0]);
    for (const off of net(up, 24, 8))
      if (angleBetween(off, up) > 1) expect(layersFor(layers, off)).toBeLessThan(layersFor(layers, up));
    const above = aboveOf(layers, up);
    expect(above.brighter + above.smoother).toBeGreaterThan(0.3);
    const below = aboveOf(layers, [-up[0], -up[1], -up[2]]);
    expect(below.brighter).toBeCloseTo(-above.brighter, 6);
    expect(below.smoother).toBeCloseTo(-above.smoother, 6);
  });
});
