/** A small picture under a look: as pixels for a canvas, and how bright it is. */
import { vec3 } from '@glimbo/core/geometry/rotation';
import type { ColourMap } from '@glimbo/core/look/grade';
import { lumaOf } from '@glimbo/core/colour/convert';
import { histogramOf } from '@glimbo/core/look/scopes';
import type { SmallFrame } from './small-frame';

/** The picture at `every`th pixel across and down, under a look. */
export function lookedAt({ width, height, pixels }: SmallFrame, map: ColourMap, every = 1): ImageData {
  const [w, h] = [Math.floor(width / every), Math.floor(height / every)];
  const out = new ImageData(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const from = 3 * (y * every * width + x * every);
      const rgb = map(vec3([pixels[from]!, pixels[from + 1]!, pixels[from + 2]!]));
      const to = 4 * (y * w + x);
      for (let k = 0; k < 3; k++) out.data[to + k] = Math.round(255 * rgb[k]!);
      out.data[to + 3] = 255;
    }
  return out;
}

const BINS = 64;

/** How bright a picture is: each pixel's luma, 0 to 1, rows first, and how often each brightness is. */
export interface FrameLight {
  width: number;
  lumas: Float32Array;
  histogram: number[];
}

export function lightIn({ width, height, pixels }: SmallFrame, map: ColourMap): FrameLight {
  const lumas = new Float32Array(width * height);
  for (let i = 0; i < lumas.length; i++) lumas[i] = lumaOf(map(vec3(pixels.subarray(3 * i, 3 * i + 3))));
  return { width, lumas, histogram: histogramOf(lumas, BINS) };
}
