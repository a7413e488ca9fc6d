/** Clarity and sharpening in the kernel against the same done plainly by the core. */
import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { YUV420 } from '@glimbo/core/colour/pixels';
import { detailed, type Detail } from '@glimbo/core/look/detail';
import { seededRandom } from '@glimbo/core/random';
import { createMemory, Kernel, stripesOf } from '../src/index.js';
import { planMemory } from '../src/memory.js';

const wasm = await WebAssembly.compile(readFileSync(resolve('build/engine/kernel.wasm')));

/** Slopes, edges and grain. */
function scene(width: number, height: number): Uint8Array {
  const random = seededRandom(3);
  return Uint8Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    const edge = x > width / 3 !== y > height / 2 ? 60 : 0;
    return 70 + edge + 20 * Math.sin(x / 9) * Math.cos(y / 7) + 16 * random();
  });
}

async function inKernel(luma: Uint8Array, width: number, height: number, detail: Detail): Promise<Uint8Array> {
  const plan = planMemory({
    sources: [],
    target: { width, height },
    format: YUV420,
    workers: 1,
    ring: 1,
    detail: true,
  });
  const memory = createMemory(plan.size);
  const kernel = await Kernel.create(wasm, memory, plan);
  const target = plan.targets[0]!;
  const bytes = new Uint8Array(memory.buffer);
  bytes.set(luma, target.planes[0]!.pointer);
  for (const { row, rows } of stripesOf(height)) kernel.detail(target, row, rows, detail, 0);
  return bytes.slice(target.detailed!.pointer, target.detailed!.pointer + width * height);
}

const sharpen = { amount: 120, radius: 1.2, threshold: 2 };

describe('detail in the kernel is that of the core', () => {
  test.each<[string, number, number, Detail]>([
    ['clarity', 320, 300, { clarity: 80 }],
    ['less clarity', 322, 178, { clarity: -60 }],
    ['sharpening', 320, 300, { sharpen }],
    ['both, over several stripes and cells of several pixels', 440, 402, { clarity: 50, sharpen }],
    ['both in a small frame', 50, 34, { clarity: 50, sharpen: { amount: 200, radius: 3, threshold: 0 } }],
  ])('%s', async (_, width, height, detail) => {
    const luma = scene(width, height);
    const wanted = detailed(luma, width, height, detail);
    const got = await inKernel(luma, width, height, detail);
    const off = wanted.map((v, i) => Math.abs(v - got[i]!));
    expect(off.reduce((a, b) => Math.max(a, b))).toBeLessThan(0.6);
    expect(got.filter((v, i) => v !== luma[i]).length).toBeGreaterThan(got.length / 2);
  });

  test('even light stays as it is, and an edge gets no halo from clarity', async () => {
    const even = new Uint8Array(200 * 200).fill(90);
    expect(await inKernel(even, 200, 200, { clarity: 100, sharpen })).toEqual(even);
    const edge = Uint8Array.from({ length: 200 * 200 }, (_, i) => (i % 200 < 100 ? 60 : 180));
    const out = await inKernel(edge, 200, 200, { clarity: 100 });
    const off = [...out].map((v, i) => Math.abs(v - edge[i]!));
    expect(off.reduce((a, b) => Math.max(a, b))).toBeLessThan(9);
  });
});
