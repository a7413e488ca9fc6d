/** A camera that is whirled round at a turn a second: its motion is followed, and held. */
import { afterAll, expect, jest, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { angleBetween, apply, DEGREES, matrixOf, multiply, transpose } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import type { Keyframe } from '@glimbo/core/curve/channel';
import { noSteady } from '@glimbo/core/steady/settings';
import { correctionOf } from '@glimbo/core/correction/correction';
import { newTake, type Take } from '@glimbo/core/take/take';
import { analyseMotion } from '../src/motion.js';
import { wholeSphere } from '../src/recording.js';
import { exportClip } from '../src/render/clip.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE ??= resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-whirl-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const [RATE, SECONDS] = [120, 0.7];
const frames = Math.round(RATE * SECONDS);
const keys = (value: (t: number) => number): Keyframe[] =>
  Array.from({ length: 15 }, (_, i) => ({ time: i / 20, value: value(i / 20) }));

test('to a tenth of a degree a frame, and what it films stands still when its heading is the world', async () => {
  const original = resolve('packages/demo/clips/turntable.mp4');
  const turn = {
    pan: keys((t) => 360 * t),
    tilt: keys((t) => 12 * Math.sin(2 * Math.PI * t + 0.5)),
    roll: keys((t) => 8 * Math.sin(2.6 * Math.PI * t)),
  };
  const take: Take = { ...newTake(original, 15), range: { in: 0, out: SECONDS }, orientation: { turn } };
  const file = join(folder, 'whirl.mp4');
  await exportClip(take, wholeSphere(original), file, {
    sphere: true,
    width: 1440,
    height: 720,
    rate: RATE,
    codec: 'h264',
  });
  const motion = await analyseMotion(file, { rate: RATE, frames, width: 1440 });

  const true_ = correctionOf(take);
  const off = motion.frames.slice(1).map(({ orientation }, i) => {
    const turned = multiply(transpose(matrixOf(orientation)), matrixOf(motion.frames[i]!.orientation));
    const wanted = multiply(true_.at((i + 1) / RATE), transpose(true_.at(i / RATE)));
    const d = multiply(turned, transpose(wanted));
    return Math.acos(Math.min(1, (d[0] + d[4] + d[8] - 1) / 2)) * DEGREES;
  });
  expect(off.sort((a, b) => a - b)[off.length >> 1]).toBeLessThan(0.1);
  expect(off.at(-1)).toBeLessThan(0.3);

  const heading = { follows: 'world', window: 1 } as const;
  const held = correctionOf({ steady: { ...noSteady(), mode: 'rolling', heading } }, motion);
  // A thing of the world as the whirled picture has it, and where it is once that is held.
  const seen = (t: number) => apply(held.at(t), apply(true_.at(t), directionOf(30, 5)));
  for (let t = 0.1; t < SECONDS - 0.05; t += 0.1) {
    expect(
      angleBetween(apply(true_.at(t), directionOf(30, 5)), apply(true_.at(0.05), directionOf(30, 5))),
    ).toBeGreaterThan(10);
    expect(angleBetween(seen(t), seen(0.05))).toBeLessThan(9);
  }
}, 120_000);
