/** A small picture under a look, as pixels for a canvas. */
import { vec3 } from '@glimbo/core/geometry/rotation';
import type { ColourMap } from '@glimbo/core/look/grade';
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
