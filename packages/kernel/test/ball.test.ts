/** A ball against the mean of the world over what each of its pixels covers. */
import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { equirectangularOf, directionOf } from '@glimbo/core/geometry/sphere';
import { YUV420 } from '@glimbo/core/colour/pixels';
import { apply, IDENTITY } from '@glimbo/core/geometry/rotation';
import { cameraDirection, DEFAULT_VIEW, type Camera } from '@glimbo/core/lens/view';
import { viewShot } from '@glimbo/core/plan/shot';
import { seededRandom } from '@glimbo/core/random';
import { createMemory, Kernel, stripesOf } from '../src/index.js';
import { planMemory } from '../src/memory.js';

const wasm = await WebAssembly.compile(readFileSync(resolve('build/engine/kernel.wasm')));
const [W, H] = [1024, 512];
const size = { width: 128, height: 128 };
const SPHERE = { kind: 'sphere' } as const;

/** A world of waves in all directions, the finer the fainter, as photographs have them. */
function world(): Uint8Array {
  const random = seededRandom(5);
  const waves = Array.from({ length: 30 }, () => {
    const along = directionOf(360 * random(), 180 * random() - 90);
    const k = 6 * 30 ** random();
    return { k: along.map((v) => v * k), phase: 7 * random(), size: 40 * (6 / k) ** 0.5 };
  });
  const out = new Uint8Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const d = directionOf(((x + 0.5) / W - 0.5) * 360, (0.5 - (y + 0.5) / H) * 180);
      let v = 128;
      for (const { k, phase, size: s } of waves) v += s * Math.sin(k[0]! * d[0] + k[1]! * d[1] + k[2]! * d[2] + phase);
      out[y * W + x] = Math.max(0, Math.min(255, Math.round(v)));
    }
  return out;
}

/** Samples along each side of a pixel. */
const FINE = 6;

/** The mean of the world over a pixel; null where part of it is beyond the limb. */
function meanOver(camera: Camera, luma: Uint8Array, x: number, y: number): number | null {
  let sum = 0;
  for (let j = 0; j < FINE; j++)
    for (let i = 0; i < FINE; i++) {
      const d = cameraDirection(camera, x + (i + 0.5) / FINE, y + (j + 0.5) / FINE);
      if (!d) return null;
      const { u, v } = equirectangularOf(apply(camera.rotation, d), W, H);
      sum += luma[Math.min(H - 1, Math.floor(v)) * W + (Math.floor(u) % W)]!;
    }
  return sum / FINE / FINE;
}

describe('a ball', () => {
  test('is as sharp across its rim as in its middle: 43 dB against the mean over each pixel', async () => {
    const plan = planMemory({
      sources: [{ width: W, height: H, format: YUV420 }],
      target: size,
      format: YUV420,
      workers: 1,
      ring: 1,
    });
    const memory = createMemory(plan.size);
    const kernel = await Kernel.create(wasm, memory, plan);
    kernel.prepare([SPHERE]);
    const slot = plan.sources[0]![0]!;
    const bytes = new Uint8Array(memory.buffer);
    const luma = world();
    bytes.set(luma, slot.planes[0]![0]!.pointer);
    const shot = viewShot({ ...DEFAULT_VIEW, bend: 2.5, fov: 230, tilt: 20 }, IDENTITY, {
      source: SPHERE,
      time: 0,
      ...size,
    });
    kernel.ready(shot, slot, { mips: { from: 0, to: Infinity } }, 0, 1, 0);
    for (const { row, rows } of stripesOf(size.height)) kernel.draw(shot, slot, plan.targets[0]!, row, rows, 0);
    const camera = shot.picture as Camera;
    let [sum, count] = [0, 0];
    for (let y = 0; y < size.height; y++)
      for (let x = 0; x < size.width; x++) {
        const wanted = meanOver(camera, luma, x, y);
        if (wanted === null) continue;
        sum += (bytes[plan.targets[0]!.pointer + y * size.width + x]! - wanted) ** 2;
        count++;
      }
    expect(10 * Math.log10((255 * 255 * count) / sum)).toBeGreaterThan(43);
  });
});
