/** Where the picture shrinks: planets against the area mean of each pixel, sampled densely here. */
import { beforeAll, describe, expect, jest, test } from '@jest/globals';
import { resolve } from 'node:path';
import { apply, IDENTITY } from '@glimbo/core/geometry/rotation';
import { equirectangularOf } from '@glimbo/core/geometry/sphere';
import { cameraDirection, DEFAULT_VIEW, type Camera } from '@glimbo/core/lens/view';
import { radiusOf } from '@glimbo/core/lens/projection';
import { viewShot, type Shot } from '@glimbo/core/plan/shot';
import { drawShots } from './draw-shots.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE = resolve('build/engine');
const source = { width: 2880, height: 1440 };
const size = { width: 1280, height: 720 };
/** Degrees from the planet's centre that are looked at, and samples along a pixel's side. */
const NEAR = 40;
const DENSE = 8;

/** Cells a radian: detail of some two and a half pixels of the source, the same in all directions on the sphere. */
const CELLS = source.height / Math.PI / 2.5;

/** Random values at the corners of cells in space, straight between them: gravel wherever one looks. */
function gravel([x, y, z]: readonly [number, number, number]): number {
  const [px, py, pz] = [(x + 2) * CELLS, (y + 2) * CELLS, (z + 2) * CELLS];
  const [i, j, k] = [Math.floor(px), Math.floor(py), Math.floor(pz)];
  const [fx, fy, fz] = [px - i, py - j, pz - k];
  const corner = (a: number, b: number, c: number) => {
    const h = Math.imul(i + a, 73856093) ^ Math.imul(j + b, 19349663) ^ Math.imul(k + c, 83492791);
    const m = Math.imul(h ^ (h >>> 13), 1274126177);
    return ((m ^ (m >>> 16)) >>> 0) / 2 ** 32;
  };
  const line = (b: number, c: number) => corner(0, b, c) * (1 - fx) + corner(1, b, c) * fx;
  const plane = (c: number) => line(0, c) * (1 - fy) + line(1, c) * fy;
  return plane(0) * (1 - fz) + plane(1) * fz;
}

let frame: Uint8Array;
beforeAll(() => {
  const { width, height } = source;
  frame = new Uint8Array(width * height * 1.5).fill(128);
  // Below the horizon is enough: nothing else is looked at.
  for (let y = height / 2; y < height; y++) {
    const latitude = (0.5 - (y + 0.5) / height) * Math.PI;
    const [flat, up] = [Math.cos(latitude), Math.sin(latitude)];
    for (let x = 0; x < width; x++) {
      const longitude = ((x + 0.5) / width - 0.5) * 2 * Math.PI;
      frame[y * width + x] =
        16 + Math.round(219 * gravel([flat * Math.sin(longitude), up, flat * Math.cos(longitude)]));
    }
  }
});

const planet = (pan: number) =>
  viewShot({ ...DEFAULT_VIEW, pan, tilt: -90, fov: 250, bend: 1 }, IDENTITY, {
    source: { kind: 'sphere' },
    time: 0,
    ...size,
  });

/** Luma of the source at continuous coordinates, straight between pixels; over the pole on the other side. */
function lumaAt(u: number, v: number): number {
  const at = (x: number, y: number) => {
    const below = y >= source.height;
    const row = below ? 2 * source.height - 1 - y : Math.max(0, y);
    const column = (((x + (below ? source.width / 2 : 0)) % source.width) + source.width) % source.width;
    return frame[row * source.width + column]!;
  };
  const [x, y] = [Math.floor(u - 0.5), Math.floor(v - 0.5)];
  const [fx, fy] = [u - 0.5 - x, v - 0.5 - y];
  const top = at(x, y) * (1 - fx) + at(x + 1, y) * fx;
  const low = at(x, y + 1) * (1 - fx) + at(x + 1, y + 1) * fx;
  return top * (1 - fy) + low * fy;
}

/** Pixels of the frame near the planet's centre. */
function pixels(camera: Camera): [number, number][] {
  const reach = radiusOf((NEAR * Math.PI) / 180, 1) / camera.scale;
  const found: [number, number][] = [];
  for (let y = Math.ceil(360 - reach); y < 360 + reach; y++)
    for (let x = Math.ceil(640 - reach); x < 640 + reach; x++)
      if (Math.hypot(x + 0.5 - 640, y + 0.5 - 360) < reach) found.push([x, y]);
  return found;
}

/** The mean over each pixel's area. */
function areaMeans({ picture, toSource }: Shot, places: [number, number][]): Float64Array {
  const camera = picture as Camera;
  return Float64Array.from(places, ([x, y]) => {
    let sum = 0;
    for (let j = 0; j < DENSE; j++)
      for (let i = 0; i < DENSE; i++) {
        const d = apply(toSource, cameraDirection(camera, x + (i + 0.5) / DENSE, y + (j + 0.5) / DENSE)!);
        const { u, v } = equirectangularOf(d, source.width, source.height);
        sum += lumaAt(u, v);
      }
    return sum / DENSE ** 2;
  });
}

async function drawn(shot: Shot, places: [number, number][]): Promise<Float64Array> {
  const yuv = await drawShots([shot], frame, source);
  return Float64Array.from(places, ([x, y]) => yuv[y * size.width + x]!);
}

const meanSquare = (a: Float64Array, b: Float64Array) => a.reduce((s, v, i) => s + (v - b[i]!) ** 2, 0) / a.length;

describe('a planet of 250° near its centre', () => {
  test('is what the mean over each pixel’s area is, 33 dB or better', async () => {
    const shot = planet(-40);
    const places = pixels(shot.picture as Camera);
    const error = meanSquare(await drawn(shot, places), areaMeans(shot, places));
    expect(10 * Math.log10(255 ** 2 / error)).toBeGreaterThan(33);
  });

  test('flickers no more than 1.2 times as much as that when it turns', async () => {
    const places = pixels(planet(0).picture as Camera);
    const turns = [0, 0.7, 1.4, 2.1];
    const [own, wanted] = [[] as Float64Array[], [] as Float64Array[]];
    for (const pan of turns) {
      own.push(await drawn(planet(pan), places));
      wanted.push(areaMeans(planet(pan), places));
    }
    const flicker = (frames: Float64Array[]) =>
      Math.sqrt(frames.slice(1).reduce((s, f, i) => s + meanSquare(f, frames[i]!), 0) / (frames.length - 1));
    expect(flicker(own) / flicker(wanted)).toBeLessThan(1.2);
  });
});
