/** The motion analysis of the demo clips against how they were truly filmed, by the command line as people run it. */
import { beforeAll, describe, expect, jest, test } from '@jest/globals';
import { execFile, execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { promisify } from 'node:util';
import { angleBetween, rotationOf } from '@glimbo/core/geometry/rotation';
import { upInPicture } from '@glimbo/core/level/auto';
import type { Motion } from '@glimbo/core/motion/motion';
import { newTake } from '@glimbo/core/take/take';
import {
  driftPerMinute,
  jitterLeft,
  keyedLevelErrors,
  levelErrors,
  percentile,
  readTruth,
  rootMeanSquare,
  travelErrors,
  trueUp,
  turnErrors,
  type Truth,
} from '@glimbo/demo/truth';
import { readMotion } from '../src/motion-file.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

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
  films[name] = {
    motion: await readMotion(out),
    truth: readTruth(readFileSync(join(clips, `${clip}.truth.json`), 'utf8')),
  };
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

test('it drifts by less than 2° a minute', () => {
  for (const [name, from, to] of [
    ['footbridge', 0, 269],
    ['sensor', 0, 269],
    ['ridge', 0, 449],
  ] as const)
    expect(driftPerMinute(films[name]!.motion, films[name]!.truth, from, to)).toBeLessThan(2);
});

test('in the tunnel too it is right, or says that it cannot see', () => {
  const { motion, truth } = films.ridge!;
  // The tunnel lies from 12.4 to 15.2 m along the line, and the wagon goes 1.42 m/s from 1.5 m on.
  const inside = {
    motion: { ...motion, frames: motion.frames.slice(230, 290) },
    truth: { ...truth, orientations: truth.orientations.slice(230, 290) },
  };
  expect(percentile(turnErrors({ ...inside.motion, bad: [] }, inside.truth), 0.95)).toBeLessThan(0.2);
  expect(motion.cuts).toEqual([]);
});

test.each(['quick', 'thorough'])(
  '%s finds a stretch in which a hand was over the lens, and no other',
  async (method) => {
    const file = join(folder, 'covered.mp4');
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-t',
      '3',
      '-i',
      join(clips, 'footbridge-carry.mp4'),
      '-an',
      '-vf',
      "scale=1024:512,drawbox=c=black:t=fill:enable='between(t,1,1.95)',noise=alls=8:allf=t",
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-crf',
      '20',
      file,
    ]);
    const out = join(folder, `covered-${method}.json`);
    await run('motion', file, '--out', out, '--method', method);
    const { bad, cuts } = await readMotion(out);
    expect(bad).toHaveLength(1);
    expect(bad[0]!.in).toBeCloseTo(1, 1);
    expect(bad[0]!.out).toBeGreaterThan(1.93);
    expect(bad[0]!.out).toBeLessThan(2.15);
    expect(cuts).toEqual([]);
  },
  60_000,
);

/** A clip of one picture that is only turned about the vertical, by whole pixels, so that its motion is known exactly. */
async function turning(
  name: string,
  { frames, filter, crf, covered }: { frames: number; filter: string; crf: number; covered?: boolean },
) {
  const [width, height] = [1024, 512];
  const pictureOf = (clip: string, second: number) => {
    const at = ['-v', 'error', '-ss', String(second), '-i', join(clips, clip), '-frames:v', '1'];
    const grey = ['-vf', `scale=${width}:${height},format=gray`, '-f', 'rawvideo', '-'];
    return execFileSync('ffmpeg', [...at, ...grey], { maxBuffer: 1 << 24 });
  };
  const [scene, rider] = [pictureOf('turntable.mp4', 1), pictureOf('footbridge-carry.mp4', 4)];
  const shifts = Array.from({ length: frames }, (_, n) => Math.round(2.3 * n + 9 * Math.sin(n / 7) + 2 * Math.sin(n)));
  const raw = Buffer.concat(
    shifts.map((shift) => {
      const frame = Buffer.alloc(width * height);
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++)
          frame[y * width + x] =
            covered && x < width / 2 ? rider[y * width + x]! : scene[y * width + ((x + shift + width) % width)]!;
      return frame;
    }),
  );
  const file = join(folder, `${name}.mp4`);
  const input = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', `${width}x${height}`, '-r', '30', '-i', '-'];
  const encode = ['-vf', filter, '-c:v', 'libx264', '-preset', 'veryfast', '-crf', String(crf), '-pix_fmt', 'yuv420p'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...input, ...encode, file], { input: raw });
  const orientations = shifts.map((shift) => rotationOf({ pan: (shift * 360) / width, tilt: 0, roll: 0 }));
  const truth: Truth = { rate: 30, orientations, positions: shifts.map(() => [0, 0, 0]) };
  return async (method: string) => {
    const out = join(folder, `${name}-${method}.json`);
    await run('motion', file, '--out', out, '--method', method);
    const motion = await readMotion(out);
    return { motion, truth, errors: turnErrors(motion, truth) };
  };
}

test('in noisy, strongly compressed footage thorough is nearer than quick', async () => {
  const by = await turning('poor', { frames: 90, filter: 'noise=alls=40:allf=t:all_seed=7', crf: 42 });
  const [quick, thorough] = [await by('quick'), await by('thorough')];
  expect(percentile(thorough.errors, 0.5)).toBeLessThan(0.9 * percentile(quick.errors, 0.5));
  expect(percentile(thorough.errors, 0.95)).toBeLessThan(percentile(quick.errors, 0.95));
  expect(thorough.errors).toHaveLength(89);
}, 60_000);

