/** The engine carries out plans that no take makes yet: several sources, several shots a frame, panes over each other. */
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import fc from 'fast-check';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { frameBytes, YUV420 } from '@glimbo/core/colour/pixels';
import { IDENTITY } from '@glimbo/core/geometry/rotation';
import { DEFAULT_VIEW } from '@glimbo/core/lens/view';
import { NEUTRAL } from '@glimbo/core/look/settings';
import {
  planned,
  wholePane,
  type FramePlan,
  type Layer,
  type PlannedShot,
  type PlannedTreatment,
} from '@glimbo/core/plan/plan';
import { flatShot, viewShot, type PlanSource } from '@glimbo/core/plan/shot';
import { readRecording, wholeSphere } from '../src/recording.js';
import { decodedSource } from '../src/decode.js';
import { render } from '../src/render/pipeline.js';
import { tableOf } from '../src/render/table-writer.js';
import { layersOf } from '../src/render/table-reader.js';
import { AHEAD, lanesOf } from '../src/render/sources.js';

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

const numbers = (count: number) => Array.from({ length: count }, (_, n) => n);

/** A plan of one layer; of each frame the shots of each pane. */
const planOf = (frames: PlannedShot[][][], panes = [wholePane(frame)]): FramePlan =>
  layered(
    frames.map((parts) => [
      { pane: wholePane(frame), weight: 1, parts: parts.map((shots, p) => ({ pane: panes[p]!, shots })) },
    ]),
  );

const layered = (frames: Layer[][], sources: PlanSource[] = [SPHERE, SPHERE]): FramePlan => ({
  ...frame,
  rate: 30,
  frames: frames.length,
  sources,
  layersAt: (n) => frames[n]!,
});

