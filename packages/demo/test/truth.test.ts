/** The clips against their truth: the sun stands where the true orientation says, so nothing is mirrored or turned. */
import { describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { readFileSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { apply, matrixOf, transpose, type Quaternion, type Vec3 } from '@glimbo/core/geometry/rotation';
import { equirectangularOf } from '@glimbo/core/geometry/sphere';
import { CLIPS } from '../src/motion.js';

const SUN: Vec3 = [0.62 / 1.0008, 0.62 / 1.0008, 0.48 / 1.0008];
const [W, H] = [720, 360];
const clips = resolve('packages/demo/clips');

interface Truth {
  rate: number;
  frames: { time: number; orientation: Quaternion; position: number[] }[];
}

describe.each(Object.keys(CLIPS))('%s', (name) => {
  const truth = JSON.parse(readFileSync(`${clips}/${name}.truth.json`, 'utf8')) as Truth;

  test('is small enough to be kept, long enough, and has a true pose for every frame', () => {
    expect(statSync(`${clips}/${name}.mp4`).size).toBeLessThan(4 * 1024 * 1024);
    const frames = execFileSync('ffprobe', [
      '-v',
      'error',
      '-select_streams',
      'v',
      '-show_entries',
      'stream=nb_frames',
      '-of',
      'csv=p=0',
      `${clips}/${name}.mp4`,
    ]);
    expect(Number(frames)).toBe(truth.frames.length);
    expect(truth.frames.length / truth.rate).toBeGreaterThanOrEqual(15);
    for (const f of truth.frames) expect(Math.hypot(...f.orientation)).toBeCloseTo(1, 4);
  });

  test.each([0.5, 3, 13])('at %d s shows the sun where its truth says', (time) => {
    const raw = execFileSync('ffmpeg', ['-v', 'error', '-ss', String(time - 1 / 60), '-i', `${clips}/${name}.mp4`, '-frames:v', '1', '-vf', `scale=${W}:${H}:flags=area,format=yuv420p,extractplanes=y`, '-f', 'rawvideo', '-'], { maxBuffer: 1 << 24 });
    const { orientation } = truth.frames[Math.round(time * truth.rate)]!;
    const { u, v } = equirectangularOf(apply(transpose(matrixOf(orientation)), SUN), W, H);
    const mean = (x: number, y: number, r: number) => {
      let sum = 0;
      for (let j = -r; j <= r; j++) for (let i = -r; i <= r; i++) sum += raw[Math.floor(y + j) * W + ((Math.floor(x + i) + W) % W)]!;
      return sum / (2 * r + 1) ** 2;
    };
    // The sun's disc is brighter than the sky beside it on every side, by a clear margin.
    for (const [dx, dy] of [[14, 0], [-14, 0], [0, 14], [0, -14]] as const) expect(mean(u, v, 2)).toBeGreaterThan(mean(u + dx, v + dy, 2) + 4);
  }); // prettier-ignore
});
