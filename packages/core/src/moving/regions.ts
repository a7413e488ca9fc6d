/** What is not the still world in a look: where it differs by more than is usual, and the regions that this makes. */
import { RADIANS, unit, type Vec3 } from '../geometry/rotation.js';
import { directionOf } from '../geometry/sphere.js';

/** From which excess in grey levels on something is not the world. */
const STANDS_OUT = 9;
/** Pixels that are joined over: between legs, or where a coat is as the ground. */
const JOINS = { across: 1, down: 3 };
/** A region is at least this large in degrees along its longer side, and has so many pixels. */
const LEAST = { degrees: 1.2, pixels: 10 };
/** What is larger in degrees is no subject but the light. */
const MOST = 100;
/** Share of a region's pixels that are left out at each side when its box is taken. */
const OUTLIERS = 0.01;

/** Something that is not the still world: a box that stands upright in the world. */
export interface Region {
  /** Unit direction in the world. */
  direction: Vec3;
  /** Degrees across and up. */
  width: number;
  height: number;
  /** Mean excess in grey levels. */
  excess: number;
}

/** The share of the sphere in which a plane of grey levels is as high as stands out, or as `least`. */
export function standsOut(levels: Uint8Array, width: number, least = STANDS_OUT): number {
  const height = width / 2;
  let [sum, all] = [0, 0];
  for (let y = 0; y < height; y += 2) {
    const weight = Math.cos(((y + 0.5) / height - 0.5) * Math.PI);
    for (let x = 0; x < width; x += 2) {
      all += weight;
      if (levels[y * width + x]! >= least) sum += weight;
    }
  }
  return sum / all;
}

/** The regions of a look's excess, from the top downwards. */
export function regionsOf(excess: Uint8Array, width: number): Region[] {
  const height = width / 2;
  const joined = spread(excess, width, height);
  const regions: Region[] = [];
  const stack: number[] = [];
  for (let start = 0; start < joined.length; start++) {
    if (!joined[start]) continue;
    const pixels: number[] = [];
    joined[start] = 0;
    stack.push(start);
    while (stack.length > 0) {
      const i = stack.pop()!;
      if (excess[i]! >= STANDS_OUT) pixels.push(i);
      const x = i % width;
      for (const next of [x > 0 ? i - 1 : i + width - 1, x + 1 < width ? i + 1 : i + 1 - width, i - width, i + width]) {
        if (next < 0 || next >= joined.length || !joined[next]) continue;
        joined[next] = 0;
        stack.push(next);
      }
    }
    const region = pixels.length >= LEAST.pixels ? regionOf(pixels, excess, width) : null;
    if (region) regions.push(region);
  }
  return regions;
}

/** 1 about every pixel that stands out and has others beside it: so that parts of one thing hold together. */
function spread(excess: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(excess.length);
  for (let y = 1; y < height - 1; y++)
    for (let x = 0, i = y * width; x < width; x++, i++) {
      if (excess[i]! < STANDS_OUT) continue;
      let beside = 0;
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) if (excess[i + dy * width + dx]! >= STANDS_OUT) beside++;
      if (beside < 4) continue;
      for (let dy = -JOINS.down; dy <= JOINS.down; dy++)
        for (let dx = -JOINS.across; dx <= JOINS.across; dx++) {
          const row = y + dy;
          if (row >= 0 && row < height) out[row * width + ((x + dx + width) % width)] = 1;
        }
    }
  return out;
}

/** The box of pixels; null where it is too small or too large. */
function regionOf(pixels: readonly number[], excess: Uint8Array, width: number): Region | null {
  const height = width / 2;
  const degrees = 360 / width;
  // Columns are told from the first pixel's, the short way round.
  const origin = pixels[0]! % width;
  const columns = pixels.map((i) => ((i % width) - origin + 1.5 * width) % width).sort((a, b) => a - b);
  const rows = pixels.map((i) => Math.floor(i / width)).sort((a, b) => a - b);
  const skipped = Math.floor(OUTLIERS * pixels.length);
  const [left, right] = [columns[skipped]!, columns.at(-1 - skipped)! + 1];
  const [top, bottom] = [rows[skipped]!, rows.at(-1 - skipped)! + 1];
  const latitude = (0.5 - (top + bottom) / 2 / height) * 180;
  const longitude = (((left + right) / 2 - width / 2 + origin) / width - 0.5) * 360;
  const across = (right - left) * degrees * Math.cos(latitude * RADIANS);
  const up = (bottom - top) * degrees;
  if (Math.max(across, up) < LEAST.degrees || Math.max(across, up) > MOST) return null;
  const sum = pixels.reduce((total, i) => total + excess[i]!, 0);
  return {
    direction: unit(directionOf(longitude, latitude)),
    width: across,
    height: up,
    excess: sum / pixels.length,
  };
}
