/** A small picture of what a view shows, before any look, and the colour in a direction: computed here, not drawn. */
import { CHROMA_ZERO, LUMA_BLACK } from '@glimbo/core/colour/bt709';
import { TO_RGB } from '@glimbo/core/colour/convert';
import { apply, multiply, transpose, type Matrix3, type Vec3 } from '@glimbo/core/geometry/rotation';
import { equirectangularOf } from '@glimbo/core/geometry/sphere';
import { cameraOf, cameraDirection, type View } from '@glimbo/core/lens/view';
import { isPlanes } from './planes';
import type { SphereImage } from './sphere-texture';

/** R', G' and B' in 0…1 at a place of a sphere laid flat, in shares of its size. */
type Sampler = (u: number, v: number) => Vec3;

/** Width of a sphere that the browser holds, as it is read here. */
const READ = 1024;

/** Reads a picture of the whole sphere; null if the browser does not hand it out. */
export function samplerOf(image: SphereImage): Sampler | null {
  if (isPlanes(image)) {
    const { width, height, y, u, v } = image;
    const { luma, red, green, blue } = TO_RGB;
    return (across, down) => {
      const [i, j] = [Math.min(width - 1, Math.floor(across * width)), Math.min(height - 1, Math.floor(down * height))];
      const at = (j >> 1) * (width / 2) + (i >> 1);
      const light = luma * (y[j * width + i]! - LUMA_BLACK);
      const [cb, cr] = [u[at]! - CHROMA_ZERO, v[at]! - CHROMA_ZERO];
      return [(light + red.cr * cr) / 255, (light + green.cb * cb + green.cr * cr) / 255, (light + blue.cb * cb) / 255];
    };
  }
  const canvas = new OffscreenCanvas(READ, READ / 2);
  const context = canvas.getContext('2d', { willReadFrequently: true });
  if (!context) return null;
  try {
    context.drawImage(image as CanvasImageSource, 0, 0, READ, READ / 2);
    const { data } = context.getImageData(0, 0, READ, READ / 2);
    return (across, down) => {
      const [i, j] = [
        Math.min(READ - 1, Math.floor(across * READ)),
        Math.min(READ / 2 - 1, Math.floor(down * (READ / 2))),
      ];
      const at = 4 * (j * READ + i);
      return [data[at]! / 255, data[at + 1]! / 255, data[at + 2]! / 255];
    };
  } catch {
    return null;
  }
}

export interface SmallFrame {
  width: number;
  height: number;
  /** R', G', B' in 0…1, rows first. */
  pixels: Float32Array;
}

/** What a view sees in a picture of the whole sphere, with the correction C there; null where it cannot be read. */
export function smallFrame(
  image: SphereImage,
  view: View,
  correction: Matrix3,
  size: { width: number; height: number },
): SmallFrame | null {
  const sample = samplerOf(image);
  if (!sample) return null;
  const { width, height } = size;
  const camera = cameraOf(view, width, height);
  const toSource = multiply(transpose(correction), camera.rotation);
  const pixels = new Float32Array(3 * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const direction = cameraDirection(camera, x + 0.5, y + 0.5);
      if (!direction) continue;
      const { u, v } = equirectangularOf(apply(toSource, direction), 1, 1);
      pixels.set(sample(u, v), 3 * (y * width + x));
    }
  return { width, height, pixels };
}

/** Degrees about a direction whose mean counts as its colour. */
const ABOUT = 0.4;

/** The mean colour about a direction of the picture; null where it cannot be read. */
export function colourAt(image: SphereImage, [x, y, z]: Vec3): Vec3 | null {
  const sample = samplerOf(image);
  if (!sample) return null;
  const reach = (ABOUT * Math.PI) / 180;
  const sum = [0, 0, 0];
  let count = 0;
  for (let i = -2; i <= 2; i++)
    for (let j = -2; j <= 2; j++) {
      const near = [x + (z * i * reach) / 2, y + (j * reach) / 2, z - (x * i * reach) / 2];
      const length = Math.hypot(...near);
      const { u, v } = equirectangularOf([near[0]! / length, near[1]! / length, near[2]! / length], 1, 1);
      sample(u, v).forEach((c, k) => (sum[k]! += c));
      count++;
    }
  return [sum[0]! / count, sum[1]! / count, sum[2]! / count];
}
