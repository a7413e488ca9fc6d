/** Clips that follow a pace: the very number of frames, the sound in step with the picture, its pitch kept. */
import { afterAll, beforeAll, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { paceMap, type Pace } from '@glimbo/core/pace/pace';
import { newTake } from '@glimbo/core/take/take';
import { wholeSphere } from '../src/recording.js';
import { exportClip } from '../src/render/clip.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE = resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-pace-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const at = (name: string) => join(folder, name);
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { maxBuffer: 1 << 28 });

const SECONDS = 8;
const RATE = 48000;
/** White flashes and a tone of 600 Hz for a tenth of each second: at 0.5 s, 1.5 s and so on. */
beforeAll(() => {
  ffmpeg(
    ...[
      '-f',
      'lavfi',
      '-i',
      `color=black:s=512x256:r=30:d=${SECONDS},format=yuv420p,geq=lum='if(between(mod(N,30),15,17),235,16)':cb=128:cr=128`,
    ],
    ...['-f', 'lavfi', '-i', `aevalsrc='0.5*sin(2*PI*600*t)*between(mod(t,1),0.5,0.6)':d=${SECONDS}:s=${RATE}`],
    ...[
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      '-qp',
      '8',
      '-colorspace',
      'bt709',
      '-c:a',
      'aac',
      '-b:a',
      '192k',
      at('beeps.mp4'),
    ],
  );
});

const exported = (pace: Pace, name: string, range = { in: 0, out: SECONDS }) =>
  exportClip({ ...newTake('beeps.mp4', SECONDS), range, pace }, wholeSphere(at('beeps.mp4')), at(name), {
    width: 64,
    height: 36,
    codec: 'h264',
    rate: 30,
  });

/** Seconds at which a signal that was low becomes high. */
function rises(values: ArrayLike<number>, rate: number, high: number): number[] {
  const found: number[] = [];
  for (let i = 1; i < values.length; i++)
    if (values[i]! >= high && values[i - 1]! < high && i / rate - (found.at(-1) ?? -1) > 0.3) found.push(i / rate);
  return found;
}

const flashes = (file: string) =>
  rises(ffmpeg('-i', at(file), '-vf', 'scale=1:1', '-pix_fmt', 'gray', '-f', 'rawvideo', '-'), 30, 120);

function samples(file: string): Float32Array {
  const raw = ffmpeg('-i', at(file), '-ac', '1', '-ar', String(RATE), '-f', 'f32le', '-');
  return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
}

/** Seconds at which each tone begins: where its loudness over 5 ms first passes a third of a full tone's. */
function tones(heard: Float32Array): number[] {
  const step = RATE / 200;
  const loud = Array.from({ length: Math.floor(heard.length / step) }, (_, i) =>
    Math.sqrt(heard.slice(i * step, (i + 1) * step).reduce((sum, v) => sum + v * v, 0) / step),
  );
  return rises(loud, 200, 0.12);
}

/** Frequency of a stretch, by its zero crossings. */
function pitch(heard: Float32Array, from: number, to: number): number {
  const part = heard.slice(Math.round(from * RATE), Math.round(to * RATE));
  let crossings = 0;
  for (let i = 1; i < part.length; i++) if (part[i - 1]! < 0 && part[i]! >= 0) crossings++;
  return crossings / (to - from);
}

test('slowed by a ramp, every frame is there, the sound is within 15 ms of where it should be, and the tone keeps its pitch', async () => {
  const pace: Pace = {
    keys: [
      { time: 1, speed: 1 },
      { time: 3, speed: 0.4 },
      { time: 6, speed: 1.5 },
    ],
  };
  const report = await exported(pace, 'ramp.mp4');
  const map = paceMap(pace, { in: 0, out: SECONDS });
  expect(report.frames).toBe(Math.round(map.length * 30));
  const counted = execFileSync(
    'ffprobe',
    [
      '-v',
      'error',
      '-count_packets',
      '-select_streams',
      'v',
      '-show_entries',
      'stream=nb_read_packets',
      '-of',
      'csv=p=0',
      at('ramp.mp4'),
    ],
    { encoding: 'utf8' },
  );
  expect(Number.parseInt(counted)).toBe(report.frames);
  const [seen, sound] = [flashes('ramp.mp4'), samples('ramp.mp4')];
  const heard = tones(sound);
  expect([seen.length, heard.length]).toEqual([8, 8]);
  seen.forEach((time, i) => {
    expect(Math.abs(time - map.clip(0.5 + i))).toBeLessThan(0.05);
    expect(Math.abs(heard[i]! - map.clip(0.5 + i))).toBeLessThan(0.015);
  });
  // The slowest tone lasts a quarter of a second: long enough to be counted.
  expect(pitch(sound, heard[2]! + 0.03, heard[2]! + 0.2)).toBeGreaterThan(580);
  expect(pitch(sound, heard[2]! + 0.03, heard[2]! + 0.2)).toBeLessThan(620);
});

