/** The look in stills and clips as they come out: Meter, blur, patch, and what does nothing. */
import { afterAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import {
  copyFileSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { cameraOf, DEFAULT_VIEW } from '@glimbo/core/lens/view';
import { IDENTITY } from '@glimbo/core/geometry/rotation';
import { lightOf, LIGHT } from '@glimbo/core/look/light';
import { USUAL_METER } from '@glimbo/core/look/meter';
import { fillPicture, reachOf, RIM, USUAL_PATCH, type Patch } from '@glimbo/core/look/patch';
import { toLinear } from '@glimbo/core/look/transfer';
import { viewShot } from '@glimbo/core/plan/shot';
import { correctionOf } from '@glimbo/core/correction/correction';
import { withLook } from '@glimbo/core/edit/look';
import { meteredByItself, meteringOf } from '@glimbo/core/edit/metering';
import { newTake, type Take } from '@glimbo/core/take/take';
import { MediaError } from '../src/ffmpeg.js';
import { measuredLight } from '../src/light.js';
import { cubesFor, overlayMaterials } from '../src/materials.js';
import { wholeSphere } from '../src/recording.js';
import { exportClip } from '../src/render/clip.js';
import { decodeFrame } from '../src/decode.js';
import { renderStill } from '../src/render/still.js';
import { probe } from '../src/probe.js';
import { svgToRgba } from '../src/svg.js';
import { drawShots, drawTake } from './draw-shots.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE ??= resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-look-'));
process.env.XDG_CACHE_HOME = join(folder, 'cache');
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const clip = (name: string) => resolve(`packages/demo/clips/${name}.mp4`);
const SOURCE = { kind: 'sphere' } as const;
const psnr = (a: ArrayLike<number>, b: ArrayLike<number>, from = 0, to = a.length) => {
  let sum = 0;
  for (let i = from; i < to; i++) sum += (a[i]! - b[i]!) ** 2;
  return 10 * Math.log10((65025 * (to - from)) / Math.max(1e-9, sum));
};

describe('the Meter on the Ridge Loop, through the tunnel', () => {
  const recording = wholeSphere(clip('ridge-loop'));

  test('keeps the exported brightness near its target, and its exposure never jumps', async () => {
    const { facts } = await probe(clip('ridge-loop'));
    const light = await measuredLight(recording);
    expect(light.samples).toBeGreaterThanOrEqual(Math.floor(facts.duration * LIGHT.rate));
    const bare: Take = { ...newTake(clip('ridge-loop'), facts.duration), range: { in: 3, out: 14 } };
    const correction = correctionOf(bare, null);
    const take = meteredByItself(bare, USUAL_METER, light, correction);
    const metering = meteringOf(take, light, correction)!;
    const jumps = Array.from({ length: 330 }, (_, n) => Math.abs(metering(3 + (n + 1) / 30) - metering(3 + n / 30)));
    expect(Math.max(...jumps)).toBeLessThan(0.15);

    const out = join(folder, 'metered.mp4');
    await exportClip(take, recording, out, { width: 192, height: 108, codec: 'h264', quality: 8 });
    const [width, height] = [48, 27];
    const raw = execFileSync(
      'ffmpeg',
      [
        '-v',
        'error',
        '-i',
        out,
        '-an',
        '-vf',
        `scale=${width}:${height}:flags=area`,
        '-pix_fmt',
        'yuv420p',
        '-f',
        'rawvideo',
        '-',
      ],
      { maxBuffer: 1 << 28 },
    );
    const bytes = width * height + 2 * Math.ceil(width / 2) * Math.ceil(height / 2);
    /** Log-average luminance of a frame in stops from mid-grey, the middle weighing most. */
    const stopsOf = (n: number) => {
      let [sum, weights] = [0, 0];
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const [u, v] = [(2 * (x + 0.5)) / width - 1, (2 * (y + 0.5)) / height - 1];
          const weight = Math.exp(-0.5 * ((u * u + v * v) / 0.36));
          const luminance = toLinear((raw[n * bytes + y * width + x]! - 16) / 219);
          sum += weight * Math.log2(Math.max(2 ** -10, luminance) / 0.18);
          weights += weight;
        }
      return sum / weights;
    };
    const target = take.look!.meter!.target;
    const off = Array.from({ length: Math.floor(raw.length / bytes) }, (_, n) => Math.abs(stopsOf(n) - target));
    // The portals: where what is seen changes fastest.
    const seen = Array.from({ length: light.samples }, (_, i) => metering(i / LIGHT.rate));
    const change = seen.map((v, i) => v - (seen[i - 1] ?? v));
    const portals = [change.indexOf(Math.max(...change)), change.indexOf(Math.min(...change))].map(
      (i) => i / LIGHT.rate,
    );
    const away = off.filter((_, n) => portals.every((t) => Math.abs(3 + n / 30 - t) > 1));
    expect(away.length).toBeGreaterThan(150);
    expect(Math.max(...away)).toBeLessThan(0.35);
  });

  test('measures the light of a recording once, and keeps it', async () => {
    const kept = { file: join(folder, 'light.u8'), sphere: clip('turntable') };
    const first = await measuredLight({ ...wholeSphere(clip('turntable')), light: kept });
    // Without a place of its own it lies in the user's cache, by the file as it is.
    const copy = join(folder, 'copy.mp4');
    copyFileSync(clip('turntable'), copy);
    const cached = join(folder, 'cache/glimbo/light');
    mkdirSync(cached, { recursive: true });
    const before = readdirSync(cached);
    const measured = await measuredLight(wholeSphere(copy));
    expect(measured).toEqual(first);
    const [name] = readdirSync(cached).filter((entry) => !before.includes(entry)) as [string];
    writeFileSync(
      join(cached, name),
      readFileSync(join(cached, name)).map((v) => 255 - v),
    );
    expect(await measuredLight(wholeSphere(copy))).not.toEqual(first);
    utimesSync(copy, 1, 1);
    expect(await measuredLight(wholeSphere(copy))).toEqual(first);
    const again = await measuredLight({ files: ['gone.mp4'], source: SOURCE, light: { ...kept, sphere: 'gone.mp4' } });
    expect(again).toEqual(first);
    expect(lightOf(readFileSync(kept.file)).samples).toBe(first.samples);
    await expect(
      measuredLight({ files: ['a.mp4'], source: { kind: 'part', left: 0, right: 90, top: 0, bottom: -40 } }),
    ).rejects.toThrow(/Gather/);
  });
});

