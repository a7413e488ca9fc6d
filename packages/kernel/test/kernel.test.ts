/** The kernel against a plain sampler that maps every pixel exactly. */
import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { equirectangularOf } from '@glimbo/core/geometry/sphere';
import { YUV420 } from '@glimbo/core/colour/pixels';
import { apply, IDENTITY } from '@glimbo/core/geometry/rotation';
import { cameraDirection, cameraOf, DEFAULT_VIEW, type Camera, type View } from '@glimbo/core/lens/view';
import { viewShot } from '@glimbo/core/plan/shot';
import { createMemory, Kernel, stripesOf } from '../src/index.js';
import { paneOf, planMemory } from '../src/memory.js';
import { needsMips } from '../src/mips.js';

/** Mip levels everywhere. */
const ALL = { mips: { from: 0, to: Infinity } };
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

/** A kernel with the pattern as its only decoded picture. */
async function kernelFor(target: { width: number; height: number }, mixing = false) {
  const plan = planMemory({
    sources: [{ width: W, height: H, format: YUV420 }],
    target,
    format: YUV420,
    workers: 1,
    ring: 1,
    mixing,
  });
  const memory = createMemory(plan.size);
  const kernel = await Kernel.create(wasm, memory, plan);
  kernel.prepare([SPHERE]);
  const bytes = new Uint8Array(memory.buffer);
  const slot = plan.sources[0]![0]!;
  slot.planes.forEach((levels, p) => bytes.set(planes[p]!, levels[0]!.pointer));
  const frame = () => bytes.slice(plan.targets[0]!.pointer, plan.targets[0]!.pointer + plan.targets[0]!.bytes);
  return { kernel, slot, target: plan.targets[0]!, frame };
}

const SPHERE = { kind: 'sphere' } as const;
const shotOf = (view: Partial<View>, { width, height }: { width: number; height: number }) =>
  viewShot({ ...DEFAULT_VIEW, ...view }, IDENTITY, { source: SPHERE, time: 0, width, height });

async function render(view: Partial<View>, size = { width: 320, height: 180 }) {
  const { kernel, slot, target, frame } = await kernelFor(size);
  const shot = shotOf(view, size);
  kernel.ready(shot, slot, needsMips(shot.picture, W) ? ALL : { mips: null }, 0, 1, 0);
  for (const { row, rows } of stripesOf(size.height)) kernel.draw(shot, slot, target, row, rows, 0);
  return { camera: shot.picture as Camera, frame: frame(), ...size };
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
    const { camera, frame } = await render({ pan: 90 });
    // A quarter to the right of ahead, on the horizon: there the pattern is another than on the left.
    expect(Math.abs(frame[90 * 320 + 160]! - pattern([1, 0, 0]))).toBeLessThan(4);
    const centre = apply(camera.rotation, cameraDirection(camera, 160, 90)!);
    expect(equirectangularOf(centre, W, H).u).toBeCloseTo(0.75 * W, 6);
  });

  const odd = { width: 334, height: 190 };
  const wide = { pan: 30, fov: 120, bend: 0.6 };

  test('draws any stripe of a frame the same as the whole, in whatever order', async () => {
    const whole = await render(wide, odd);
    const { kernel, slot, target, frame } = await kernelFor(odd);
    const shot = shotOf(wide, odd);
    kernel.ready(shot, slot, needsMips(shot.picture, W) ? ALL : { mips: null }, 0, 1, 0);
    for (let row = 22; row >= 0; row -= 2) kernel.draw(shot, slot, target, row, 2, 0);
    expect(Buffer.compare(frame(), whole.frame)).toBe(0);
  });

  test('readies a picture in parts as in one piece', async () => {
    const planet = { tilt: -90, bend: 1, fov: 270 };
    const whole = await render(planet);
    const { kernel, slot, target, frame } = await kernelFor({ width: 320, height: 180 });
    const shot = shotOf(planet, { width: 320, height: 180 });
    for (const part of [2, 0, 3, 1]) kernel.ready(shot, slot, ALL, part, 4, 0);
    for (const { row, rows } of stripesOf(180)) kernel.draw(shot, slot, target, row, rows, 0);
    expect(Buffer.compare(frame(), whole.frame)).toBe(0);
  });

  test('draws into a part of a frame what it draws into a frame of that size, and leaves the rest', async () => {
    const pane = { left: 64, top: 26, width: 160, height: 90 };
    const alone = await render({ pan: 50 }, pane);
    const { kernel, slot, target, frame } = await kernelFor(odd);
    const shot = shotOf({ pan: 50 }, pane);
    kernel.ready(shot, slot, needsMips(shot.picture, W) ? ALL : { mips: null }, 0, 1, 0);
    for (const { row, rows } of stripesOf(pane.height)) kernel.draw(shot, slot, paneOf(target, pane), row, rows, 0);
    const drawn = frame();
    for (let y = 0; y < odd.height; y++)
      for (let x = 0; x < odd.width; x++) {
        const [px, py] = [x - pane.left, y - pane.top];
        const inside = px >= 0 && px < pane.width && py >= 0 && py < pane.height;
        const wanted = inside ? alone.frame[py * pane.width + px] : 0;
        if (drawn[y * odd.width + x] !== wanted) throw new Error(`at ${x}, ${y}`);
      }
  });

  test('mixes shots by their weights', async () => {
    const size = { width: 320, height: 180 };
    const [one, two] = await Promise.all([render({ pan: 10 }, size), render({ pan: 60, tilt: 20 }, size)]);
    const { kernel, slot, target, frame } = await kernelFor(size, true);
    const shots = [
      { shot: shotOf({ pan: 10 }, size), slot, weight: 64 },
      { shot: shotOf({ pan: 60, tilt: 20 }, size), slot, weight: 192 },
    ];
    kernel.ready(shots[0]!.shot, slot, ALL, 0, 1, 0);
    for (const { row, rows } of stripesOf(size.height)) kernel.mix(shots, target, row, rows, 0);
    const mixed = frame();
    expect(mixed).toHaveLength(one.frame.length);
    mixed.forEach((v, i) => {
      if (v !== (64 * one.frame[i]! + 192 * two.frame[i]! + 128) >> 8) throw new Error(`sample ${i}`);
    });
  });

  test('needs mip levels for planets but not for close views', () => {
    expect(needsMips(cameraOf({ ...DEFAULT_VIEW, fov: 60 }, 1920, 1080), 3840)).toBe(false);
    expect(needsMips(cameraOf({ ...DEFAULT_VIEW, fov: 270, bend: 1 }, 1920, 1080), 3840)).toBe(true);
  });
});
