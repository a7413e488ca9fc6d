/** What is laid over in the kernel: pictures with their own opacity over a frame, and a patch over a part of the sphere. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { YUV420, YUV444, type PixelFormat } from '@glimbo/core/colour/pixels';
import { dot, IDENTITY, rotationOf, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { DEFAULT_VIEW, directionAt, pixelOf, type Camera, type View } from '@glimbo/core/lens/view';
import { colourPicture, USUAL_PATCH, type Patch } from '@glimbo/core/look/patch';
import { codesOfRgb } from '@glimbo/core/look/table';
import { patched, sphereShot, viewShot } from '@glimbo/core/plan/shot';
import { createMemory, Kernel, stripesOf } from '../src/index.js';
import { planMemory } from '../src/memory.js';

/** Mip levels everywhere. */
const ALL = { mips: { from: 0, to: Infinity } };
const wasm = await WebAssembly.compile(readFileSync(resolve('build/engine/kernel.wasm')));
const SPHERE = { kind: 'sphere' } as const;

describe('a picture over a frame', () => {
  const [width, height] = [40, 272];
  async function laid(
    format: PixelFormat,
    rgba: (x: number, y: number) => [number, number, number, number],
    detail = false,
  ) {
    const plan = planMemory({
      sources: [],
      target: { width, height },
      format,
      workers: 1,
      ring: 1,
      overlays: 1,
      detail,
    });
    const memory = createMemory(plan.size);
    const kernel = await Kernel.create(wasm, memory, plan);
    const target = plan.targets[0]!;
    const bytes = new Uint8Array(memory.buffer, target.pointer, target.bytes).fill(100);
    const pixels = Uint8Array.from({ length: 4 * width * height }, (_, i) => {
      const at = i >> 2;
      return rgba(at % width, Math.floor(at / width))[i & 3]!;
    });
    if (target.detailed) new Uint8Array(memory.buffer, target.detailed.pointer, width * height).fill(90);
    kernel.placeOverlay(pixels, plan.overlays[0]!);
    for (const { row, rows } of stripesOf(height)) kernel.lay(target, row, rows, plan.overlays[0]!);
    const detailed = target.detailed && new Uint8Array(memory.buffer, target.detailed.pointer, width * height);
    return { bytes, detailed };
  }

  test.each([
    ['4:2:0', YUV420],
    ['4:4:4', YUV444],
  ] as const)('is there by its opacity, and nowhere else (%s)', async (_, format) => {
    const { bytes } = await laid(format, (x, y) =>
      x >= 8 && x < 24 && y >= 100 && y < 200 ? [255, 0, 0, 128] : [0, 255, 0, 0],
    );
    const red = codesOfRgb([1, 0, 0]);
    const chroma = format.chroma;
    const at = (p: number, x: number, y: number) => {
      const w = p ? width / chroma : width;
      const begin = p === 0 ? 0 : width * height + (p - 1) * w * (height / chroma);
      return bytes[begin + Math.floor(p ? y / chroma : y) * w + Math.floor(p ? x / chroma : x)]!;
    };
    for (const p of [0, 1, 2]) {
      expect(Math.abs(at(p, 12, 150) - (100 + (red[p]! - 100) * (128 / 255)))).toBeLessThan(1.1);
      expect([at(p, 2, 150), at(p, 12, 40), at(p, 30, 260)]).toEqual([100, 100, 100]);
    }
  });

  test('lies over the luma that has its detail, where a frame has that', async () => {
    const { bytes, detailed } = await laid(YUV420, () => [0, 0, 0, 255], true);
    expect(new Set(detailed!)).toEqual(new Set([16]));
    expect(new Set(bytes.subarray(0, width * height))).toEqual(new Set([100]));
  });
});

