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
 * The angle of a point in radians, −π…π, to 1.2e-5 (the polynomial of Abramowitz and Stegun, 4.4.49): a tenth of a pixel of
 * the largest picture turned here, in a fifth of the time.
 */
export function quickAtan2(y: number, x: number): number {
  const [ax, ay] = [Math.abs(x), Math.abs(y)];
  const most = Math.max(ax, ay);
  if (most === 0) return 0;
  const t = Math.min(ax, ay) / most;
  const q = t * t;
  let angle = t * (0.999866 + q * (-0.3302995 + q * (0.180141 + q * (-0.085133 + q * 0.0208351))));
  if (ay > ax) angle = Math.PI / 2 - angle;
  if (x < 0) angle = Math.PI - angle;
  return y < 0 ? -angle : angle;
}

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
      const u = Math.floor((quickAtan2(sx, sz) / (2 * Math.PI) + 0.5) * from.width) & (from.width - 1);
      const share = 0.5 - quickAtan2(sy, Math.sqrt(sx * sx + sz * sz)) / Math.PI;
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
