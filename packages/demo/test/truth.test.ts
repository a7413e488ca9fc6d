/** The clips against their truth: the sun stands where the true orientation says, so nothing is mirrored or turned. */
import { describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { readFileSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { apply, matrixOf, transpose, type Quaternion, type Vec3 } from '@glimbo/core/geometry/rotation';
import { equirectangularOf } from '@glimbo/core/geometry/sphere';
import { lensPixel, type Lens } from '@glimbo/core/stitch/lens';
import { LENS_SIDE } from '../src/lenses.js';
import { CLIPS } from '../src/motion.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

const SUN: Vec3 = [0.62 / 1.0008, 0.62 / 1.0008, 0.48 / 1.0008];
const [W, H] = [720, 360];
const clips = resolve('packages/demo/clips');

interface Truth {
  rate: number;
  frames: { time: number; orientation: Quaternion; position: number[] }[];
  lenses?: { nominal: [Lens, Lens]; true: [Lens, Lens] };
}

const TWO_LENSES = new Set(['signal-corner']);
const readTruth = (name: string) => JSON.parse(readFileSync(`${clips}/${name}.truth.json`, 'utf8')) as Truth;

/** Luma of the frame at a time, scaled to width × height bytes. */
const lumaAt = (file: string, time: number, width: number, height: number) =>
  execFileSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-ss',
      String(time - 1 / 60),
      '-i',
      file,
      '-frames:v',
      '1',
      '-vf',
      `scale=${width}:${height}:flags=area,format=yuv420p,extractplanes=y`,
      '-f',
      'rawvideo',
      '-',
    ],
    { maxBuffer: 1 << 24 },
  );

/** The sun's disc is brighter than the sky beside it on every side, by a clear margin. */
function expectSun(luma: Uint8Array, width: number, u: number, v: number, radius: number, aside: number) {
  const mean = (x: number, y: number) => {
    let sum = 0;
    for (let j = -radius; j <= radius; j++)
      for (let i = -radius; i <= radius; i++)
        sum += luma[Math.floor(y + j) * width + ((Math.floor(x + i) + width) % width)]!;
    return sum / (2 * radius + 1) ** 2;
  };
  for (const [dx, dy] of [
    [aside, 0],
    [-aside, 0],
    [0, aside],
    [0, -aside],
  ] as const)
    expect(mean(u, v)).toBeGreaterThan(mean(u + dx, v + dy) + 4);
}

describe.each(Object.entries(CLIPS))('%s', (name, { duration }) => {
  const truth = readTruth(name);
  const files = (TWO_LENSES.has(name) ? ['-a', '-b'] : ['']).map((lens) => `${clips}/${name}${lens}.mp4`);

  test('is small enough to be kept, long enough, and has a true pose for every frame', () => {
    for (const file of files) {
      expect(statSync(file).size).toBeLessThan(4 * 1024 * 1024);
      const count = [
        '-v',
        'error',
        '-select_streams',
        'v',
        '-show_entries',
        'stream=nb_frames',
        '-of',
        'csv=p=0',
        file,
      ];
      expect(Number(execFileSync('ffprobe', count))).toBe(truth.frames.length);
    }
    expect(truth.frames.length / truth.rate).toBe(duration);
    for (const f of truth.frames) expect(Math.hypot(...f.orientation)).toBeCloseTo(1, 4);
  });

  test.each([0.5, 3, duration - 2])('at %d s shows the sun where its truth says', (time) => {
    const { orientation } = truth.frames[Math.round(time * truth.rate)]!;
    const sun = apply(transpose(matrixOf(orientation)), SUN);
    if (!truth.lenses) {
      const { u, v } = equirectangularOf(sun, W, H);
      return expectSun(lumaAt(files[0]!, time, W, H), W, u, v, 2, 14);
    }
    // Drawn by the lens that looks more towards it, as that lens truly is.
    const seen = truth.lenses.true.map((lens) => lensPixel(lens, sun));
    const n = seen[0]!.theta < seen[1]!.theta ? 0 : 1;
    expectSun(lumaAt(files[n]!, time, LENS_SIDE, LENS_SIDE), LENS_SIDE, seen[n]!.x, seen[n]!.y, 7, 49);
  });
});
