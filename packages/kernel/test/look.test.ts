/** Looking colours up in the kernel against the same done by the core, point by point. */
import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { YUV420, YUV444, type PixelFormat } from '@glimbo/core/colour/pixels';
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import { gradeOf } from '@glimbo/core/look/grade';
import { NEUTRAL } from '@glimbo/core/look/settings';
import { bake, lookUp, type Steps } from '@glimbo/core/look/table';
import { seededRandom } from '@glimbo/core/random';
import { createMemory, Kernel, stripesOf } from '../src/index.js';
import { paneOf, planMemory, type TargetSlot } from '../src/memory.js';

const wasm = await WebAssembly.compile(readFileSync(resolve('build/engine/kernel.wasm')));
const [W, H] = [48, 272];

async function framed(format: PixelFormat) {
  const target = { width: W, height: H };
  const plan = planMemory({ sources: [], target, format, workers: 1, ring: 1, tables: 1 });
  const memory = createMemory(plan.size);
  const kernel = await Kernel.create(wasm, memory, plan);
  const slot = plan.targets[0]!;
  const bytes = new Uint8Array(memory.buffer, slot.pointer, slot.bytes);
  const random = seededRandom(5);
  for (let i = 0; i < bytes.length; i++) bytes[i] = i < W * H ? 16 + 219 * random() : 78 + 100 * random();
  return { kernel, slot, bytes, table: plan.tables[0]! };
}

/** Nowhere steeper than what it is given: nothing has to be spread. */
const look = gradeOf({ ...NEUTRAL, exposure: -0.4, contrast: -15, temperature: 20, saturation: 20 });

const tables = { 33: bake(look, 33), 65: bake(look, 65) };

/** Means of what the samples are when looked up directly: luma each with its chroma, chroma with the mean of its lumas. */
function expected(bytes: Uint8Array, block: number, steps: Steps): Uint8Array {
  const table = tables[steps];
  const out = bytes.slice();
  const [w, h] = [W / block, H / block];
  const chroma = (x: number, y: number, plane: number) => bytes[W * H + plane * w * h + y * w + x]!;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const [cb, cr] = [chroma(x, y, 0), chroma(x, y, 1)];
      let sum = 0;
      for (let k = 0; k < block * block; k++) {
        const at = (y * block + Math.floor(k / block)) * W + x * block + (k % block);
        sum += bytes[at]!;
        out[at] = Math.round(lookUp(table, [bytes[at]!, cb, cr])[0]);
      }
      const mixed: Vec3 = lookUp(table, [sum / block ** 2, cb, cr]);
      out[W * H + y * w + x] = Math.round(mixed[1]);
      out[W * H + w * h + y * w + x] = Math.round(mixed[2]);
    }
  return out;
}

const treated = (kernel: Kernel, slot: TargetSlot, table: number, steps: Steps, lattice = tables[steps]) => {
  kernel.place(lattice, table);
  for (const { row, rows } of stripesOf(slot.planes[0]!.height)) kernel.treat(slot, row, rows, table, steps);
};

describe('the kernel looks colours up as the core does', () => {
  test.each([
    ['4:2:0, 65 points', YUV420, 65],
    ['4:2:0, 33 points', YUV420, 33],
    ['4:4:4, 65 points', YUV444, 65],
  ] as const)('%s', async (_, format, steps) => {
    const { kernel, slot, bytes, table } = await framed(format);
    const wanted = expected(bytes, format.chroma, steps);
    treated(kernel, slot, table, steps);
    // Rounded values in the table may tip what lies half-way between two codes.
    const off = bytes.map((v, i) => Math.abs(v - wanted[i]!));
    expect(Math.max(...off)).toBeLessThanOrEqual(1);
    expect(off.filter((v) => v > 0).length / off.length).toBeLessThan(0.03);
  });

  test('only within the pane', async () => {
    const { kernel, slot, bytes, table } = await framed(YUV420);
    const before = bytes.slice();
    treated(kernel, paneOf(slot, { left: 16, top: 32, width: 24, height: 64 }), table, 65);
    const changed = [...bytes.keys()].filter((i) => i < W * H && bytes[i] !== before[i]);
    expect(changed.every((i) => i % W >= 16 && i % W < 40 && Math.floor(i / W) >= 32 && Math.floor(i / W) < 96)).toBe(
      true,
    );
    expect(changed.length).toBeGreaterThan(24 * 64 * 0.8);
  });

  test('spread inputs keep their mean and show no steps', async () => {
    const { kernel, slot, bytes, table } = await framed(YUV420);
    bytes.fill(60, 0, W * H).fill(128, W * H);
    const steep = bake(gradeOf({ ...NEUTRAL, exposure: 2, contrast: 40 }), 65);
    treated(kernel, slot, table, 65, steep);
    const luma = bytes.subarray(0, W * H);
    const mean = luma.reduce((s, v) => s + v, 0) / luma.length;
    expect(Math.abs(mean - lookUp(steep, [60, 128, 128])[0])).toBeLessThan(0.3);
    expect(new Set(luma).size).toBeGreaterThan(1);
  });
});
