/** The still world's pictures against plain ways to the same. */
import { expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Level } from '@glimbo/core/frame/sphere-frame';
import { apply, rotationOf, transpose } from '@glimbo/core/geometry/rotation';
import { directionOf, equirectangularOf } from '@glimbo/core/geometry/sphere';
import { EXCESS, MOSTLY } from '@glimbo/core/moving/still-world';
import { seededRandom } from '@glimbo/core/random';
import { createWorldWork } from '../src/moving.js';

const W = 512;
const work = await createWorldWork(await WebAssembly.compile(readFileSync(resolve('build/engine/motion.wasm'))), W);

/** A picture whose samples are made one by one, luma and colours alike in their own sizes. */
function picture(sample: (x: number, y: number, plane: number) => number): Level {
  const plane = (p: number, part: number) =>
    Uint8Array.from({ length: (W * W) / 2 / part ** 2 }, (_, i) =>
      sample(i % (W / part), Math.floor(i / (W / part)), p),
    );
  return { width: W, height: W / 2, planes: [plane(0, 1), plane(1, 2), plane(2, 2)] };
}

test('a picture is turned to where its directions lie in the world, to half a pixel', () => {
  const smooth = picture((x, y, p) => {
    const part = p ? 2 : 1;
    const [a, b, c] = directionOf((((x + 0.5) * part) / W - 0.5) * 360, (0.5 - ((y + 0.5) * part * 2) / W) * 180);
    return 128 + 60 * a + 40 * b * c + 20 * p * c;
  });
  const m = rotationOf({ pan: 130, tilt: -35, roll: 70 });
  const turned = work.turn(smooth, m);
  let worst = 0;
  for (const [p, part] of [
    [0, 1],
    [1, 2],
    [2, 2],
  ] as const)
    for (let i = 0; i < turned.planes[p].length; i++) {
      const [x, y] = [i % (W / part), Math.floor(i / (W / part))];
      const world = directionOf((((x + 0.5) * part) / W - 0.5) * 360, (0.5 - ((y + 0.5) * part * 2) / W) * 180);
      const [a, b, c] = apply(transpose(m), world);
      // Half a pixel of a colour plane is 0.7°: two grey levels here.
      worst = Math.max(worst, Math.abs(turned.planes[p][i]! - (128 + 60 * a + 40 * b * c + 20 * p * c)));
    }
  expect(worst).toBeLessThan(2.5);
  // And which pixel: a mark lies where the conventions say.
  const { u, v } = equirectangularOf(apply(transpose(m), directionOf(0, 0)), W, W / 2);
  const dot = work.turn(
    picture((x, y, p) => (p === 0 && Math.hypot(x - u, y - v) < 4 ? 255 : 0)),
    m,
  );
  expect(dot.planes[0][(W / 4) * W + W / 2]).toBe(255);
});

test('the still world is the median of the looks, and usual what they are mostly off', () => {
  const random = seededRandom(8);
  for (const count of [1, 2, 7, 21]) {
    const looks = Array.from({ length: count }, () => picture(() => 256 * random()));
    const { picture: still, usual, bounds } = work.still(looks);
    for (const p of [0, 1, 2] as const)
      for (let i = 0; i < still.planes[p].length; i += 997) {
        const sorted = looks.map(({ planes }) => planes[p][i]!).sort((a, b) => a - b);
        expect(still.planes[p][i]).toBe(sorted[count >> 1]);
        const half =
          (sorted[Math.ceil(MOSTLY.high * (count - 1))]! - sorted[Math.floor(MOSTLY.low * (count - 1))]!) >> 1;
        if (p === 0) expect(usual[0][i]).toBe(half);
      }
    const luma = still.planes[0];
    for (const [x, y] of [
      [0, 0],
      [W - 1, 100],
      [57, W / 2 - 1],
      [300, 77],
    ] as const) {
      const about = [-1, 0, 1].flatMap((dy) =>
        [-1, 0, 1].map((dx) => luma[Math.max(0, Math.min(W / 2 - 1, y + dy)) * W + ((x + dx + W) % W)]!),
      );
      expect(bounds.map((plane) => plane[y * W + x])).toEqual([Math.min(...about), Math.max(...about)]);
    }
  }
});

test('what is off the still world is counted beyond noise and what is usual; a brighter picture is not', () => {
  const random = seededRandom(9);
  const looks = Array.from({ length: 5 }, () => picture((x, _, p) => (p ? 120 : 90 + (x % 40)) + 6 * random()));
  const world = work.still(looks);
  const look = picture((x, y, p) => (p ? 120 + (y < 20 ? 30 : 0) : 102 + (x % 40) + (y > 200 ? 60 : 0)));
  const excess = work.excess(look, world);
  const [least, most] = world.bounds;
  const { planes } = world.picture;
  // The whole is brighter by what is usual in the middle of all samples.
  const off: number[] = [];
  for (let i = 0; i < look.planes[0].length; i += 37) off.push(look.planes[0][i]! - planes[0][i]!);
  const light = off.sort((a, b) => a - b)[Math.ceil(off.length / 2) - 1]!;
  for (let i = 0; i < excess.length; i += 131) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const t = (y >> 1) * (W / 2) + (x >> 1);
    const value = look.planes[0][i]! - light;
    const beyond = Math.max(0, value - most[i]!, least[i]! - value);
    const tint = [1, 2].reduce((sum, p) => sum + Math.abs(look.planes[p]![t]! - planes[p]![t]!), 0);
    const byTint = EXCESS.tint * Math.max(0, tint - EXCESS.usual * world.usual[1][t]!);
    const wanted = beyond + byTint - EXCESS.usual * world.usual[0][i]! - EXCESS.noise;
    expect(Math.abs(excess[i]! - Math.max(0, Math.min(255, wanted)))).toBeLessThanOrEqual(1);
  }
  expect(excess[100 * W + 9]).toBe(0);
  expect(excess[230 * W + 9]).toBeGreaterThan(20);
  expect(excess[10 * W + 9]).toBeGreaterThan(20);
});
