/** The engine carries out plans that no take makes yet: several sources, several shots a frame, panes over each other. */
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { frameBytes, YUV420 } from '@glimbo/core/codecs/pixels';
import { IDENTITY } from '@glimbo/core/geometry/rotation';
import { DEFAULT_VIEW } from '@glimbo/core/lens/view';
import { planned, type FramePlan, type PlannedShot } from '@glimbo/core/plan/plan';
import { viewShot } from '@glimbo/core/plan/shot';
import { readRecording, wholeSphere } from '../src/recording.js';
import { decodedSource } from '../src/render/clip.js';
import { render } from '../src/render/pipeline.js';
import { shotsOf, tableOf } from '../src/render/plan-table.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE = resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-plan-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const files = ['dark', 'bright'].map((name) => join(folder, `${name}.mkv`));
const SPHERE = { kind: 'sphere' } as const;
const frame = { width: 320, height: 180 };

beforeAll(() => {
  // Frame n has luma 40 + n in the first, 140 + n in the second.
  for (const [i, file] of files.entries())
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-y', '-f', 'lavfi', '-i'],
      `color=gray:s=512x256:r=30:d=2,format=yuv420p,geq=lum=${40 + 100 * i}+N:cb=128:cr=128`,
      ...['-c:v', 'ffv1', '-color_range', 'tv', '-colorspace', 'bt709', file],
    ]);
});

const shot = (source: number, number: number, weight = 1, size = frame): PlannedShot => ({
  ...planned(viewShot(DEFAULT_VIEW, IDENTITY, { source: SPHERE, time: number / 30, ...size }), source, number),
  weight,
});

const planOf = (frames: PlannedShot[][][], panes = [{ left: 0, top: 0, ...frame }]): FramePlan => ({
  ...frame,
  rate: 30,
  frames: frames.length,
  sources: [SPHERE, SPHERE],
  panes,
  shotsAt: (n) => frames[n]!,
});

/** Renders a plan to raw frames; gives the luma at a place of each. */
async function lumaAt(plan: FramePlan, x: number, y: number): Promise<number[]> {
  const out = join(folder, 'out.yuv');
  const sources = await Promise.all(
    files.map(async (file) => {
      const recording = wholeSphere(file);
      return decodedSource(recording, (await readRecording(recording)).facts, false);
    }),
  );
  await render({
    plan,
    sources,
    format: YUV420,
    encoder: (pipe) => [
      ...[
        '-v',
        'error',
        '-y',
        '-f',
        'rawvideo',
        '-pix_fmt',
        'yuv420p',
        '-s',
        `${plan.width}x${plan.height}`,
        '-i',
        pipe,
      ],
      ...['-c', 'copy', '-f', 'rawvideo', out],
    ],
  });
  const raw = readFileSync(out);
  const bytes = frameBytes(YUV420, plan.width, plan.height);
  expect(raw.length).toBe(plan.frames * bytes);
  return Array.from({ length: plan.frames }, (_, n) => raw[n * bytes + y * plan.width + x]!);
}

describe('a plan of two sources', () => {
  test('cuts from one to the other, repeats, and leaves pictures out', async () => {
    const frames = [
      ...[0, 1, 1, 2].map((n) => [[shot(0, n)]]),
      ...[10, 12, 12, 20].map((n) => [[shot(1, n)]]),
      ...[30, 31].map((n) => [[shot(0, n)]]),
    ];
    expect(await lumaAt(planOf(frames), 100, 90)).toEqual([40, 41, 41, 42, 150, 152, 152, 160, 70, 71]);
  });

  test('mixes pictures of both, and two of one, by their weights', async () => {
    const frames = [
      [[shot(0, 4, 0.5), shot(1, 4, 0.5)]],
      [[shot(0, 4, 0.25), shot(0, 8, 0.75)]],
      [[shot(0, 4, 0.75), shot(0, 8, 0.25)]],
      [[shot(1, 20)]],
    ];
    expect(await lumaAt(planOf(frames), 100, 90)).toEqual([94, 47, 45, 160]);
  });

  test('holds as many pictures at once as a frame needs', async () => {
    const eight = Array.from({ length: 8 }, (_, i) => shot(0, 2 * i, 1 / 8));
    expect(await lumaAt(planOf([[eight], [[shot(0, 14)]]]), 10, 10)).toEqual([47, 54]);
  });

  test('lays a later pane over an earlier one', async () => {
    const small = { left: 16, top: 16, width: 96, height: 64 };
    const panes = [{ left: 0, top: 0, ...frame }, small];
    const frames = Array.from({ length: 12 }, (_, n) => [[shot(0, n)], [shot(1, n, 1, small)]]);
    expect(await lumaAt(planOf(frames, panes), 20, 20)).toEqual(frames.map((_, n) => 140 + n));
    expect(await lumaAt(planOf(frames, panes), 200, 20)).toEqual(frames.map((_, n) => 40 + n));
  });

  test('that goes back in its footage is refused', () => {
    expect(() => tableOf(planOf([[[shot(0, 5)]], [[shot(0, 3)]]]), [512, 512])).toThrow(/back/);
  });

  test('is the same once it is written down', () => {
    const plan = planOf([[[shot(0, 4, 1 / 3), shot(1, 7, 2 / 3)]], [[shot(1, 9)]]]);
    const table = tableOf(plan, [512, 512]);
    const [a, b] = shotsOf(table, 0);
    expect([a!.from, a!.number, a!.weight, b!.from, b!.number, b!.weight]).toEqual([0, 0, 85, 1, 0, 171]);
    expect(b!.toSource).toEqual(plan.shotsAt(0)[0]![1]!.toSource);
    expect(shotsOf(table, 1)[0]).toMatchObject({ from: 1, number: 1, weight: 256, time: 0.3 });
    expect([...table.pictures[1]!.frames]).toEqual([7, 9]);
    expect([...table.pictures[1]!.firstShown]).toEqual([0, 1]);
  });
});
