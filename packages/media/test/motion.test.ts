/** The motion analysis of the demo clips against how they were truly filmed, by the command line as people run it. */
import { beforeAll, describe, expect, test } from '@jest/globals';
import { execFile, execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { promisify } from 'node:util';
import { angleBetween } from '@glimbo/core/geometry/rotation';
import { upInPicture } from '@glimbo/core/level/auto';
import { axisTowards } from '@glimbo/core/level/looks';
import type { Motion } from '@glimbo/core/motion/motion';
import { newTake } from '@glimbo/core/take/take';
import { driftPerMinute, jitterLeft, keyedLevelErrors, levelErrors, percentile, readTruth, rootMeanSquare, travelErrors, trueUp, turnErrors, type Truth } from '@glimbo/demo/truth'; // prettier-ignore
import { readMotion } from '../src/motion-file.js';

const clips = resolve('packages/demo/clips');
const cli = resolve('build/engine/cli.mjs');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-motion-'));
const run = (...args: string[]) => promisify(execFile)('node', [cli, ...args], { maxBuffer: 1 << 24 });

interface Film {
  motion: Motion;
  truth: Truth;
}
const films: Record<string, Film> = {};

async function analyse(name: string, clip: string, ...more: string[]) {
  const out = join(folder, `${name}.json`);
  await run('motion', join(clips, `${clip}.mp4`), '--out', out, ...more);
  films[name] = { motion: await readMotion(out), truth: readTruth(readFileSync(join(clips, `${clip}.truth.json`), 'utf8')) }; // prettier-ignore
}

beforeAll(async () => {
  await analyse('ridge', 'ridge-loop');
  await analyse('footbridge', 'footbridge-carry');
  await analyse('sensor', 'footbridge-carry', '--sidecar', join(clips, 'footbridge-carry.motion.csv'));
  return () => rmSync(folder, { recursive: true, force: true });
}, 240_000);

describe.each(['ridge', 'footbridge', 'sensor'])('%s', (name) => {
  test('turns are right within 0.05° in half of the frames and 0.2° in 95 of 100', () => {
    const { motion, truth } = films[name]!;
    const errors = turnErrors(motion, truth);
    expect(errors.length).toBeGreaterThan(motion.frames.length * 0.75);
    expect(percentile(errors, 0.5)).toBeLessThan(0.05);
    expect(percentile(errors, 0.95)).toBeLessThan(0.2);
  });
});

test('it drifts by less than 2° a minute where there is light to see by', () => {
  for (const [name, from, to] of [['footbridge', 0, 269], ['sensor', 0, 269], ['ridge', 0, 230], ['ridge', 305, 449]] as const)
    expect(driftPerMinute(films[name]!.motion, films[name]!.truth, from, to)).toBeLessThan(2);
}); // prettier-ignore

test('in the tunnel it says that nothing can be seen, and only there', () => {
  const { motion } = films.ridge!;
  expect(motion.bad).toHaveLength(1);
  // The tunnel lies from 12.4 to 15.2 m along the line, and the wagon goes 1.42 m/s from 1.5 m on.
  expect(motion.bad[0]!.in).toBeGreaterThan(7);
  expect(motion.bad[0]!.out).toBeLessThan(11);
  expect(motion.bad[0]!.out - motion.bad[0]!.in).toBeGreaterThan(1);
  expect(motion.cuts).toEqual([]);
});

test('the direction of travel holds to 5° where it says that it is sure', () => {
  for (const name of ['ridge', 'footbridge']) {
    const errors = travelErrors(films[name]!.motion, films[name]!.truth);
    // On foot the way bobs with every step, and it is sure of it in few frames or none.
    if (name === 'ridge') expect(errors.length).toBeGreaterThan(100);
    if (errors.length) expect(percentile(errors, 0.9)).toBeLessThan(5);
  }
});

test('upside down is found', () => {
  expect(axisTowards(films.footbridge!.motion.sky)).toEqual([0, -1, 0]);
  expect(axisTowards(films.ridge!.motion.sky)).toEqual([0, 1, 0]);
});

test('the sensor tells where up is', () => {
  const { motion, truth } = films.sensor!;
  expect(motion.method).toBe('sidecar');
  for (const n of [0, 100, 269])
    expect(angleBetween(upInPicture(motion, n / 30)!.up, trueUp(truth, n))).toBeLessThan(1);
});

test('levelling Ridge Loop by itself is right to 1°, with five level keys on the steadied picture to 0.5°', () => {
  const { motion, truth } = films.ridge!;
  expect(rootMeanSquare(levelErrors(motion, truth))).toBeLessThan(1);
  expect(rootMeanSquare(keyedLevelErrors(motion, truth, [0, 232, 300, 375, 449]))).toBeLessThan(0.5);
});

test('steadied, a tenth of the jitter is left, of what was carried by hand and of what rode over rail joints in the light', () => {
  for (const [name, from, to] of [['footbridge', 0, 269], ['sensor', 0, 269], ['ridge', 0, 230], ['ridge', 305, 449]] as const) {
    const { before, after } = jitterLeft(films[name]!.motion, films[name]!.truth, from, to);
    expect(before).toBeGreaterThan(50);
    expect(after).toBeLessThan(before * 0.1);
  }
}); // prettier-ignore

describe('what a steadied take exports', () => {
  const takeFile = (change: object) => {
    const file = join(folder, 'take.json');
    writeFileSync(file, JSON.stringify({ ...newTake(join(clips, 'footbridge-carry.mp4'), 1), range: { in: 0, out: 0.5 }, ...change })); // prettier-ignore
    return file;
  };

  test('without a motion file is refused in a sentence', async () => {
    const refused = run('export', takeFile({ steady: { mode: 'rolling' } }), '--out', join(folder, 'none.mp4'));
    await expect(refused).rejects.toThrow(/was not analysed/);
  });

  test('the corrected sphere is marked as spherical in both ways, and its sound still plays', async () => {
    const out = join(folder, 'sphere.mp4');
    await run('export', takeFile({ steady: { mode: 'still' }, orientation: { mount: { pan: 0, tilt: 0, roll: 180 } } }), '--out', out, '--sphere', '--size', '640x320', '--motion', join(folder, 'footbridge.json')); // prettier-ignore
    const told = execFileSync('ffprobe', ['-v', 'error', '-show_streams', '-of', 'json', out], { encoding: 'utf8' });
    expect(told).toMatch(/"projection": "equirectangular"/);
    expect(readFileSync(out).includes('<GSpherical:ProjectionType>equirectangular')).toBe(true);
    // Decoding everything finds any sample that the grown index no longer points at.
    expect(execFileSync('ffmpeg', ['-v', 'error', '-i', out, '-f', 'null', '-'], { encoding: 'utf8' })).toBe('');
    const [frames] = [JSON.parse(told) as { streams: { codec_type: string; nb_frames: string }[] }].map((d) => d.streams.find((s) => s.codec_type === 'video')!.nb_frames); // prettier-ignore
    expect(frames).toBe('15');
  });

  test.each([['beside', 640, 180], ['over', 320, 360], ['inset', 320, 180]] as const)('before and after %s', async (compare, width, height) => {
    const out = join(folder, `${compare}.mp4`);
    await run('export', takeFile({ steady: { mode: 'still' } }), '--out', out, '--compare', compare, '--size', `${width}x${height}`, '--motion', join(folder, 'footbridge.json')); // prettier-ignore
    const told = execFileSync('ffprobe', ['-v', 'error', '-select_streams', 'v', '-show_entries', 'stream=width,height,nb_frames', '-of', 'csv=p=0', out], { encoding: 'utf8' }); // prettier-ignore
    expect(told.trim()).toBe(`${width},${height},15`);
  }); // prettier-ignore
});

test('a sidecar of something else is refused', async () => {
  const other = run('motion', join(clips, 'turntable.mp4'), '--out', join(folder, 'x.json'), '--sidecar', join(clips, 'footbridge-carry.motion.csv')); // prettier-ignore
  await expect(other).rejects.toThrow(/does not belong/);
}, 120_000);
