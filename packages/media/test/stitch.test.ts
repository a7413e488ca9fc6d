/** Stitching the demo's two-lens recording, whose true lenses are known from how it was rendered. */
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { equirectangularOf } from '@glimbo/core/geometry/sphere';
import { calibrate, seamError } from '@glimbo/core/stitch/calibrate';
import type { Lens } from '@glimbo/core/stitch/lens';
import { bandDirection, lensMapper, pictureOf } from '@glimbo/core/stitch/overlap';
import { twoLenses, type Source, type TwoLenses } from '@glimbo/core/stitch/source';
import { overlapLooker, trackOf } from '@glimbo/core/stitch/track';
import { newTake } from '@glimbo/core/take/take';
import { inOnePicture } from '@glimbo/demo/lenses';
import { gather } from '../src/gather.js';
import { probe, type MediaFacts } from '../src/probe.js';
import { openRecording, readRecording } from '../src/recording.js';
import { exportClip } from '../src/render/clip.js';
import { decodeFrame } from '../src/decode.js';
import { recogniseRecording } from '../src/stitch.js';
import { drawTake } from './draw-shots.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE = resolve('build/engine');
const clips = resolve('packages/demo/clips');
const files = ['a', 'b'].map((l) => join(clips, `signal-corner-${l}.mp4`));
const folder = mkdtempSync(join(tmpdir(), 'glimbo-stitch-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { maxBuffer: 1 << 28 });

const told = JSON.parse(readFileSync(join(clips, 'signal-corner.truth.json'), 'utf8')) as {
  lenses: Record<'nominal' | 'true', [Lens, Lens]>;
};
const nominal = inOnePicture(told.lenses.nominal);
const truth = inOnePicture(told.lenses.true);
const recording = { files, source: { ...twoLenses(2880, 1440, 204, nominal), join: 'files' as const } };
let facts: MediaFacts;
beforeAll(async () => {
  facts = (await readRecording(recording)).facts;
});

/** Luma of a stitched sphere, and where in it a direction lies. */
async function sphere(source: Source, raw: Uint8Array, size = { width: 2048, height: 1024 }) {
  const yuv = await drawTake(null, { source, rate: 30 }, 0, size, raw, facts);
  return (d: readonly [number, number, number]) => {
    const { u, v } = equirectangularOf(d, size.width, size.height);
    return yuv[Math.floor(v) * size.width + Math.floor(u)]!;
  };
}

describe('calibration on the demo', () => {
  test.each([1, 4, 7])('at %d s brings the true error at the seam below 0.1°', async (time) => {
    expect(seamError(nominal, truth).mean).toBeGreaterThan(1);
    const picture = pictureOf(await decodeFrame(recording, facts, time), facts.width, facts.height);
    const found = calibrate(picture, nominal);
    const { mean, worst } = seamError(found.lenses, truth);
    expect(mean).toBeLessThan(0.1);
    expect(worst).toBeLessThan(0.2);
    expect(found.after).toBeLessThan(0.15);
  });
});

describe('matching the lenses', () => {
  /** Mean of log(first / second) luma round the seam, between the lenses' own pictures of the overlap, after matching. */
  async function step(match: TwoLenses['match']) {
    const source: TwoLenses = { ...recording.source, lenses: truth, match, feather: 0, seam: 'straight' };
    const raw = await decodeFrame(recording, facts, 1);
    source.track = trackOf([overlapLooker(source)!(pictureOf(raw, facts.width, facts.height))]);
    // The seam pushed to either side shows each lens by itself in the same place.
    const side = (degrees: number): TwoLenses => ({
      ...source,
      seam: 'moving',
      track: { ...source.track!, seam: [new Array<number>(72).fill(degrees)] },
    });
    const [first, second] = [await sphere(side(6), raw.slice()), await sphere(side(-6), raw.slice())];
    let [a, b, n] = [0, 0, 0];
    for (let azimuth = 0; azimuth < 360; azimuth += 0.5)
      for (let offset = -3; offset <= 3; offset += 0.5) {
        const d = bandDirection(azimuth, offset);
        a += first(d) - 16;
        b += second(d) - 16;
        n++;
      }
    expect(n).toBeGreaterThan(5000);
    return Math.abs(a / b - 1);
  }

  test('takes a step of several percent in brightness below one percent', async () => {
    expect(await step('off')).toBeGreaterThan(0.08);
    expect(await step('gentle')).toBeLessThan(0.01);
    expect(await step('full')).toBeLessThan(0.01);
  });
});

describe('the kernel', () => {
  test('draws each lens where its model says: against the lens picture sampled directly', async () => {
    const raw = await decodeFrame(recording, facts, 2);
    const source: TwoLenses = { ...recording.source, lenses: truth, match: 'off', seam: 'straight', feather: 0 };
    const seen = await sphere(source, raw.slice(), { width: 2880, height: 1440 });
    const maps = truth.map(lensMapper);
    let [error, n] = [0, 0];
    for (let longitude = -176; longitude < 180; longitude += 7)
      for (let latitude = -80; latitude <= 80; latitude += 5) {
        const [x, y] = [((longitude / 360 + 0.5) * 2880) | 0, ((0.5 - latitude / 180) * 1440) | 0];
        const [lon, lat] = [((x + 0.5) / 2880 - 0.5) * 2 * Math.PI, (0.5 - (y + 0.5) / 1440) * Math.PI];
        const d = [Math.cos(lat) * Math.sin(lon), Math.sin(lat), Math.cos(lat) * Math.cos(lon)] as const;
        if (Math.abs(d[2]) < 0.05) continue;
        const [px, py] = maps[d[2] > 0 ? 0 : 1]!(d);
        const [i, j] = [Math.floor(px - 0.5), Math.floor(py - 0.5)];
        const [fx, fy] = [px - 0.5 - i, py - 0.5 - j];
        const at = (dx: number, dy: number) => raw[(j + dy) * facts.width + i + dx]!;
        const direct = (at(0, 0) * (1 - fx) + at(1, 0) * fx) * (1 - fy) + (at(0, 1) * (1 - fx) + at(1, 1) * fx) * fy;
        // Where the picture is busy, bilinear and bicubic differ; calm places tell whether the place is right.
        if (Math.max(at(0, 0), at(1, 0), at(0, 1), at(1, 1)) - Math.min(at(0, 0), at(1, 0), at(0, 1), at(1, 1)) > 12)
          continue;
        error += Math.abs(seen(d) - direct);
        n++;
      }
    expect(n).toBeGreaterThan(800);
    expect(error / n).toBeLessThan(1);
  });

  test('a fisheye lens against ffmpeg’s own: v360 from one fisheye circle', async () => {
    const lens: Lens = { centreX: 720, centreY: 720, radius: 720, fov: 180, k1: 0, k2: 0, pan: 0, tilt: 0, roll: 0 };
    const one = { files: [files[0]!], source: { kind: 'one-lens' as const, lens } };
    const own = (await readRecording(one)).facts;
    const raw = await decodeFrame(one, own, 1);
    const yuv = await drawTake(null, { source: one.source, rate: 30 }, 0, { width: 1440, height: 720 }, raw, own);
    const theirs = ffmpeg(
      '-ss',
      '0.98',
      '-i',
      files[0]!,
      '-frames:v',
      '1',
      '-vf',
      'v360=fisheye:e:ih_fov=180:iv_fov=180:w=1440:h=720:interp=cubic',
      '-pix_fmt',
      'yuv420p',
      '-f',
      'rawvideo',
      '-',
    );
    let [sum, n] = [0, 0];
    for (let y = 120; y < 600; y++)
      for (let x = 440; x < 1000; x++) {
        sum += (yuv[y * 1440 + x]! - theirs[y * 1440 + x]!) ** 2;
        n++;
      }
    expect(10 * Math.log10((255 * 255 * n) / sum)).toBeGreaterThan(34);
  });

  test('a part of a sphere lies where its edges say, and the rest is black', async () => {
    const half = join(folder, 'half.mp4');
    ffmpeg(
      '-i',
      join(clips, 'turntable.mp4'),
      '-t',
      '0.2',
      '-vf',
      'crop=iw/2:ih:iw/4:0,scale=720:720',
      '-qp',
      '8',
      half,
    );
    const source = { kind: 'part' as const, left: -90, right: 90, top: 90, bottom: -90 };
    const { facts: own } = await readRecording({ files: [half], source });
    const raw = await decodeFrame({ files: [half], source }, own, 0);
    const yuv = await drawTake(null, { source: source, rate: 30 }, 0, { width: 1440, height: 720 }, raw, own);
    expect([yuv[360 * 1440 + 100], yuv[360 * 1440 + 1400]]).toEqual([16, 16]);
    for (const [x, y] of [
      [400, 300],
      [720, 200],
      [1000, 500],
    ] as const)
      expect(Math.abs(yuv[y * 1440 + x]! - raw[y * 720 + x - 360]!)).toBeLessThanOrEqual(2);
  });
});

describe('recordings of lenses', () => {
  test('are recognised: two files, two circles side by side, two streams, one circle, a flat sphere', async () => {
    const side = join(folder, 'side.mp4');
    ffmpeg('-i', files[0]!, '-i', files[1]!, '-t', '1', '-filter_complex', 'hstack,scale=960:480', '-an', side);
    const streams = join(folder, 'streams.mp4');
    ffmpeg('-i', files[0]!, '-i', files[1]!, '-t', '1', '-map', '0:v', '-map', '1:v', '-c', 'copy', streams);
    expect((await probe(streams)).facts.videoStreams).toBe(2);
    const pair = await recogniseRecording(files, 1);
    expect(pair).toMatchObject({ kind: 'two-lenses', join: 'files' });
    if (pair.kind === 'two-lenses')
      pair.lenses.forEach((l, i) =>
        expect(Math.hypot(l.centreX - truth[i]!.centreX, l.centreY - truth[i]!.centreY)).toBeLessThan(2),
      );
    expect(await recogniseRecording([side], 1)).toMatchObject({ kind: 'two-lenses' });
    expect(await recogniseRecording([streams], 2)).toMatchObject({ kind: 'two-lenses', join: 'streams' });
    expect(await recogniseRecording([files[0]!], 1)).toMatchObject({ kind: 'one-lens' });
    expect(await recogniseRecording([join(clips, 'turntable.mp4')], 1)).toEqual({ kind: 'sphere' });
    await expect(recogniseRecording([join(clips, 'turntable.mp4'), join(clips, 'turntable.mp4')], 1)).rejects.toThrow(
      /no dark edge/,
    );
  });

  test('are gathered to a stitched proxy with all its lanes, and exported, frame for frame', async () => {
    const seen: number[] = [];
    const short = ['a', 'b'].map((l) => join(folder, `short-${l}.mp4`));
    short.forEach((out, i) => ffmpeg('-i', files[i]!, '-t', '1', '-vf', 'scale=480:480', '-c:a', 'copy', out));
    const small = (l: Lens): Lens => ({ ...l, centreX: l.centreX / 3, centreY: l.centreY / 3, radius: l.radius / 3 });
    const document = {
      format: 'glimbo-source',
      version: 1,
      second: 'short-b.mp4',
      source: { ...recording.source, lenses: truth.map(small) },
    };
    writeFileSync(`${short[0]}.source.json`, JSON.stringify(document));
    const opened = await openRecording(short[0]!);
    const { facts: own } = await readRecording(opened);
    expect(own).toMatchObject({ width: 960, height: 480, frames: 30 });
    const made = await gather(opened, own, join(folder, 'made'), { progress: (s) => seen.push(s), proxyWidth: 640 });
    expect(made).toMatchObject({
      proxy: { width: 640, height: 320, frames: 30 },
      sound: true,
      sweep: { rows: 30, tiles: 1 },
    });
    expect(made.source).toMatchObject({ kind: 'two-lenses', track: { every: 0.2 } });
    expect(Math.max(...seen)).toBeGreaterThan(0.5);
    const proxy = await probe(join(folder, 'made', 'proxy.mp4'));
    expect(proxy.facts).toMatchObject({ width: 640, height: 320, frames: 30, rate: 30 });
    expect(readFileSync(join(folder, 'made', 'sound.u8'))).toHaveLength(30);
    for (const codec of ['h264', 'prores'] as const) {
      const out = join(folder, `master-${codec}`);
      const take = { ...newTake(short[0]!, 1), range: { in: 0.2, out: 0.8 } };
      const report = await exportClip(take, opened, out, { width: 640, height: 320, codec, sphere: true });
      expect(report.frames).toBe(18);
      expect((await probe(out)).facts).toMatchObject({ width: 640, height: 320, frames: 18, codec });
    }
  });

  test('a footage of 30 read as 24 lasts longer, with the same frames and its sound', async () => {
    const footage = join(folder, 'grey.mp4');
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'color=gray:s=512x256:r=30:d=2,format=yuv420p,geq=lum=40+N:cb=128:cr=128',
      '-f',
      'lavfi',
      '-i',
      'sine=f=800:d=2:r=48000',
      '-qp',
      '4',
      footage,
    );
    const out = join(folder, 'slow.mp4');
    const take = { ...newTake(footage, 2), reading: 24 };
    const report = await exportClip(take, { files: [footage], source: { kind: 'sphere' } }, out, {
      width: 320,
      height: 180,
      codec: 'h264',
      quality: 4,
    });
    expect(report).toMatchObject({ frames: 60, rate: 24, seconds: 2.5 });
    const raw = ffmpeg('-i', out, '-vf', 'extractplanes=y,crop=2:2', '-f', 'rawvideo', '-');
    for (let n = 0; n < 60; n++) expect(Math.abs(raw[n * 4]! - (40 + n))).toBeLessThanOrEqual(1);
    const sound = ffmpeg('-i', out, '-ac', '1', '-ar', '48000', '-f', 's16le', '-');
    let crossings = 0;
    for (let i = 2; i < sound.length; i += 2)
      if (sound.readInt16LE(i - 2) < 0 !== sound.readInt16LE(i) < 0) crossings++;
    // 800 Hz read slower is 640 Hz.
    expect(Math.abs(crossings / 2 / (sound.length / 2 / 48000) - 640)).toBeLessThan(15);
    expect(Math.abs(sound.length / 2 / 48000 - 2.5)).toBeLessThan(0.06);
  });
});
