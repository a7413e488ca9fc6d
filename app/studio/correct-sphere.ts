/** Turning pictures of the whole sphere for the Map and the Sweep, on canvases of their size. */
import { apply, transpose, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import type { SpherePicture } from './picture';

const isIdentity = (m: Matrix3) => Math.abs(m[0] - 1) + Math.abs(m[4] - 1) + Math.abs(m[8] - 1) < 1e-9;

let small: CanvasRenderingContext2D | null = null;
const SMALL = { width: 1024, height: 512 };

/** Draws a picture of the whole sphere, turned by the correction from its own directions to the world's. */
export function correctSphere(context: CanvasRenderingContext2D, picture: SpherePicture, correction: Matrix3) {
  const { width, height } = context.canvas;
  if (isIdentity(correction)) return context.drawImage(picture, 0, 0, width, height);
  small ??= Object.assign(document.createElement('canvas'), SMALL).getContext('2d', { willReadFrequently: true })!;
  small.drawImage(picture, 0, 0, SMALL.width, SMALL.height);
  const from = new Uint32Array(small.getImageData(0, 0, SMALL.width, SMALL.height).data.buffer);
  const image = context.createImageData(width, height);
  const to = new Uint32Array(image.data.buffer);
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
      const u = Math.floor((Math.atan2(sx, sz) / (2 * Math.PI) + 0.5) * SMALL.width) & (SMALL.width - 1);
      const v = Math.min(
        SMALL.height - 1,
        Math.floor((0.5 - Math.asin(Math.max(-1, Math.min(1, sy))) / Math.PI) * SMALL.height),
      );
      to[row * width + column] = from[v * SMALL.width + u]!;
    }
  }
  context.putImageData(image, 0, 0);
}

/** Headings at which a row's turn is computed; between them it is interpolated. */
const STEPS = 36;

/** Turns every row of a Sweep by the correction at its moment; `at` gets the row's place as a share of the height. */
export function turnRows(context: CanvasRenderingContext2D, at: (share: number) => Matrix3) {
  const { width, height } = context.canvas;
  const corrections = Array.from({ length: height }, (_, row) => at((row + 0.5) / height));
  if (!width || corrections.every(isIdentity)) return;
  const image = context.getImageData(0, 0, width, height);
  const from = new Uint32Array(image.data.buffer.slice(0));
  const to = new Uint32Array(image.data.buffer);
  const places = new Float64Array(STEPS + 1);
  corrections.forEach((correction, row) => {
    const back = transpose(correction);
    for (let k = 0; k <= STEPS; k++) {
      const [x, , z] = apply(back, directionOf((k / STEPS - 0.5) * 360, 0));
      const u = Math.atan2(x, z) / (2 * Math.PI) + 0.5;
      places[k] = k === 0 ? u : u + Math.round(places[k - 1]! - u);
    }
    for (let column = 0; column < width; column++) {
      const p = ((column + 0.5) / width) * STEPS;
      const k = Math.min(STEPS - 1, Math.floor(p));
      const u = places[k]! + (p - k) * (places[k + 1]! - places[k]!);
      to[row * width + column] = from[row * width + (Math.floor((u - Math.floor(u)) * width) % width)]!;
    }
  });
  context.putImageData(image, 0, 0);
}
