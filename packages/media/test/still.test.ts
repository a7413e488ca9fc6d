/** The engine against ffmpeg's v360 filter, which nobody here wrote, on a frame of the demo. */
import { beforeAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { join, resolve } from 'node:path';
import { newTake, type Take } from '@glimbo/core/take/take';
import type { View } from '@glimbo/core/lens/view';
import { frameBytes, YUV420 } from '@glimbo/core/colour/pixels';
import { drawTake } from './draw-shots.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE = resolve('build/engine');
const source = { width: 2880, height: 1440 };
const clip = resolve('packages/demo/clips/turntable.mp4');
const decode = (filter: string) =>
  execFileSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-ss',
      '6.98',
      '-i',
      clip,
      '-frames:v',
      '1',
      '-vf',
      filter,
      '-pix_fmt',
      'yuv420p',
      '-f',
      'rawvideo',
      '-',
    ],
    { maxBuffer: 1 << 26 },
  );

let frame: Buffer;
beforeAll(() => {
  frame = decode('null');
  expect(frame.length).toBe(frameBytes(YUV420, source.width, source.height));
});

const takeOf = (view: Partial<View>): Take => {
  const take = newTake(join(clip), 15);
  Object.assign(take.path, view);
  return take;
};

const draw = (take: Take, size: { width: number; height: number }) =>
  drawTake(take, { source: { kind: 'sphere' }, rate: 30 }, 7, size, frame, source);

/** PSNR of the luma planes, away from the edges. */
function lumaPsnr(a: Uint8Array, b: Uint8Array, width: number, height: number, border = 40): number {
  let sum = 0;
  let count = 0;
  for (let y = border; y < height - border; y++)
    for (let x = border; x < width - border; x++) {
      sum += (a[y * width + x]! - b[y * width + x]!) ** 2;
      count++;
    }
  return 10 * Math.log10((255 * 255 * count) / sum);
}

const degrees = 180 / Math.PI;
const across = (fov: number, ratio: number, bend: 0 | 1) =>
  bend === 0
    ? 2 * Math.atan(Math.tan(fov / 2 / degrees) * ratio) * degrees
    : 4 * Math.atan(Math.tan(fov / 4 / degrees) * ratio) * degrees;

// v360 maps longitude over W − 1 pixels, we over W: towards ±180° the two drift half a pixel apart. Views
// there are compared with our own, turned, below.
describe('a still against v360', () => {
  const size = { width: 1280, height: 720 };
  test.each([
    ['flat', 0, { pan: 35, tilt: -12, roll: 8, fov: 60 }],
    ['flat', 0, { pan: 85, tilt: 10, roll: -25, fov: 70 }],
    ['flat', 0, { pan: -120, tilt: -50, roll: 0, fov: 65 }],
    ['sg', 1, { pan: -70, tilt: 20, roll: 0, fov: 80 }],
    ['sg', 1, { pan: 60, tilt: -35, roll: 15, fov: 95 }],
  ] as const)('%s, bend %d, %o: 38 dB or better', async (projection, bend, view) => {
    const ours = await draw(takeOf({ ...view, bend }), size);
    const theirs = decode(
      `v360=e:${projection}:yaw=${view.pan}:pitch=${view.tilt}:roll=${view.roll}:v_fov=${view.fov}:h_fov=${across(view.fov, 16 / 9, bend)}:w=${size.width}:h=${size.height}:interp=cubic`,
    );
    expect(lumaPsnr(ours, theirs, size.width, size.height)).toBeGreaterThan(38);
  });
});

describe('the sphere has no seam', () => {
  test('turning the footage and the camera together gives the same picture', async () => {
    const size = { width: 640, height: 360 };
    for (const view of [
      { pan: 180, fov: 90 },
      { pan: 40, tilt: 88, fov: 100 },
      { pan: 0, tilt: -90, fov: 250, bend: 1 },
    ]) {
      const straight = await draw(takeOf(view), size);
      const centred = { ...takeOf({ ...view, pan: view.pan - 90 }), orientation: { centre: { pan: 90, tilt: 0 } } };
      const turned = await draw(centred, size);
      expect(lumaPsnr(straight, turned, size.width, size.height, 0)).toBeGreaterThan(48);
    }
  });

  test('outside the ball there is background, and nothing else', async () => {
    const size = { width: 640, height: 360 };
    const ball = await draw(takeOf({ fov: 320, bend: 3 }), size);
    expect(ball[0]).toBe(16);
    expect(ball[size.width * size.height]).toBe(128);
    expect(ball[180 * 640 + 320]).toBeGreaterThan(17);
  });
});

describe('motion blur', () => {
  test('is the mean of what the view sees while the shutter is open', async () => {
    const size = { width: 640, height: 360 };
    // 90° a second at 30 pictures a second, open for half of each: 1.5°.
    const pan = [
      { time: 6, value: 0, ease: 'linear' as const },
      { time: 8, value: 180 },
    ];
    const blurred = await draw({ ...takeOf({}), path: { ...takeOf({}).path, pan }, look: { shutter: 180 } }, size);
    const looks = 24;
    const sum = new Float64Array(size.width * size.height);
    for (let i = 0; i < looks; i++) {
      const sharp = await draw(takeOf({ pan: 90 + ((i + 0.5) / looks - 0.5) * 1.5 }), size);
      sum.forEach((_, p) => (sum[p]! += sharp[p]! / looks));
    }
    const mean = Uint8Array.from(sum, Math.round);
    expect(lumaPsnr(blurred, mean, size.width, size.height)).toBeGreaterThan(45);
    expect(lumaPsnr(await draw(takeOf({ pan: 90 }), size), mean, size.width, size.height)).toBeLessThan(36);
  });
});
