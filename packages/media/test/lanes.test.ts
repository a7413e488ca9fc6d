/** The lanes of a footage come out the same however its bytes come in. */
import { afterAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { SWEEP_WIDTH } from '@glimbo/core/sweep/sweep';
import type { BeatsFile } from '@glimbo/core/sound/beats';
import { HEARD_RATE } from '@glimbo/core/sound/onsets';
import { SoundWriter, writeSound } from '../src/sound-lane.js';
import { BAND_HEIGHT, SweepWriter } from '../src/sweep.js';
import { writeWhole } from '../src/write-whole.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

const folder = mkdtempSync(join(tmpdir(), 'glimbo-lanes-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A sine of a loudness in dB below full scale as 16-bit samples. */
function tone(seconds: number, decibels: number): Buffer {
  const amplitude = 32767 * 10 ** (decibels / 20) * Math.SQRT2;
  const samples = Int16Array.from({ length: seconds * HEARD_RATE }, (_, i) =>
    Math.round(Math.min(1, amplitude / 32767) * 32767 * Math.sin((i * 2 * Math.PI * 440) / HEARD_RATE)),
  );
  return Buffer.from(samples.buffer);
}

describe('sound', () => {
  test('is a byte a frame, from silence to full scale', () => {
    const writer = new SoundWriter(30);
    writer.take(Buffer.alloc(HEARD_RATE * 2));
    writer.take(tone(1, -27));
    const lane = writer.finish(70).loudness;
    expect(lane).toHaveLength(70);
    expect([...lane.subarray(1, 28)].every((v) => v === 0)).toBe(true);
    for (const v of lane.subarray(32, 58)) expect(Math.abs(v - 127)).toBeLessThanOrEqual(8);
    expect([...lane.subarray(62)].every((v) => v === 0)).toBe(true);
  });

  test('has the beats of what is struck evenly beside it', async () => {
    const writer = new SoundWriter(30);
    const struck = Buffer.concat([tone(0.05, -12), Buffer.alloc(0.45 * HEARD_RATE * 2)]);
    for (let i = 0; i < 20; i++) writer.take(struck);
    const heard = mkdtempSync(join(folder, 'heard-'));
    await writeSound(heard, writer.finish(300));
    const { tempo, beats } = JSON.parse(readFileSync(join(heard, 'beats.json'), 'utf8')) as BeatsFile;
    rmSync(heard, { recursive: true });
    expect(tempo).toBeCloseTo(120, 0);
    for (const b of beats.slice(1, -1)) expect(Math.abs(b * 2 - Math.round(b * 2))).toBeLessThan(0.05);
  });

  test('does not depend on where its bytes are cut', () => {
    const bytes = tone(1, -12);
    const whole = new SoundWriter(25);
    whole.take(bytes);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 3000 }), { minLength: 1, maxLength: 40 }), (cuts) => {
        const pieces = new SoundWriter(25);
        let from = 0;
        for (const cut of cuts) {
          pieces.take(bytes.subarray(from, from + cut));
          from += cut;
        }
        pieces.take(bytes.subarray(from));
        expect(pieces.finish(25)).toEqual(whole.finish(25));
      }),
      { numRuns: 30 },
    );
  });
});

describe('the Sweep', () => {
  /** A band of one grey. */
  const band = (grey: number) => Buffer.alloc(SWEEP_WIDTH * BAND_HEIGHT * 3, grey);

  test('has a row a frame, in order, however the bands come in', async () => {
    const bands = Buffer.concat([10, 80, 160, 240].map(band));
    const writer = new SweepWriter(folder, 30, 2);
    for (let at = 0; at < bands.length; at += 7001) writer.take(bands.subarray(at, at + 7001));
    expect(writer.frames).toBe(4);
    expect(await writer.finish()).toEqual({ rows: 2, tiles: 1 });
    const rows = execFileSync('ffmpeg', [
      '-v',
      'error',
      '-i',
      join(folder, 'sweep-0000.png'),
      '-vf',
      'crop=1:ih',
      '-pix_fmt',
      'gray',
      '-f',
      'rawvideo',
      '-',
    ]);
    expect([...rows].map((v) => Math.round(v / 10) * 10)).toEqual([10, 80, 160, 240]);
    const overview = execFileSync('ffmpeg', [
      '-v',
      'error',
      '-i',
      join(folder, 'sweep.png'),
      '-vf',
      'crop=1:ih',
      '-pix_fmt',
      'gray',
      '-f',
      'rawvideo',
      '-',
    ]);
    expect([...overview].map((v) => Math.round(v / 10) * 10)).toEqual([10, 160]);
    expect(readdirSync(folder).sort()).toEqual(['activity-0000.png', 'activity.png', 'sweep-0000.png', 'sweep.png']);
  });
});

test('a file is written whole or not at all', async () => {
  const file = join(folder, 'note.txt');
  await writeWhole(file, 'first');
  await expect(writeWhole(join(folder, 'nowhere', 'note.txt'), 'x')).rejects.toThrow();
  await expect(writeWhole(folder, 'x')).rejects.toThrow();
  expect(readFileSync(file, 'utf8')).toBe('first');
  expect(readdirSync(folder).filter((f) => f.endsWith('.part'))).toEqual([]);
});