/** Renders a plan to raw frames; gives the luma at a place of each. */
async function lumaAt(plan: FramePlan, x: number, y: number, of = [0, 1]): Promise<number[]> {
  const out = join(folder, 'out.yuv');
  const sources = await Promise.all(
    of.map(async (file) => {
      const recording = wholeSphere(files[file]!);
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

  test('goes back in its footage by some pictures, which are held; not far', async () => {
    const back = [3, 9, 2, 12, 4].map((n) => [[shot(0, n)]]);
    expect(await lumaAt(planOf(back), 10, 10)).toEqual([43, 49, 42, 52, 44]);
    expect(() => tableOf(planOf([[[shot(0, 0)]], ...numbers(80).map((n) => [[shot(0, 80 - n)]])]), [512, 512])).toThrow(
      /back/,
    );
  });

  test('is the same once it is written down', () => {
    const plan = planOf([[[shot(0, 4, 1 / 3), shot(1, 7, 2 / 3)]], [[shot(1, 9)]]]);
    const table = tableOf(plan, [512, 512]);
    const shotsOf = (n: number) => layersOf(table, n)[0]!.parts[0]!.shots;
    const [a, b] = shotsOf(0);
    expect([a!.from, a!.number, a!.weight, b!.from, b!.number, b!.weight]).toEqual([0, 0, 85, 1, 0, 171]);
    expect(b!.toSource).toEqual(plan.layersAt(0)[0]!.parts[0]!.shots[1]!.toSource);
    expect(shotsOf(1)[0]).toMatchObject({ from: 1, number: 1, weight: 256, time: 0.3 });
    expect([...table.pictures[1]!.frames]).toEqual([7, 9]);
    expect([...table.pictures[1]!.firstShown]).toEqual([0, 1]);
  });
});

describe('layers', () => {
  const part = (shots: PlannedShot[], pane = wholePane(frame)) => ({ pane, shots });
  const layer = (shots: PlannedShot[], more: Partial<Layer> = {}): Layer => ({
    ...{ pane: wholePane(frame), weight: 1, parts: [part(shots)] },
    ...more,
  });
  const grey = (level: number): PlannedTreatment => ({
    grade: { ...NEUTRAL, exposure: level },
    steps: 65,
  });

  test('are each finished and then laid over those before by their weight', async () => {
    const frames = [0, 0.25, 0.5, 1].map((weight) => [layer([shot(0, 10)]), layer([shot(1, 20)], { weight })]);
    // 50 and 160.
    expect(await lumaAt(layered(frames), 100, 90)).toEqual([50, 78, 105, 160]);
  });

  test('keep what is done to their colours and what lies over them to themselves', async () => {
    const bar =
      '<svg xmlns="http://www.w3.org/2000/svg" width="320" height="180"><rect width="320" height="60" fill="#fff"/></svg>';
    const alone = layered([[layer([shot(0, 10)], { treatment: grey(1), overlay: bar })]]);
    const [brighter] = await lumaAt(alone, 100, 90);
    expect(brighter).toBeGreaterThan(60);
    const both = layered([
      [layer([shot(0, 10)], { treatment: grey(1), overlay: bar }), layer([shot(1, 20)], { weight: 0.5 })],
    ]);
    const [mixed] = await lumaAt(both, 100, 90);
    expect(Math.abs(mixed! - (brighter! + 160) / 2)).toBeLessThan(1.5);
    // The bar is in the lower layer alone: half of it shows.
    expect((await lumaAt(both, 100, 10))[0]).toBe(Math.round((235 + 160) / 2));
  });

  test('lie where their pane is; what none covers is black', async () => {
    const small = { left: 64, top: 34, width: 96, height: 54 };
    const within = (source: number, n: number) =>
      layer([shot(source, n, 1, small)], { pane: small, parts: [part([shot(source, n, 1, small)], wholePane(small))] });
    const over = layered([[layer([shot(0, 10)]), within(1, 20)]]);
    expect([await lumaAt(over, 66, 36), await lumaAt(over, 62, 36), await lumaAt(over, 158, 86)]).toEqual([
      [160],
      [50],
      [160],
    ]);
    const alone = layered([[within(1, 20)], []]);
    expect(await lumaAt(alone, 10, 10)).toEqual([16, 16]);
    expect(await lumaAt(alone, 100, 60)).toEqual([160, 16]);
  });

  test('are black where none of their parts lies, also beside another frame’s, whatever was drawn there before', async () => {
    const half = { left: 0, top: 0, width: 160, height: 180 };
    const gap = () => layer([], { parts: [part([shot(1, 20, 1, half)], half)], treatment: grey(1) });
    const full = () => layer([shot(0, 30)]);
    // More frames than are held at once, so that every place was drawn in.
    const frames = Array.from({ length: 12 }, (_, n) => [n < 6 ? full() : gap()]);
    const luma = await lumaAt(layered(frames), 240, 90);
    expect(luma).toEqual(frames.map((_, n) => (n < 6 ? 70 : 16)));
    expect((await lumaAt(layered(frames), 100, 90))[8]).toBeGreaterThan(160);
    // A card of writing alone, laid half over another.
    const card =
      '<svg xmlns="http://www.w3.org/2000/svg" width="320" height="180"><rect width="160" height="180" fill="#fff"/></svg>';
    const over = Array.from({ length: 6 }, () => [full(), layer([], { parts: [], overlay: card, weight: 0.5 })]);
    expect(await lumaAt(layered(over), 240, 90)).toEqual(over.map(() => (70 + 16) / 2));
  });

  test('show flat pictures too: a part of them over all of the pane', async () => {
    const flat = (n: number, left: number): PlannedShot => {
      const seen = { ...frame, left, top: 0, right: left + 0.5, bottom: 0.5 };
      return planned(flatShot(seen, n / 30), 0, n);
    };
    const plan = layered([[layer([flat(3, 0)])], [layer([flat(4, 0.75)])]], [{ kind: 'flat' }, SPHERE]);
    // Of the second frame the right half lies outside the picture.
    expect(await lumaAt(plan, 40, 90)).toEqual([43, 44]);
    expect(await lumaAt(plan, 300, 90)).toEqual([43, 16]);
  });
});

describe('sources', () => {
  test('share a place when they are never open at the same time', () => {
    const used = (first: number, last: number) => ({ frames: Uint32Array.of(0), uses: { first, last } });
    const list = [
      used(0, 99),
      used(100, 199),
      used(200, 299),
      used(200, 250),
      { ...used(0, 0), frames: new Uint32Array() },
    ];
    // The third begins long enough after the first has ended, and is begun before the second has.
    expect(lanesOf(list)).toEqual([[0, 2], [1], [3]]);
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(500), fc.nat(200)), { minLength: 1, maxLength: 20 }), (spans) => {
        const all = spans.map(([first, length]) => used(first, first + length));
        const lanes = lanesOf(all);
        expect(lanes.flat().sort((a, b) => a - b)).toEqual(all.map((_, i) => i));
        for (const lane of lanes)
          lane.forEach((s, i) => {
            if (i) expect(all[lane[i - 1]!]!.uses.last + AHEAD).toBeLessThan(all[s]!.uses.first);
          });
      }),
    );
  });

  test('that come one after the other in one place are all drawn', async () => {
    const pictures = [0, 1, 0];
    const frames = pictures.flatMap((_, source) =>
      Array.from({ length: AHEAD + 2 }, (_, n): Layer[] => [
        {
          pane: wholePane(frame),
          weight: 1,
          parts: [{ pane: wholePane(frame), shots: [shot(source, Math.min(n, 40))] }],
        },
      ]),
    );
    const plan = layered(frames, [SPHERE, SPHERE, SPHERE]);
    const luma = await lumaAt(plan, 100, 90, pictures);
    const first = (n: number) => luma[n * (AHEAD + 2)];
    expect([first(0), first(1), first(2)]).toEqual([40, 140, 40]);
    expect(luma.at(-1)).toBe(80);
    expect(lanesOf(tableOf(plan, [512, 512, 512]).pictures)).toEqual([[0, 2], [1]]);
  });
});
