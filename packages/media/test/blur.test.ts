/** Motion blur on the demo's footage: the looks that a frame is made of against many more. */
import { expect, jest, test } from '@jest/globals';
import { resolve } from 'node:path';
import { IDENTITY } from '@glimbo/core/geometry/rotation';
import { DEFAULT_VIEW } from '@glimbo/core/lens/view';
import { viewShot } from '@glimbo/core/plan/shot';
import { withShutter } from '@glimbo/core/edit/look';
import { newTake, type Take } from '@glimbo/core/take/take';
import { decodeFrame } from '../src/decode.js';
import { readRecording, wholeSphere } from '../src/recording.js';
import { drawShots, drawTake } from './draw-shots.js';

// Hundreds of looks are drawn.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE = resolve('build/engine');
const size = { width: 960, height: 540 };

const SPHERE = { kind: 'sphere' } as const;

/** A take that pans evenly by some degrees a second, its shutter open for half of the time. */
function panning(fov: number, speed: number): Take {
  const take = withShutter(newTake('a.mp4', 10), 180);
  const pan = [
    { time: 0, value: 0, ease: 'linear' as const },
    { time: 4, value: 4 * speed },
  ];
  return { ...take, path: { ...take.path, fov, tilt: -10, pan } };
}

/** How alike a frame is the mean of 96 looks while the shutter is open, in decibels of its luma. */
async function likeness(clip: string, fov: number, speed: number): Promise<number> {
  const recording = wholeSphere(resolve(`packages/demo/clips/${clip}.mp4`));
  const { facts } = await readRecording(recording);
  const { rate, width } = facts;
  const raw = await decodeFrame(recording, facts, 2);
  const drawn = await drawTake(panning(fov, speed), { source: SPHERE, rate, width }, 2, size, raw, facts);
  const shots = Array.from({ length: 96 }, (_, i) => {
    const pan = speed * (2 + ((i + 0.5) / 96 - 0.5) / (2 * rate));
    return viewShot({ ...DEFAULT_VIEW, fov, tilt: -10, pan }, IDENTITY, { source: SPHERE, time: 2, ...size });
  });
  const meant = await drawShots(shots, raw, facts);
  let square = 0;
  for (let i = 0; i < size.width * size.height; i++) square += (drawn[i]! - meant[i]!) ** 2;
  return 10 * Math.log10((255 * 255 * size.width * size.height) / square);
}

// A pan, a fast one and a whip; with a long lens the footage's pixels are coarser than the frame's, with a wide one finer.
test.each([
  ['turntable', 45, 90],
  ['ridge-loop', 45, 200],
  ['ridge-loop', 110, 200],
  ['turntable', 75, 500],
])('frames of %s at %i° that pan by %i° a second are 50 dB alike the mean of 96 looks', async (clip, fov, speed) => {
  expect(await likeness(clip, fov, speed)).toBeGreaterThan(50);
});
