/** The twin in clips, spheres and stills as they come out. */
import { afterAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { USUAL_SECTOR, USUAL_TWIN } from '@glimbo/core/look/sector';
import { withLook } from '@glimbo/core/edit/look';
import { newTake, type Take } from '@glimbo/core/take/take';
import { wholeSphere } from '../src/recording.js';
import { exportClip } from '../src/render/clip.js';
import { renderStill } from '../src/render/still.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE ??= resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-twin-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const clip = (name: string) => resolve(`packages/demo/clips/${name}.mp4`);

describe('a twin', () => {
  const sector = { ...USUAL_SECTOR, from: -30, to: 40, bottom: -50, top: 60, feather: 6 };
  const bare: Take = { ...newTake(clip('turntable'), 10), range: { in: 1, out: 1.4 } };
  const twin = { ...USUAL_TWIN, match: false };
  const md5 = (file: string) =>
    execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-an', '-f', 'md5', '-'], { encoding: 'utf8' });
  const exported = async (take: Take, name: string, sphere = false) => {
    const out = join(folder, `${name}.mp4`);
    const size = sphere ? { width: 320, height: 160 } : { width: 320, height: 180 };
    await exportClip(take, wholeSphere(clip('turntable')), out, { ...size, sphere, codec: 'h264' });
    return md5(out);
  };

  test('of a clip with itself at the same time is the plain sphere, byte for byte', async () => {
    const itself = withLook(bare, { sector: { ...sector, twin } });
    expect(await exported(itself, 'itself')).toBe(await exported(bare, 'plain'));
    expect(await exported(itself, 'itself-sphere', true)).toBe(await exported(bare, 'plain-sphere', true));
    // What is outside decides otherwise.
    const later = withLook(bare, { sector: { ...sector, twin: { ...twin, time: 4 } } });
    expect(await exported(later, 'later')).not.toBe(await exported(bare, 'plain'));
  }, 60_000);

  test('shows another time outside, and the take’s own inside', async () => {
    const recording = wholeSphere(clip('turntable'));
    const size = { width: 320, height: 180 };
    const wide = { ...bare, path: { ...bare.path, fov: 130 } };
    const picture = async (take: Take, time: number, name: string) => {
      const out = join(folder, `${name}.png`);
      await renderStill(take, recording, time, size, out);
      return execFileSync('ffmpeg', ['-v', 'error', '-i', out, '-pix_fmt', 'gray', '-f', 'rawvideo', '-']);
    };
    const halves = { ...sector, from: -90, to: 0, bottom: -90, top: 90, feather: 4 };
    const mixed = await picture(withLook(wide, { sector: { ...halves, twin: { ...twin, time: 5 } } }), 2, 'mixed');
    const [now, then] = [await picture(wide, 2, 'now'), await picture(wide, 7, 'then')];
    const column = (x: number) => (a: Uint8Array, b: Uint8Array) =>
      Math.max(...Array.from({ length: 180 }, (_, y) => Math.abs(a[y * 320 + x]! - b[y * 320 + x]!)));
    for (let x = 0; x < 150; x++) expect(column(x)(mixed, now)).toBeLessThanOrEqual(1);
    for (let x = 170; x < 320; x++) expect(column(x)(mixed, then)).toBeLessThanOrEqual(1);
    expect(Math.max(...Array.from({ length: 150 }, (_, x) => column(x)(now, then)))).toBeGreaterThan(30);
  }, 60_000);

  test('that is of another footage needs it', async () => {
    const other = withLook(bare, {
      sector: { ...sector, twin: { ...twin, footage: 'ridge-loop.mp4', runs: 'still', time: 2 } },
    });
    await expect(exported(other, 'other')).rejects.toThrow(/ridge-loop\.mp4.*missing/);
    const recording = { ...wholeSphere(clip('turntable')), twin: wholeSphere(clip('ridge-loop')) };
    await renderStill(other, recording, 1, { width: 320, height: 180 }, join(folder, 'other.png'));
  });
});