describe('stills', () => {
  const recording = wholeSphere(clip('turntable'));
  const size = { width: 320, height: 180 };
  const bare = newTake(clip('turntable'), 10);

  test('with motion blur are the mean of 256 sub-frames', async () => {
    const { facts } = await probe(clip('turntable'));
    const raw = await decodeFrame(recording, facts, 2);
    const turning: Take = {
      ...withLook(bare, { shutter: 360 }),
      path: {
        ...bare.path,
        pan: [
          { time: 0, value: 0, ease: 'linear' },
          { time: 4, value: 240 },
        ],
      },
    };
    const footage = { source: SOURCE, rate: facts.rate };
    const blurred = await drawTake(turning, footage, 2, size, raw, facts);
    const sum = new Float64Array(blurred.length);
    for (let k = 0; k < 256; k++) {
      const pan = 60 * (2 + ((k + 0.5) / 256 - 0.5) / facts.rate);
      const shot = viewShot({ ...DEFAULT_VIEW, pan }, IDENTITY, { source: SOURCE, time: 2, ...size });
      const drawn = await drawShots([shot], raw, facts);
      for (let i = 0; i < sum.length; i++) sum[i]! += drawn[i]! / 256;
    }
    expect(psnr(blurred, sum, 0, size.width * size.height)).toBeGreaterThan(40);
  }, 120_000);

  test('a patch covers what is there, and goes on from its rim without a step', async () => {
    const { facts } = await probe(clip('turntable'));
    const raw = await decodeFrame(recording, facts, 2);
    // Something dark that stands where a tripod would.
    const [w, h] = [facts.width, facts.height];
    raw.fill(16, Math.floor(h * 0.93) * w, w * h);
    const patch: Patch = { ...USUAL_PATCH, size: 18, feather: 0 };
    const below = { ...bare, path: { ...bare.path, tilt: -90, fov: 100 } };
    const footage = { source: SOURCE, rate: facts.rate };
    const plain = await drawTake(below, footage, 2, size, raw, facts);
    const covered = await drawTake(withLook(below, { patch }), footage, 2, size, raw, facts);
    const middle = (size.height / 2) * size.width + size.width / 2;
    expect(plain[middle]).toBeLessThan(30);
    expect(covered[middle]).toBeGreaterThan(60);
    // Just within and just without the rim.
    const { scale } = cameraOf({ ...DEFAULT_VIEW, fov: 100 }, size.width, size.height);
    const radius = Math.tan((patch.size * Math.PI) / 180) / scale;
    const round = (r: number) => {
      const around = Array.from({ length: 360 }, (_, i) => {
        const [x, y] = [
          size.width / 2 + r * Math.cos((i * Math.PI) / 180),
          size.height / 2 + r * Math.sin((i * Math.PI) / 180),
        ];
        return covered[Math.floor(y) * size.width + Math.floor(x)]!;
      });
      return around.reduce((a, b) => a + b) / around.length;
    };
    expect(Math.abs(round(radius - 1) - round(radius + 1))).toBeLessThan(1);
    // A colour is that colour, to the rig or to the world.
    const black: Patch = { ...patch, kind: 'colour', colour: '#000000', to: 'world' };
    const dark = await drawTake(withLook(below, { patch: black }), footage, 2, size, raw, facts);
    expect(dark[middle]).toBe(16);
    expect(dark[middle + Math.round(radius) + 6]).toBe(plain[middle + Math.round(radius) + 6]);
  });

  test('without a look are what they were, byte for byte; what it names must be there', async () => {
    const [a, b] = [join(folder, 'a.png'), join(folder, 'b.png')];
    await renderStill(bare, recording, 1, size, a);
    await renderStill(
      { ...bare, look: { grade: { exposure: 0 }, detail: { clarity: 0 }, overlays: [] } },
      recording,
      1,
      size,
      b,
    );
    expect(readFileSync(b).equals(readFileSync(a))).toBe(true);
    const lut = withLook(bare, { lut: { file: 'gone.cube', amount: 50 } });
    await expect(renderStill(lut, recording, 1, size, join(folder, 'c.png'))).rejects.toThrow(MediaError);
    await expect(cubesFor(lut, { materials: folder })).rejects.toThrow(/gone\.cube.*missing/);
    writeFileSync(join(folder, 'gone.cube'), 'LUT_3D_SIZE 2\n0 0 0\n');
    await expect(cubesFor(lut, { materials: folder })).rejects.toThrow(/cut short/);
    const logo = { kind: 'picture', file: 'no.png', size: 10, x: 0, y: 0, opacity: 100, fade: 0 } as const;
    await expect(overlayMaterials(withLook(bare, { overlays: [logo] }), { materials: folder })).rejects.toThrow(
      /no\.png.*missing/,
    );
    writeFileSync(join(folder, 'no.png'), 'no picture at all');
    await expect(overlayMaterials(withLook(bare, { overlays: [logo] }), { materials: folder })).rejects.toThrow(
      /neither PNG nor SVG/,
    );
  });
});

