/** The lanes of a footage come out the same however its bytes come in. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { SWEEP_WIDTH } from '@glimbo/core/sweep/sweep';
import { BAND_HEIGHT, SOUND_RATE, SoundWriter, SweepWriter } from '../src/sweep.js';
import { writeWhole } from '../src/write-whole.js';

const folder = mkdtempSync(join(tmpdir(), 'glimbo-lanes-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A sine of a loudness in dB below full scale as 16-bit samples. */
function tone(seconds: number, decibels: number): Buffer {
  const amplitude = 32767 * 10 ** (decibels / 20) * Math.SQRT2;
  const samples = Int16Array.from({ length: seconds * SOUND_RATE }, (_, i) =>
    Math.round(Math.min(1, amplitude / 32767) * 32767 * Math.sin((i * 2 * Math.PI * 440) / SOUND_RATE)),
  );
  return Buffer.from(samples.buffer);
}

describe('sound', () => {
  test('is a byte a frame, from silence to full scale', () => {
    const writer = new SoundWriter(30);
    writer.take(Buffer.alloc(SOUND_RATE * 2));
    writer.take(tone(1, -27));
    const lane = writer.finish(70);
    expect(lane).toHaveLength(70);
    expect([...lane.subarray(1, 28)].every((v) => v === 0)).toBe(true);
    for (const v of lane.subarray(32, 58)) expect(Math.abs(v - 127)).toBeLessThanOrEqual(8);
    expect([...lane.subarray(62)].every((v) => v === 0)).toBe(true);
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