describe('a patch over the sphere', () => {
  const [w, h] = [512, 256];
  const patch: Patch = { ...USUAL_PATCH, kind: 'colour', colour: '#ffffff', size: 20, feather: 4 };

  async function drawn(over: Patch, view: Partial<View> | 'sphere', correction: Matrix3 = IDENTITY) {
    const size = view === 'sphere' ? { width: 256, height: 128 } : { width: 160, height: 96 };
    const plan = planMemory({
      sources: [{ width: w, height: h, format: YUV420 }],
      target: size,
      format: YUV420,
      workers: 1,
      ring: 1,
      patches: 1,
    });
    const memory = createMemory(plan.size);
    const kernel = await Kernel.create(wasm, memory, plan);
    kernel.prepare([SPHERE]);
    const slot = plan.sources[0]![0]!;
    new Uint8Array(memory.buffer, slot.pointer, slot.bytes).fill(60, 0, w * h).fill(128, w * h);
    const seen = { source: SPHERE, time: 0, ...size };
    const shot =
      view === 'sphere' ? sphereShot(correction, seen) : viewShot({ ...DEFAULT_VIEW, ...view }, correction, seen);
    kernel.ready(shot, slot, ALL, 0, 1, 0);
    const place = plan.patches!.slots[0]!;
    kernel.placePatch(colourPicture(over), place);
    const whole = patched(shot, over, correction);
    for (const { row, rows } of stripesOf(size.height))
      kernel.draw(whole, slot, plan.targets[0]!, row, rows, 0, { patch: { patch: over, slot: place } });
    const target = plan.targets[0]!;
    const rim = whole.patch ? kernel.rimOf(whole, over, slot, 0) : [];
    const luma = new Uint8Array(memory.buffer, target.pointer, size.width * size.height).slice();
    return { at: (x: number, y: number) => luma[Math.floor(y) * size.width + Math.floor(x)]!, rim, ...size };
  }

  test('lies at the nadir, with soft sides', async () => {
    const { at, width, height } = await drawn(patch, 'sphere');
    for (const x of [3, 100, 250]) {
      expect(at(x, height - 2)).toBe(235);
      expect(at(x, height / 2)).toBe(60);
    }
    const column = Array.from({ length: height }, (_, y) => at(width / 3, y));
    expect(column.some((v) => v > 90 && v < 210)).toBe(true);
    // Twenty degrees of a hundred and eighty.
    const edge = column.findIndex((v) => v > 147);
    expect(Math.abs(edge / height - 160 / 180)).toBeLessThan(0.01);
  });

  test('goes with the rig or stays with the world', async () => {
    const turned = rotationOf({ pan: 0, tilt: 0, roll: 90 });
    const ahead: Patch = { ...patch, pan: 0, tilt: -90 };
    const world = await drawn({ ...ahead, to: 'world' }, { tilt: -90 }, turned);
    expect(world.at(80, 48)).toBe(235);
    const rig = await drawn({ ...ahead, to: 'rig' }, { tilt: -90 }, turned);
    expect(rig.at(80, 48)).toBe(60);
  });

  test('is there exactly where a pixel of the picture may show it', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.record({
          pan: fc.integer({ min: -180, max: 180 }),
          tilt: fc.integer({ min: -90, max: 90 }),
          roll: fc.integer({ min: -180, max: 180 }),
          fov: fc.integer({ min: 20, max: 130 }),
          bend: fc.constantFrom(0, 0.5, 1),
        }),
        async (view) => {
          const over = { ...patch, tilt: -50, size: 8, colour: '#ffffff' };
          const size = { width: 160, height: 96 };
          const shot = viewShot({ ...DEFAULT_VIEW, ...view }, IDENTITY, { source: SPHERE, time: 0, ...size });
          const camera = shot.picture as Camera;
          const middle = directionOf(over.pan, over.tilt);
          let near = Infinity;
          for (let y = 0.5; y < size.height; y++)
            for (let x = 0.5; x < size.width; x++) {
              const d = directionAt(camera, x, y);
              if (d) near = Math.min(near, Math.acos(Math.min(1, dot(d, middle))));
            }
          const shown = near < (over.size * Math.PI) / 180;
          if (shown) expect(patched(shot, over, IDENTITY).patch).toBeDefined();
          // Far out of sight nothing is made of it.
          if (near > (60 * Math.PI) / 180) expect(patched(shot, over, IDENTITY).patch).toBeUndefined();
          if (!shown) return;
          // And where it is drawn, its middle and all about it is covered, wherever in the frame that lies.
          const { at } = await drawn(over, view);
          const place = pixelOf(camera, middle);
          if (place && place.x > 1 && place.y > 1 && place.x < size.width - 1 && place.y < size.height - 1)
            expect(at(place.x, place.y)).toBe(235);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('knows what lies round about it', async () => {
    const { rim } = await drawn(patch, { tilt: -60 });
    expect(rim).toHaveLength(3);
    expect(new Set(rim[0])).toEqual(new Set([60]));
    expect(new Set(rim[1])).toEqual(new Set([128]));
  });
});