test('a membrane is harmonic: its middle is the mean of its rim, and a wave round it fades inwards as its power', () => {
  const patch: Patch = { ...USUAL_PATCH, size: 20, feather: 0 };
  const rim = (wave: number) =>
    [0, 1, 2].map((p) =>
      Float64Array.from({ length: RIM }, (_, i) => 128 + (p === 0 ? 60 * Math.cos((2 * Math.PI * wave * i) / RIM) : 0)),
    );
  const side = 256;
  const at = (wave: number, angle: number) => {
    const { planes } = fillPicture(patch, rim(wave), 0, side);
    const x = Math.round(side / 2 + (angle / reachOf(patch)) * (side / 2) - 0.5);
    return planes[0][(side / 2) * side + x]! - 128;
  };
  expect(Math.abs(at(3, 0.1))).toBeLessThan(2);
  for (const [wave, angle] of [
    [1, 10],
    [2, 10],
    [3, 15],
  ] as const) {
    const share = Math.tan((angle * Math.PI) / 360) / Math.tan((patch.size * Math.PI) / 360);
    expect(Math.abs(at(wave, angle) - 60 * share ** wave)).toBeLessThan(3);
  }
});

test('SVG is drawn straight, with its opacity', async () => {
  const rgba = await svgToRgba(
    '<svg xmlns="http://www.w3.org/2000/svg" width="4" height="2"><rect width="2" height="2" fill="#ff8000" opacity="0.5"/></svg>',
    4,
    2,
  );
  expect([...rgba.subarray(0, 4)].map((v, i) => Math.abs(v - [255, 128, 0, 128][i]!) <= 1)).toEqual([
    true,
    true,
    true,
    true,
  ]);
  expect([...rgba.subarray(8, 12)]).toEqual([0, 0, 0, 0]);
  await expect(svgToRgba('<svg', 4, 2)).rejects.toBeDefined();
});
