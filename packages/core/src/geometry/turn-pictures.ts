/** Turning pictures of the whole sphere and Sweeps: pixels of 32 bits each, rows first, moved and not changed. */
import { apply, transpose, type Matrix3 } from './rotation.js';
import { directionOf } from './sphere.js';

export interface Pixels {
  data: Uint32Array;
  width: number;
  height: number;
}

export const isIdentity = (m: Matrix3) => Math.abs(m[0] - 1) + Math.abs(m[4] - 1) + Math.abs(m[8] - 1) < 1e-9;

/**
 * Draws an equirectangular picture into another, turned by the correction from its own directions to the world's; the
 * nearest pixel of each. The width of `from` is a power of two.
 */
export function turnSphere(from: Pixels, to: Pixels, correction: Matrix3): void {
  const { width, height } = to;
  const [a, b, c, d, e, f, g, h, i] = transpose(correction);
  const across = Float64Array.from({ length: width * 2 }, (_, k) => {
    const longitude = (((k >> 1) + 0.5) / width - 0.5) * 2 * Math.PI;
    return k & 1 ? Math.cos(longitude) : Math.sin(longitude);
  });
  for (let row = 0; row < height; row++) {
    const latitude = (0.5 - (row + 0.5) / height) * Math.PI;
    const [flat, y] = [Math.cos(latitude), Math.sin(latitude)];
    for (let column = 0; column < width; column++) {
      const x = flat * across[2 * column]!;
      const z = flat * across[2 * column + 1]!;
      const [sx, sy, sz] = [a * x + b * y + c * z, d * x + e * y + f * z, g * x + h * y + i * z];
      const u = Math.floor((Math.atan2(sx, sz) / (2 * Math.PI) + 0.5) * from.width) & (from.width - 1);
      const share = 0.5 - Math.asin(Math.max(-1, Math.min(1, sy))) / Math.PI;
      const v = Math.min(from.height - 1, Math.floor(share * from.height));
      to.data[row * width + column] = from.data[v * from.width + u]!;
    }
  }
}

/** Headings at which a row's turn is computed; between them it is interpolated. */
const STEPS = 36;

/** Turns every row of a Sweep by the correction at its moment; `at` gets the row's place as a share of the height. */
export function turnRows({ data, width, height }: Pixels, at: (share: number) => Matrix3): void {
  const from = data.slice();
  const places = new Float64Array(STEPS + 1);
  for (let row = 0; row < height; row++) {
    const back = transpose(at((row + 0.5) / height));
    for (let k = 0; k <= STEPS; k++) {
      const [x, , z] = apply(back, directionOf((k / STEPS - 0.5) * 360, 0));
      const u = Math.atan2(x, z) / (2 * Math.PI) + 0.5;
      places[k] = k === 0 ? u : u + Math.round(places[k - 1]! - u);
    }
    for (let column = 0; column < width; column++) {
      const p = ((column + 0.5) / width) * STEPS;
      const k = Math.min(STEPS - 1, Math.floor(p));
      const u = places[k]! + (p - k) * (places[k + 1]! - places[k]!);
      data[row * width + column] = from[row * width + (Math.floor((u - Math.floor(u)) * width) % width)]!;
    }
  }
}
