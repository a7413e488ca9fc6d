/**
 * Steadying: how long the motion analysis takes against the footage's own length, and a steadied export against what
 * people would otherwise do, the same move exported as it was filmed and passed through ffmpeg's vidstab in two passes.
 * Jitter is measured in both results by vidstab's own detector, so that it is nobody's home game.
 */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { noSteady } from '@glimbo/core/steady/settings';
import { newTake } from '@glimbo/core/take/take';
import { engineFolder } from '@glimbo/media/ffmpeg';
import { PROXY_ENCODER } from '@glimbo/media/gather';
import { compete, folder, measure, root } from './measure.js';

const cli = join(engineFolder(), 'cli.mjs');
const SECONDS = 7;
const RATE = 30;
const ffmpeg = (...args: string[]) =>
  execFileSync('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args], { cwd: folder });

export async function benchMotion(rounds: number) {
  const clip = join(root, 'packages/demo/clips/ridge-loop.mp4');
  const copy = join(folder, 'reduced.mp4');
  // The reduced copy as gathering makes it.
  ffmpeg('-i', clip, '-an', '-vf', 'scale=1920:960', ...PROXY_ENCODER, copy);
  const motion = join(folder, 'motion.json');
  console.log(`Motion analysis of 15 s at 30 frames a second, medians of ${rounds}`);
  const analysis = await compete(
    {
      quick: () => measure('node', [cli, 'motion', copy, '--out', motion]),
      thorough: () =>
        measure('node', [cli, 'motion', copy, '--out', join(folder, 'thorough.json'), '--method', 'thorough']),
    },
    rounds,
  );
  for (const [name, goal] of [
    ['quick', ' (goal 0.5)'],
    ['thorough', ''],
  ] as const)
    console.log(`${name} / real time: ${(analysis.of(name, 'wall') / 15).toFixed(2)}${goal}`);
  analysis.ratio('thorough', 'quick', 2);

  const take = (name: string, change: object) => {
    const file = join(folder, `${name}.json`);
    const path = { ...newTake(clip, SECONDS).path, pan: 30, tilt: -6, fov: 80 };
    writeFileSync(file, JSON.stringify({ ...newTake(clip, SECONDS), path, ...change }));
    return file;
  };
  const size = ['--size', '1920x1080'];
  const plain = take('plain', {});
  const steadied = take('steadied', { steady: { ...noSteady(), mode: 'rolling', window: 1 } });
  console.log(`A steadied clip of ${SECONDS} s, 1920 × 1080, analysis included, medians of ${rounds}`);
  const contest = await compete(
    {
      Glimbo: async () => {
        const analysis = await measure('node', [cli, 'motion', copy, '--out', motion]);
        const drawn = await measure('node', [
          cli,
          'export',
          steadied,
          '--motion',
          motion,
          '--out',
          join(folder, 'ours.mp4'),
          ...size,
        ]);
        return {
          wall: analysis.wall + drawn.wall,
          cpu: analysis.cpu + drawn.cpu,
          peak: Math.max(analysis.peak, drawn.peak),
        };
      },
      'export and vidstab': async () => {
        const raw = join(folder, 'raw.mp4');
        const theirs = join(folder, 'theirs.mp4');
        const trf = join(folder, 'first.trf');
        const parts = [
          await measure('node', [cli, 'export', plain, '--out', raw, ...size]),
          await measure('ffmpeg', ['-v', 'error', '-y', '-i', raw, '-vf', `vidstabdetect=result=${trf}`, '-f', 'null', '-']),
          await measure('ffmpeg', ['-v', 'error', '-y', '-i', raw, '-vf', `vidstabtransform=input=${trf}:smoothing=${RATE}:optzoom=0:crop=black`, '-c:v', 'libx264', '-preset', 'medium', '-crf', '19', theirs]),
        ]; // prettier-ignore
        const sum = (key: 'wall' | 'cpu') => parts.reduce((a, p) => a + p[key], 0);
        return { wall: sum('wall'), cpu: sum('cpu'), peak: Math.max(...parts.map((p) => p.peak)) };
      },
    },
    rounds,
  );
  contest.ratio('Glimbo', 'export and vidstab', 1);
  for (const [name, file] of [
    ['as filmed', 'raw'],
    ['vidstab', 'theirs'],
    ['Glimbo', 'ours'],
  ] as const)
    console.log(
      `${name}: jitter ${jitterIn(`${file}.mp4`).toFixed(2)} pixels a frame², border lost at worst ${(100 * borderIn(`${file}.mp4`)).toFixed(1)} %`,
    );
}

/** Root mean square change of the picture's motion above 2 Hz, in pixels a frame², as vidstab's detector sees it. */
function jitterIn(file: string): number {
  ffmpeg('-i', file, '-vf', 'vidstabdetect=result=look.trf', '-f', 'null', '-');
  const moves = readFileSync(join(folder, 'look.trf'), 'utf8')
    .split('\n')
    .filter((l) => l.startsWith('Frame'))
    .map((line) => {
      const local = [...line.matchAll(/\(LM (-?\d+) (-?\d+) /g)].map((m) => [Number(m[1]), Number(m[2])] as const);
      const middle = (k: 0 | 1) => local.map((l) => l[k]).sort((a, b) => a - b)[local.length >> 1] ?? 0;
      return [middle(0), middle(1)] as const;
    });
  const reach = Math.round(RATE / 4);
  let [sum, count] = [0, 0];
  for (const k of [0, 1] as const) {
    const high = moves.map((m, n) => {
      const near = moves.slice(Math.max(0, n - reach), n + reach + 1);
      return m[k] - near.reduce((a, v) => a + v[k], 0) / near.length;
    });
    for (let n = reach + 1; n < high.length - reach; n++) {
      sum += (high[n]! - high[n - 1]!) ** 2;
      count++;
    }
  }
  return Math.sqrt((2 * sum) / Math.max(1, count));
}

/** Largest share of a frame, among ten, that is black border. */
function borderIn(file: string): number {
  let worst = 0;
  for (let i = 0; i < 10; i++) {
    const grey = execFileSync(
      'ffmpeg',
      [
        '-v',
        'error',
        '-ss',
        String((SECONDS * (i + 0.5)) / 10),
        '-i',
        file,
        '-frames:v',
        '1',
        '-vf',
        'scale=480:270',
        '-pix_fmt',
        'gray',
        '-f',
        'rawvideo',
        '-',
      ],
      { cwd: folder, maxBuffer: 1 << 24 },
    );
    // Black that reaches in from the picture's edge, row by row.
    let black = 0;
    for (let y = 0; y < 270; y++) {
      let [left, right] = [0, 479];
      while (left < 480 && grey[y * 480 + left]! < 20) left++;
      while (right > left && grey[y * 480 + right]! < 20) right--;
      black += left + (479 - right);
    }
    worst = Math.max(worst, black / (480 * 270));
  }
  return worst;
}
