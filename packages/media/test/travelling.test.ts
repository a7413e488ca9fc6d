/** What moves before a rig that travels: the demo's ride, whose way and whose other train are known. */
import { expect, jest, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { angleBetween, apply, matrixOf, transpose, unit, vec3, type Quaternion } from '@glimbo/core/geometry/rotation';
import type { Motion } from '@glimbo/core/motion/motion';
import { foundIn } from '@glimbo/core/moving/found';
import { lookDirection } from '@glimbo/core/moving/moving';
import { whatMoves } from '../src/moving.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);
process.env.GLIMBO_ENGINE ??= resolve('build/engine');

interface Truth {
  rate: number;
  frames: { orientation: Quaternion; position: [number, number, number] }[];
  subjects: { name: string; looks: [frame: number, x: number, y: number, z: number, size: number, seen: number][] }[];
}
const truth = JSON.parse(readFileSync(resolve('packages/demo/clips/ridge-loop.truth.json'), 'utf8')) as Truth;
const file = resolve('packages/demo/clips/ridge-loop.mp4');
const FRAMES = 270;

/** As an analysis would have it that makes no mistakes. */
const motion = {
  rate: truth.rate,
  cuts: [] as number[],
  frames: truth.frames.map(({ orientation, position }, n) => {
    const before = truth.frames[Math.max(0, n - 1)]!.position;
    const way = n > 0 ? unit(vec3(position.map((v, k) => v - before[k]!))) : vec3([0, 0, 1]);
    return { orientation, travel: apply(transpose(matrixOf(orientation)), way), travelConfidence: n > 0 ? 1 : 0 };
  }),
} as Motion;

test('the train that overtakes is found, and nothing else is said to move', async () => {
  const moving = await whatMoves(file, { rate: truth.rate, frames: FRAMES }, { motion });
  expect(moving.still.some((still) => still)).toBe(false);
  expect(moving.travels!.every((travels) => travels)).toBe(true);
  const train = truth.subjects.filter(({ name }) => name.startsWith('other'));
  /** Whether a direction of a frame's picture is the train's, whose wagons no truth tells of. */
  const isTrain = (frame: number, direction: readonly [number, number, number]) =>
    train.some(({ looks }) => {
      const [, x, y, z, size] = looks.find(([n]) => n >= frame)!;
      return angleBetween(vec3([x, y, z]), direction) < Math.max(size, 12);
    });
  const found = foundIn(moving);
  expect(found.length).toBeGreaterThan(1);
  for (const { streak } of found) {
    const { looks } = moving.streaks[streak]!;
    expect(looks.filter((look) => isTrain(look[0], lookDirection(look))).length).toBeGreaterThan(looks.length / 2);
  }
});

test('a rig whose way is not known, and a cut, tell nothing', async () => {
  const few = { rate: truth.rate, frames: 60 };
  const unsure = { ...motion, frames: motion.frames.map((frame) => ({ ...frame, travelConfidence: 0.2 })) };
  expect((await whatMoves(file, few, { motion: unsure })).travels).toBeUndefined();
  const cut = { ...motion, cuts: Array.from({ length: 60 }, (_, n) => n / truth.rate) };
  expect((await whatMoves(file, few, { motion: cut })).travels).toBeUndefined();
});
