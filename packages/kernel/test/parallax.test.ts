/** What fits no depth, before a rig that travels through a scene whose depths are known. */
import { expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Level } from '@glimbo/core/frame/sphere-frame';
import { angleBetween, apply, rotationOf, unit, vec3, type Matrix3, type Vec3 } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { shiftedRows, slackOf } from '@glimbo/core/moving/parallax';
import { regionsOf, standsOut } from '@glimbo/core/moving/regions';
import { createParallaxWork } from '../src/parallax.js';

const [WIDE, ACROSS] = [1024, 512];
const work = await createParallaxWork(
  await WebAssembly.compile(readFileSync(resolve('build/engine/motion.wasm'))),
  WIDE,
);

/** A board 0.8 by 1.6 metres that faces the rig's first place. */
interface Board {
  at: Vec3;
}
const TRAVEL = unit([0.2, 0, 1]);
const turnAt = (n: number) => rotationOf({ pan: 8 * n, tilt: 3 * n, roll: -6 * n });

const light = (a: number, b: number, seed: number) =>
  130 + 45 * Math.sin(5 * a + seed) * Math.cos(4 * b) + 35 * Math.sin(9 * b - 3 * a + 2 * seed);

/** Light and tint where a ray from the rig meets the world: ground a metre below, a wall all round 5 metres off, the board. */
function seen(from: Vec3, way: Vec3, board: Board): [light: number, tint: number] {
  const [x, y, z] = way;
  const far = Math.hypot(board.at[0], board.at[2]);
  const [fx, fz] = [board.at[0] / far, board.at[2] / far];
  const t = (far - from[0] * fx - from[2] * fz) / (x * fx + z * fz);
  if (t > 0) {
    const across = (from[0] + t * x - board.at[0]) * fz - (from[2] + t * z - board.at[2]) * fx;
    const up = from[1] + t * y - board.at[1];
    if (Math.abs(across) < 0.4 && Math.abs(up) < 0.8) return [light(3 * across, 3 * up, 4), 170];
  }
  const [p, q] = [from[0] * x + from[2] * z, x * x + z * z];
  const wall = (-p + Math.sqrt(p * p - q * (from[0] ** 2 + from[2] ** 2 - 25))) / q;
  const ground = y < 0 ? (-1 - from[1]) / y : Infinity;
  if (ground < wall) return [light(from[0] + ground * x, from[2] + ground * z, 1), 120];
  return [light(3 * Math.atan2(from[0] + wall * x, from[2] + wall * z), from[1] + wall * y, 2), 128];
}

function picture(from: Vec3, toWorld: Matrix3, board: Board): Level {
  const plane = (width: number, of: 0 | 1) =>
    Uint8Array.from({ length: (width * width) / 2 }, (_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      const way = directionOf(((x + 0.5) / width - 0.5) * 360, (0.5 - (y + 0.5) / (width / 2)) * 180);
      return seen(from, apply(toWorld, way), board)[of];
    });
  const tint = plane(ACROSS, 1);
  return { width: WIDE, height: WIDE / 2, planes: [plane(WIDE, 0), tint, tint] };
}

/** What fits no depth at the second of three moments 0.12 metres apart, the board going by `step` metres from each to the next. */
function excessOf(at: Vec3, step: Vec3): Uint8Array {
  const moment = (n: number) => {
    const from = vec3(TRAVEL.map((v) => 0.12 * (n - 1) * v));
    const board = { at: vec3(at.map((v, k) => v + (n - 1) * step[k]!)) };
    return { picture: picture(from, turnAt(n), board), toWorld: turnAt(n) };
  };
  return work.excess(
    moment(1),
    [
      { ...moment(0), later: false },
      { ...moment(2), later: true },
    ],
    TRAVEL,
  );
}

test('a row is shifted as its directions are by the rig going on, and back by its coming from there', () => {
  const height = 256;
  const later = shiftedRows(height, 8, true);
  expect(later[128]).toBe(136);
  expect([later[0], later[height - 1]]).toEqual([0, height - 1]);
  expect(shiftedRows(height, 8, false)[128]).toBe(120);
  expect([...shiftedRows(height, 0, true)]).toEqual(Array.from({ length: height }, (_, y) => y));
  // Halfway to the travel sin and cos are alike: tan α = μ sin 45° / (1 − μ cos 45°), where μ = tan of the shift.
  const near = Math.tan((8 / height) * Math.PI) * Math.SQRT1_2;
  expect(later[64]! - 64).toBe(Math.round((Math.atan(near / (1 - near)) / Math.PI) * height));
  const slack = slackOf(height);
  expect([slack[128], slack[43], slack[0]]).toEqual([2, 3, 12]);
});

test('nothing that stands still stands out, near or far, though the rig turns as it travels', () => {
  expect(standsOut(excessOf([2, 0.2, 0.5], [0, 0, 0]), ACROSS)).toBeLessThan(0.001);
});

test('a board that rises, or comes against the way of what stands still, stands out, and nothing else does', () => {
  for (const step of [[0, 0.12, 0] as const, [0.1, 0, 0.3] as const]) {
    const at: Vec3 = [2, 0.2, 0.5];
    const excess = excessOf(at, step);
    const regions = regionsOf(excess, ACROSS);
    // Half of the board's 25 by 42 degrees, whole or in pieces, as its texture shows it.
    expect(regions.reduce((sum, { width, height }) => sum + width * height, 0)).toBeGreaterThan(500);
    for (const { direction } of regions) expect(angleBetween(direction, unit(at))).toBeLessThan(26);
    expect(standsOut(excess, ACROSS)).toBeGreaterThan(0.005);
  }
});

test('a board that goes as something nearer would is not told apart', () => {
  const excess = excessOf([2, 0.2, 0.5], vec3(TRAVEL.map((v) => -0.1 * v)));
  expect(standsOut(excess, ACROSS)).toBeLessThan(0.002);
});