test('a held frame stands in silence, and what follows is in step again', async () => {
  const pace: Pace = { keys: [{ time: 2, speed: 1, held: 1.5 }] };
  const { frames } = await exported(pace, 'held.mp4', { in: 0, out: 4 });
  expect(frames).toBe(165);
  const [seen, heard] = [flashes('held.mp4'), tones(samples('held.mp4'))];
  expect(seen.map((t) => Number(t.toFixed(1)))).toEqual([0.5, 1.5, 4, 5]);
  [0.5, 1.5, 4, 5].forEach((time, i) => expect(Math.abs(heard[i]! - time)).toBeLessThan(0.015));
  expect(seen.length).toBe(heard.length);
  expect(Math.max(...samples('held.mp4').slice(2.05 * RATE, 3.45 * RATE))).toBeLessThan(0.01);
});

test.each<[string, Pace['keys']]>([
  ['a constant half speed', [{ time: 0, speed: 0.5 }]],
  ['a constant double speed', [{ time: 0, speed: 2 }]],
  ['a wave', [0.5, 2, 0.5, 2, 0.5].map((speed, i) => ({ time: 2 * i, speed }))],
  [
    'a sudden ramp',
    [
      { time: 3, speed: 0.4 },
      { time: 4, speed: 1.8 },
    ],
  ],
])('in %s every tone is within 15 ms of where it should be', async (name, keys) => {
  await exported({ keys }, `${name}.mp4`);
  const map = paceMap({ keys }, { in: 0, out: SECONDS });
  const heard = tones(samples(`${name}.mp4`));
  expect(heard).toHaveLength(SECONDS);
  heard.forEach((time, i) => expect(Math.abs(time - map.clip(0.5 + i))).toBeLessThan(0.015));
});

test('sound at other frame rates and sample rates is in step too', async () => {
  ffmpeg('-i', at('beeps.mp4'), '-c:v', 'copy', '-ar', '44100', '-c:a', 'pcm_s16le', at('beeps.mov'));
  const pace: Pace = {
    keys: [
      { time: 1, speed: 1.5 },
      { time: 3, speed: 0.5 },
    ],
  };
  const map = paceMap(pace, { in: 0, out: 4 });
  for (const rate of [24, 30000 / 1001, 60]) {
    const take = { ...newTake('beeps.mov', SECONDS), range: { in: 0, out: 4 }, pace };
    await exportClip(take, wholeSphere(at('beeps.mov')), at('rates.mp4'), {
      width: 32,
      height: 18,
      codec: 'h264',
      rate,
    });
    const heard = tones(samples('rates.mp4'));
    heard.forEach((time, i) => expect(Math.abs(time - map.clip(0.5 + i))).toBeLessThan(0.015));
    expect(heard).toHaveLength(4);
  }
});

test('sound is left out, or quiet where it is too slow', async () => {
  const off = await exported({ keys: [{ time: 0, speed: 2 }], sound: 'off' }, 'off.mp4');
  expect([off.sound, off.frames]).toEqual([false, 120]);
  await exported(
    {
      keys: [
        { time: 2, speed: 1, ease: 'hold' },
        { time: 4, speed: 0.2 },
      ],
      quietBelow: 0.5,
    },
    'quiet.mp4',
    { in: 0, out: 6 },
  );
  const heard = tones(samples('quiet.mp4'));
  expect(heard.map((t) => Number(t.toFixed(1)))).toEqual([0.5, 1.5, 2.5, 3.5]);
});
