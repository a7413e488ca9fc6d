/** The kernel against a plain sampler that maps every pixel exactly. */
import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { apply } from '@glimbo/core/geometry/rotation';
import { equirectangularOf } from '@glimbo/core/geometry/sphere';
import { cameraDirection, cameraOf, DEFAULT_VIEW, type View } from '@glimbo/core/lens/view';
import { createMemory, Kernel, needsMips } from '../src/index.js';
import { planMemory, STRIPE_ROWS } from '../src/memory.js';

const wasm = await WebAssembly.compile(readFileSync(resolve('build/engine/kernel.wasm')));
const [W, H] = [1024, 512];

/** A smooth pattern on the sphere itself, so that every interpolation should come close to it. */
function pattern(d: readonly [number, number, number]) {
  return 128 + 50 * Math.sin(9 * d[0] + 2) * Math.cos(7 * d[1]) + 40 * Math.sin(8 * d[2] + d[0] * 5);
}

/** The pattern as an equirectangular plane. */
function plane(width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [lon, lat] = [((x + 0.5) / width - 0.5) * 2 * Math.PI, (0.5 - (y + 0.5) / height) * Math.PI];
      out[y * width + x] = Math.round(
        pattern([Math.cos(lat) * Math.sin(lon), Math.sin(lat), Math.cos(lat) * Math.cos(lon)]),
      );
    }
  return out;
}
const planes = [plane(W, H), plane(W / 2, H / 2), plane(W / 2, H / 2)];

async function render(view: Partial<View>, size = { width: 320, height: 180 }) {
  const plan = planMemory({ source: { width: W, height: H }, target: size, workers: 1, ring: 1 });
  const memory = createMemory(plan.size);
  const kernel = await Kernel.create(wasm, memory, plan);
  kernel.prepare();
  const bytes = new Uint8Array(memory.buffer);
  const slot = plan.sources[0]!;
  slot.planes.forEach((levels, p) => bytes.set(planes[p]!, levels[0]!.pointer));
  const camera = cameraOf({ ...DEFAULT_VIEW, ...view }, size.width, size.height);
  const shot = { picture: camera, toSource: camera.rotation, source: { kind: 'sphere' }, time: 0 } as const;
  kernel.ready(shot, slot, needsMips(camera, W), 0, 1, 0);
  const rows = Math.ceil(size.height / 8);
  for (let row = 0; row < rows; row += STRIPE_ROWS)
    kernel.draw(shot, slot, plan.targets[0]!, row, Math.min(STRIPE_ROWS, rows - row), 0);
  const { pointer, bytes: length } = plan.targets[0]!;
  return { camera, frame: bytes.slice(pointer, pointer + length), ...size };
}

describe('the kernel', () => {
  test.each<[string, Partial<View>]>([
    ['a flat view', { pan: 20, tilt: 10 }],
    ['a view across the seam', { pan: 180, roll: 30, fov: 100 }],
    ['the pole in the middle', { tilt: 90, fov: 100 }],
    ['the other pole, off the middle', { tilt: -75, pan: 77, fov: 90, roll: 12 }],
    ['a stereographic view', { bend: 1, fov: 170 }],
    ['a planet', { tilt: -90, bend: 1, fov: 280 }],
    ['a ball', { bend: 2.5, fov: 200, tilt: 20 }],
    ['a strong zoom', { fov: 8, pan: -133, tilt: 40 }],
    ['a shifted view', { shiftX: 0.4, shiftY: -0.3, fov: 80 }],
  ])('draws %s as the exact map does', async (_, view) => {
    const { camera, frame, width, height } = await render(view);
    let worst = 0;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const d = cameraDirection(camera, x + 0.5, y + 0.5);
        // Two pixels from the limb, coverage mixes in background.
        if (
          !d ||
          (camera.bend > 1 &&
            !cameraDirection(
              camera,
              camera.centreX + (x + 0.5 - camera.centreX) * 1.03,
              camera.centreY + (y + 0.5 - camera.centreY) * 1.03,
            ))
        )
          continue;
        // Where the picture is shrunk strongly, the mean over a pixel is not the value in its middle.
        worst = Math.max(worst, Math.abs(frame[y * width + x]! - pattern(apply(camera.rotation, d))));
      }
    expect(worst).toBeLessThan(view.bend && (view.fov ?? 75) > 190 ? 14 : 4);
  });

  test('places a pixel where the conventions say', async () => {
    const { camera } = await render({ pan: 90 });
    const centre = apply(camera.rotation, cameraDirection(camera, 160, 90)!);
    expect(equirectangularOf(centre, W, H).u).toBeCloseTo(0.75 * W, 6);
  });

  test('draws any part of a frame the same as the whole, at sizes that are no multiple of its tiles', async () => {
    const whole = await render({ pan: 30, fov: 120, bend: 0.6 }, { width: 334, height: 190 });
    expect(whole.frame).toHaveLength(334 * 190 + 2 * 167 * 95);
    expect(whole.frame.subarray(0, 334 * 190).every((v) => v > 16)).toBe(true);
  });

  test('needs mip levels for planets but not for close views', () => {
    expect(needsMips(cameraOf({ ...DEFAULT_VIEW, fov: 60 }, 1920, 1080), 3840)).toBe(false);
    expect(needsMips(cameraOf({ ...DEFAULT_VIEW, fov: 270, bend: 1 }, 1920, 1080), 3840)).toBe(true);
  });
});
