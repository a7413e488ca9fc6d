/** One frame of a take as a picture, by the same kernel as the clips. */
import { readFileSync } from 'node:fs';
import { rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { createMemory, Kernel, needsMips } from '@glimbo/kernel';
import { frameBytes, planMemory, STRIPE_ROWS } from '@glimbo/kernel/memory';
import { IDENTITY, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { correctionOf } from '@glimbo/core/take/correction';
import { sphereWidth, type Source } from '@glimbo/core/stitch/source';
import type { Take } from '@glimbo/core/take/take';
import { engineFolder, MediaError, output } from '../ffmpeg.js';
import type { MediaFacts } from '../probe.js';
import { pictureInput, readRecording, type PictureFacts, type Recording } from '../recording.js';
import { motionFor } from './clip.js';
import { shotAt } from './shot.js';

/** Renders the frame at a time in seconds to a PNG file; without a take the whole sphere. Throws MediaError. */
export async function renderStill(
  take: Take | null,
  recording: Recording,
  time: number,
  size: { width: number; height: number },
  out: string,
) {
  const { facts } = await readRecording(recording);
  const raw = await decodeFrame(recording, facts, time);
  const correction = take ? correctionOf(take, await motionFor(take, recording)).at(time) : IDENTITY;
  const yuv = await drawFrame(take, recording.source, raw, facts, time, size, correction);
  const rgb = toRgb(yuv, size.width, size.height);
  const png = await output('ffmpeg', [
    '-v', 'error', '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${size.width}x${size.height}`, '-i', '-',
    '-frames:v', '1', '-c:v', 'png', '-f', 'image2pipe', '-',
  ], rgb); // prettier-ignore
  await writeFile(`${out}.part`, png);
  await rename(`${out}.part`, out);
}

/** The picture of a recording at a time in seconds, as yuv420p bytes of the joined size in `facts`. Throws MediaError. */
export async function decodeFrame(
  recording: Recording,
  facts: Pick<MediaFacts, 'width' | 'height' | 'frames'> & PictureFacts,
  time: number,
): Promise<Uint8Array> {
  const index = Math.min(facts.frames - 1, Math.max(0, Math.floor(time * facts.rate + 1e-6)));
  const { inputs, chain } = pictureInput(recording, facts, index);
  const raw = await output('ffmpeg', [
    '-v', 'error', '-nostdin', ...inputs, '-filter_complex', `${chain}[v]`, '-map', '[v]', '-frames:v', '1',
    '-pix_fmt', 'yuv420p', '-f', 'rawvideo', '-',
  ]); // prettier-ignore
  if (raw.length !== frameBytes(facts.width, facts.height))
    throw new MediaError(`There is no picture at ${time.toFixed(2)} s.`);
  return raw;
}

/** Draws one yuv420p frame of the footage as the take sees it at a time, or the whole sphere; gives the yuv444p bytes of the result. */
export async function drawFrame(
  take: Take | null,
  picture: Source,
  raw: Uint8Array,
  source: { width: number; height: number },
  time: number,
  target: { width: number; height: number },
  correction: Matrix3 = take ? correctionOf(take).at(time) : IDENTITY,
) {
  const plan = planMemory({ source, target, workers: 1, ring: 1, fullChroma: true });
  const memory = createMemory(plan.size);
  const kernel = await Kernel.create(
    await WebAssembly.compile(readFileSync(join(engineFolder(), 'kernel.wasm'))),
    memory,
    plan,
  );
  kernel.prepare(picture);
  const bytes = new Uint8Array(memory.buffer);
  const slot = plan.sources[0]!;
  bytes.set(raw, slot.pointer);
  const shot = shotAt(take, correction, picture, time, target.width, target.height);
  kernel.ready(shot, slot, needsMips(shot.picture, sphereWidth(picture, source.width)), 0, 1, 0);
  const rows = Math.ceil(target.height / 8);
  for (let row = 0; row < rows; row += STRIPE_ROWS)
    kernel.draw(shot, slot, plan.targets[0]!, row, Math.min(STRIPE_ROWS, rows - row), 0);
  const { pointer, bytes: length } = plan.targets[0]!;
  return bytes.slice(pointer, pointer + length);
}

/** yuv444p (BT.709, video range) to RGB, 8 bits each. */
export function toRgb(yuv: Uint8Array, width: number, height: number): Uint8Array {
  const pixels = width * height;
  const rgb = new Uint8Array(pixels * 3);
  const clamp = (v: number) => Math.max(0, Math.min(255, Math.round(v)));
  for (let i = 0; i < pixels; i++) {
    const luma = 1.16438 * (yuv[i]! - 16);
    const u = yuv[pixels + i]! - 128;
    const v = yuv[2 * pixels + i]! - 128;
    rgb[i * 3] = clamp(luma + 1.79274 * v);
    rgb[i * 3 + 1] = clamp(luma - 0.21325 * u - 0.53291 * v);
    rgb[i * 3 + 2] = clamp(luma + 2.1124 * u);
  }
  return rgb;
}