test('who covers half of the picture is not taken for the world, from the first frame on', async () => {
  const by = await turning('rider', { frames: 60, filter: 'null', crf: 23, covered: true });
  for (const method of ['quick', 'thorough']) {
    const { motion, truth, errors } = await by(method);
    expect(Math.max(...errors)).toBeLessThan(0.15);
    expect(driftPerMinute(motion, truth, 0, 59)).toBeLessThan(4);
  }
}, 60_000);

test('where the rig travels thorough says what quick says', async () => {
  const out = join(folder, 'ridge-thorough.json');
  await run('motion', join(clips, 'ridge-loop.mp4'), '--out', out, '--method', 'thorough');
  const thorough = turnErrors(await readMotion(out), films.ridge!.truth);
  const quick = turnErrors(films.ridge!.motion, films.ridge!.truth);
  expect(percentile(thorough, 0.95)).toBeLessThan(1.1 * percentile(quick, 0.95));
}, 60_000);

test('the direction of travel holds to 5° where it says that it is sure', () => {
  for (const name of ['ridge', 'footbridge']) {
    const errors = travelErrors(films[name]!.motion, films[name]!.truth);
    // On foot the way bobs with every step.
    expect(errors.length).toBeGreaterThan(name === 'ridge' ? 400 : 40);
    expect(percentile(errors, 0.95)).toBeLessThan(5);
  }
});

test('upside down is found', () => {
  expect(films.footbridge!.motion.stands!.up).toEqual([0, -1, 0]);
  expect(films.ridge!.motion.stands!.up).toEqual([0, 1, 0]);
  for (const name of ['footbridge', 'ridge']) expect(films[name]!.motion.stands!.confidence).toBeGreaterThan(0.5);
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

test('steadied, a tenth of the jitter is left, of what was carried by hand and of what rode over rail joints', () => {
  for (const [name, from, to] of [
    ['footbridge', 0, 269],
    ['sensor', 0, 269],
    ['ridge', 0, 449],
  ] as const) {
    const { before, after } = jitterLeft(films[name]!.motion, films[name]!.truth, from, to);
    expect(before).toBeGreaterThan(50);
    expect(after).toBeLessThan(before * 0.1);
  }
});

describe('what a steadied take exports', () => {
  const takeFile = (change: object) => {
    const file = join(folder, 'take.json');
    writeFileSync(
      file,
      JSON.stringify({ ...newTake(join(clips, 'footbridge-carry.mp4'), 1), range: { in: 0, out: 0.5 }, ...change }),
    );
    return file;
  };

  test('without a motion file is refused in a sentence', async () => {
    const refused = run('export', takeFile({ steady: { mode: 'rolling' } }), '--out', join(folder, 'none.mp4'));
    await expect(refused).rejects.toThrow(/was not analysed/);
  });

  test('the corrected sphere is marked as spherical in both ways, and its sound still plays', async () => {
    const out = join(folder, 'sphere.mp4');
    await run(
      'export',
      takeFile({ steady: { mode: 'still' }, orientation: { mount: { pan: 0, tilt: 0, roll: 180 } } }),
      '--out',
      out,
      '--sphere',
      '--size',
      '640x320',
      '--motion',
      join(folder, 'footbridge.json'),
    );
    const told = execFileSync('ffprobe', ['-v', 'error', '-show_streams', '-of', 'json', out], { encoding: 'utf8' });
    expect(told).toMatch(/"projection": "equirectangular"/);
    expect(readFileSync(out).includes('<GSpherical:ProjectionType>equirectangular')).toBe(true);
    // Decoding everything finds any sample that the grown index no longer points at.
    expect(execFileSync('ffmpeg', ['-v', 'error', '-i', out, '-f', 'null', '-'], { encoding: 'utf8' })).toBe('');
    const [frames] = [JSON.parse(told) as { streams: { codec_type: string; nb_frames: string }[] }].map(
      (d) => d.streams.find((s) => s.codec_type === 'video')!.nb_frames,
    );
    expect(frames).toBe('15');
  });

  test.each([
    ['beside', 640, 180],
    ['over', 320, 360],
    ['inset', 320, 180],
  ] as const)('before and after %s', async (compare, width, height) => {
    const out = join(folder, `${compare}.mp4`);
    await run(
      'export',
      takeFile({ steady: { mode: 'still' } }),
      '--out',
      out,
      '--compare',
      compare,
      '--size',
      `${width}x${height}`,
      '--motion',
      join(folder, 'footbridge.json'),
    );
    const told = execFileSync(
      'ffprobe',
      ['-v', 'error', '-select_streams', 'v', '-show_entries', 'stream=width,height,nb_frames', '-of', 'csv=p=0', out],
      { encoding: 'utf8' },
    );
    expect(told.trim()).toBe(`${width},${height},15`);
  });
});

test('a sidecar of something else is refused', async () => {
  const other = run(
    'motion',
    join(clips, 'turntable.mp4'),
    '--out',
    join(folder, 'x.json'),
    '--sidecar',
    join(clips, 'footbridge-carry.motion.csv'),
  );
  await expect(other).rejects.toThrow(/does not belong/);
}, 120_000);
