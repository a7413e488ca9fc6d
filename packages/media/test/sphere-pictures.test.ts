/** Frames as they are read to follow somebody: the right ones, of the right size, read ahead without harm. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { SphereFrame } from '@glimbo/core/frame/sphere-frame';
import { ahead, chosenFrames, letCome, pictures } from '../src/sphere-pictures.js';

const folder = mkdtempSync(join(tmpdir(), 'glimbo-pictures-'));
const file = join(folder, 'grey.mp4');
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** The light of a frame of the clip, which gets lighter by 6 of 255 a frame, in limited range. */
const lightOf = (n: number) => 16 + ((40 + 6 * n) * 219) / 255;

beforeAll(() => {
  const source = "color=c=black:s=128x64:r=10:d=3,format=gray,geq=lum='40+6*N',format=yuv420p";
  const coded = ['-c:v', 'libx264', '-qp', '0', '-g', '4', '-y', file];
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', source, ...coded]);
});

const lightIn = (frame: SphereFrame) => frame.levelFor(0).planes[0][64 * 16 + 32]!;

test('come from the frame that is asked for on, as many as are wanted, as wide as wanted', async () => {
  const seen: number[] = [];
  for await (const frame of pictures(file, { rate: 10, from: 7, count: 5, width: 64 })) {
    expect(frame.levelFor(0)).toMatchObject({ width: 64, height: 32 });
    seen.push(lightIn(frame));
  }
  expect(seen).toHaveLength(5);
  seen.forEach((light, k) => expect(Math.abs(light - lightOf(7 + k))).toBeLessThan(2.5));
});

test('that only pass by use the same memory; those that are kept have their own', async () => {
  const of = async (passing: boolean) => {
    const kept: SphereFrame[] = [];
    for await (const frame of pictures(file, { rate: 10, from: 0, count: 3, width: 64, passing })) kept.push(frame);
    return kept.map(lightIn);
  };
  const [first, , last] = await of(false);
  expect(last! - first!).toBeGreaterThan(8);
  expect(new Set(await of(true)).size).toBe(1);
});

test('are read ahead while something else is done; a failure is told to whoever waits', async () => {
  const { got, read } = ahead(pictures(file, { rate: 10, from: 0, count: 4, width: 64 }));
  await read;
  expect(got).toHaveLength(4);
  let turns = 0;
  await letCome(() => ++turns === 3);
  expect(turns).toBe(3);
  // It does not wait for what never comes.
  await letCome(() => false);
  const broken = ahead(pictures(join(folder, 'none.mp4'), { rate: 10, from: 0, count: 4, width: 64 }));
  await expect(broken.read).rejects.toThrow();
  expect(broken.got).toEqual([]);
});

test('of every seven those are read that are asked for, and their numbers are told', async () => {
  const stretch = { rate: 10, from: 4, count: 20, width: 64, every: 7, phases: [0, 3, 4] };
  const numbers = [...chosenFrames(stretch)];
  expect(numbers).toEqual([0, 3, 4, 7, 10, 11, 14, 17, 18]);
  const seen: number[] = [];
  for await (const frame of pictures(file, stretch)) seen.push(lightIn(frame));
  expect(seen).toHaveLength(numbers.length);
  seen.forEach((light, k) => expect(Math.abs(light - lightOf(4 + numbers[k]!))).toBeLessThan(2.5));
});
