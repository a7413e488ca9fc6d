/** Sound plans of several pieces, as ffmpeg makes them: when each is heard, how loud, and how they cross. */
import { afterAll, beforeAll, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { SoundPiece, SoundPlan } from '@glimbo/core/plan/sound-plan';
import { readRecording, wholeSphere } from '../src/recording.js';
import { clipSound } from '../src/render/sound.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

const folder = mkdtempSync(join(tmpdir(), 'glimbo-sound-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const tones = [300, 2000];
const files = tones.map((tone) => join(folder, `${tone}.mkv`));
const RATE = 48_000;

beforeAll(() => {
  for (const [i, file] of files.entries())
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'color=gray:s=64x32:r=30:d=4'],
      ...['-f', 'lavfi', '-i', `aevalsrc='0.5*sin(2*PI*${tones[i]}*t)':s=${RATE}:d=4`],
      ...['-c:v', 'ffv1', '-c:a', 'pcm_s16le', file],
    ]);
});

/** Samples of a plan's sound. */
async function heard(tracks: SoundPiece[][]): Promise<Float32Array> {
  const recordings = await Promise.all(
    files.map(async (file) => ({
      recording: wholeSphere(file),
      facts: (await readRecording(wholeSphere(file))).facts,
    })),
  );
  const plan: SoundPlan = { tracks: tracks.map((pieces) => ({ pieces })) };
  const sound = (await clipSound(plan, recordings, folder))!;
  const out = join(folder, 'heard.f32');
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'color=gray:s=64x32:r=30:d=1', ...sound.inputs, ...sound.filter],
    ...['-c:v', 'ffv1', '-c:a', 'pcm_f32le', '-ac', '1', '-ar', String(RATE), `${out}.mkv`],
  ]);
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', `${out}.mkv`, '-map', '0:a', '-f', 'f32le', out]);
  const raw = readFileSync(out);
  return new Float32Array(raw.buffer, raw.byteOffset, raw.length / 4);
}

/** How loud a tone is between two times in seconds: its amplitude. */
function loudness(samples: Float32Array, tone: number, from: number, to: number): number {
  let [re, im, n] = [0, 0, 0];
  for (let i = Math.round(from * RATE); i < Math.round(to * RATE); i++, n++) {
    re += samples[i]! * Math.cos((2 * Math.PI * tone * i) / RATE);
    im += samples[i]! * Math.sin((2 * Math.PI * tone * i) / RATE);
  }
  return (2 * Math.hypot(re, im)) / n;
}

const piece = (recording: number, more: Partial<SoundPiece>): SoundPiece => ({
  ...{ recording, from: 0, to: 2, at: 0, speed: 1, pace: null },
  ...more,
});

test('each piece is heard from its time on, as loud as it is alone', async () => {
  const samples = await heard([[piece(0, {})], [piece(1, { from: 1, to: 2, at: 1.5, gain: -6.02 })]]);
  expect(loudness(samples, 300, 0.5, 1.4)).toBeCloseTo(0.5, 2);
  expect(loudness(samples, 300, 1.6, 1.9)).toBeCloseTo(0.5, 2);
  expect(loudness(samples, 2000, 0.5, 1.4)).toBeLessThan(0.005);
  expect(loudness(samples, 2000, 1.6, 1.9)).toBeCloseTo(0.25, 2);
  expect(samples.length / RATE).toBeCloseTo(2.5, 2);
});

test('pieces that cross are as loud together as each by itself', async () => {
  const samples = await heard([[piece(0, { fadeOut: 1 })], [piece(1, { at: 1, fadeIn: 1 })]]);
  const at = (tone: number) => loudness(samples, tone, 1.45, 1.55);
  expect(Math.hypot(at(300), at(2000))).toBeCloseTo(0.5, 1);
  expect(Math.abs(at(300) - at(2000))).toBeLessThan(0.05);
  expect(loudness(samples, 2000, 2.2, 2.8)).toBeCloseTo(0.5, 2);
});

test('a single piece that is not placed is one chain of filters; without sound there is none', async () => {
  const { facts } = await readRecording(wholeSphere(files[0]!));
  const recording = { recording: wholeSphere(files[0]!), facts };
  const plan: SoundPlan = { tracks: [{ pieces: [piece(0, {})] }] };
  expect((await clipSound(plan, [recording], folder))!.filter).toContain('-af');
  expect(await clipSound(plan, [{ ...recording, facts: { ...facts, sound: null } }], folder)).toBeNull();
  expect(await clipSound({ tracks: [] }, [recording], folder)).toBeNull();
});
