/** Exports are frame-exact, with sound in sync, at the footage's rate and at others; nothing half done is left. */
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { newTake, type Take } from '@glimbo/core/take/take';
import { probe } from '../src/probe.js';
import { wholeSphere } from '../src/recording.js';
import { exportClip } from '../src/render/clip.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE = resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-clip-'));
const footage = join(folder, 'footage.mp4');
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { maxBuffer: 1 << 28 });

beforeAll(() => {
  // Frame n is grey with luma 40 + n; at 2 s a tone sets in.
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'color=gray:s=512x256:r=30:d=4,format=yuv420p,geq=lum=40+N:cb=128:cr=128',
    '-f',
    'lavfi',
    '-i',
    "aevalsrc='if(gte(t,2),sin(2*PI*1000*t),0)':d=4:s=48000",
    '-c:v',
    'libx264',
    '-qp',
    '4',
    '-bf',
    '2',
    '-g',
    '12',
    '-c:a',
    'aac',
    '-b:a',
    '192k',
    footage,
  );
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const takeOf = (from: number, to: number): Take => ({ ...newTake(footage, 4), range: { in: from, out: to } });
const size = { width: 320, height: 180, codec: 'h264' as const, quality: 4 };

/** Luma of the middle of every frame of a clip. */
function lumas(file: string): number[] {
  const raw = ffmpeg('-i', file, '-vf', 'extractplanes=y,crop=2:2', '-f', 'rawvideo', '-');
  return Array.from({ length: raw.length / 4 }, (_, n) => raw[n * 4]!);
}

/** Time in seconds at which the sound first gets loud. */
function onset(file: string): number {
  const raw = ffmpeg('-i', file, '-ac', '1', '-ar', '48000', '-f', 's16le', '-');
  for (let i = 0; i < raw.length; i += 2) if (Math.abs(raw.readInt16LE(i)) > 3000) return i / 2 / 48000;
  return NaN;
}

describe('colour', () => {
  test('is as fine as luma in ProRes, and half as fine in H.264', async () => {
    // Every second row of chroma is bluish; laid flat at the size of the chroma, each is a row of its own.
    const striped = join(folder, 'striped.mkv');
    const rows = "geq=lum=120:cb='100+60*mod(Y,2)':cr=128";
    ffmpeg('-f', 'lavfi', '-i', `color=gray:s=1024x512:r=30:d=0.2,format=yuv420p,${rows}`, '-c:v', 'ffv1', striped);
    const contrast = async (codec: 'prores' | 'h264') => {
      const out = join(folder, `striped-${codec}`);
      const take = { ...newTake(striped, 0.2), range: { in: 0, out: 0.1 } };
      await exportClip(take, wholeSphere(striped), out, { width: 512, height: 256, codec, sphere: true, quality: 4 });
      const blue = ffmpeg(
        ...['-i', out, '-vf', 'format=yuv444p,extractplanes=u,crop=1:100:256:78', '-frames:v', '1'],
        ...['-f', 'rawvideo', '-'],
      );
      const rowsOf = (odd: number) => [...blue].filter((_, i) => i % 2 === odd).reduce((a, b) => a + b, 0) / 50;
      return Math.abs(rowsOf(0) - rowsOf(1));
    };
    expect(await contrast('prores')).toBeGreaterThan(35);
    expect(await contrast('h264')).toBeLessThan(10);
  });
});

describe('an export', () => {
  test('has (out − in) × rate frames, begins with the in frame, and its sound is in sync', async () => {
    const out = join(folder, 'a.mp4');
    const seen: number[] = [];
    const report = await exportClip(takeOf(1, 3), wholeSphere(footage), out, size, {
      progress: (done) => seen.push(done),
    });
    expect(report.frames).toBe(60);
    const values = lumas(out);
    expect(values).toHaveLength(60);
    values.forEach((v, n) => expect(Math.abs(v - (40 + 30 + n))).toBeLessThanOrEqual(1));
    expect(Math.abs(onset(out) - 1)).toBeLessThan(1 / 30);
    expect(seen.at(-1)).toBe(60);
    const { facts } = await probe(out);
    expect(facts).toMatchObject({ codec: 'h264', width: 320, height: 180, rate: 30, frames: 60 });
  });

  test('from the very start to the very end', async () => {
    const out = join(folder, 'b.mp4');
    await exportClip(takeOf(0, 4), wholeSphere(footage), out, size);
    const values = lumas(out);
    expect(values).toHaveLength(120);
    expect([values[0], values[119]].map((v, i) => Math.abs(v! - (i ? 159 : 40)) <= 1)).toEqual([true, true]);
  });

  test.each([15, 24, 60])('at %d frames a second shows the frame that is on screen then', async (rate) => {
    const out = join(folder, `r${rate}.mp4`);
    await exportClip(takeOf(0.5, 2.5), wholeSphere(footage), out, { ...size, rate });
    const values = lumas(out);
    expect(values).toHaveLength(2 * rate);
    values.forEach((v, n) =>
      expect(Math.abs(v - (40 + 15 + Math.floor((n * 30) / rate + 1e-6)))).toBeLessThanOrEqual(1),
    );
    expect(Math.abs(onset(out) - 1.5)).toBeLessThan(1 / 30);
  });

  test('that fails or is cancelled leaves nothing', async () => {
    const stop = new AbortController();
    const cancelled = exportClip(
      takeOf(0, 4),
      wholeSphere(footage),
      join(folder, 'c.mp4'),
      { ...size, width: 3840, height: 2160 },
      {
        signal: stop.signal,
        progress: (done) => done > 2 && stop.abort(),
      },
    );
    await expect(cancelled).rejects.toThrow();
    await expect(exportClip(takeOf(9, 10), wholeSphere(footage), join(folder, 'd.mp4'), size)).rejects.toThrow(
      /after the end/,
    );
    await expect(
      exportClip(takeOf(0, 1), wholeSphere(join(folder, 'none.mp4')), join(folder, 'e.mp4'), size),
    ).rejects.toThrow(/not found/);
    await expect(exportClip(takeOf(0, 1), wholeSphere(footage), '/nowhere/f.mp4', size)).rejects.toThrow();
    expect(readdirSync(folder).filter((f) => f.endsWith('.part'))).toEqual([]);
    expect(['c', 'd', 'e'].some((n) => existsSync(join(folder, `${n}.mp4`)))).toBe(false);
  });
});
