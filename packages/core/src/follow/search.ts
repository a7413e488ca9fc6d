/** Where in the whole sphere something has the colours of a subject: places to look at more closely when it was lost. */
import { angleBetween, DEGREES, type Vec3 } from '../geometry/rotation.js';
import { directionOf } from '../geometry/sphere.js';
import type { ColourModel } from './colours.js';
import type { Shape } from './subject-box.js';
import type { SphereFrame } from '../frame/sphere-frame.js';

/** Pixels across the whole sphere at which colours are looked for. */
const WIDTH = 480;
/** Every how many of them a place is tried. */
const STRIDE = 2;
/** Sizes that are looked for, against the last one. */
const FACTORS = [0.6, 1, 1.6];
/** How much larger the surroundings are that must be of other colours, and what it costs if they are not. */
const ABOUT = 1.7;
const COST = 0.7;
/** What is less likely than this is no place. */
const LEAST = 0.1;

export interface Place {
  direction: Vec3;
  /** How much more of it than of what is about it has the subject's colours: up to 1. */
  score: number;
}

/**
 * The places that look most like a subject of a shape, best first, each half its size apart from those before it at least. What is
 * far from a direction counts less: a third at `reach` radians.
 */
export function placesOf(
  frame: SphereFrame,
  colours: ColourModel,
  shape: Shape,
  near: { direction: Vec3; reach: number },
  count: number,
): Place[] {
  const level = frame.levelFor((2 * Math.PI) / WIDTH);
  const [w, h] = [level.width / STRIDE, level.height / STRIDE];
  const sums = wideSums(colours.likelyOf(level), level.width, level.height);
  const peaks: Place[] = [];
  for (const factor of FACTORS) {
    const scores = contrasts(sums, level, { width: shape.width * factor, height: shape.height * factor });
    for (let y = 1; y < h - 1; y++)
      for (let x = 0; x < w; x++) {
        const at = (dx: number, dy: number) => scores[(y + dy) * w + ((x + dx + w) % w)]!;
        const score = at(0, 0);
        if (score < LEAST || score < Math.max(at(-1, 0), at(1, 0), at(0, -1), at(0, 1))) continue;
        const direction = directionOf(((x + 0.5) / w - 0.5) * 360, (0.5 - (y + 0.5) / h) * 180);
        const far = angleBetween(direction, near.direction) / DEGREES / near.reach;
        peaks.push({ direction, score: score / (1 + 2 * far * far) });
      }
  }
  const apart = (Math.max(shape.width, shape.height) * DEGREES) / 2;
  const places: Place[] = [];
  for (const peak of peaks.sort((a, b) => b.score - a.score)) {
    if (places.every((f) => angleBetween(f.direction, peak.direction) > apart)) places.push(peak);
    if (places.length >= count) break;
  }
  return places;
}

/** Sums from the corner of a map that goes on by half of itself on each side, since boxes go over the seam. */
function wideSums(map: Float32Array, width: number, height: number): Float64Array {
  const wide = 2 * width;
  const sums = new Float64Array((wide + 1) * (height + 1));
  for (let y = 0; y < height; y++)
    for (let x = 0, row = 0; x < wide; x++) {
      row += map[y * width + ((x + width / 2) % width)]!;
      sums[(y + 1) * (wide + 1) + x + 1] = sums[y * (wide + 1) + x + 1]! + row;
    }
  return sums;
}

/** How much larger a map is within a box about every second pixel than about the box; boxes get wider towards the poles. */
function contrasts(
  sums: Float64Array,
  { width, height }: { width: number; height: number },
  shape: Shape,
): Float32Array {
  const cell = (2 * Math.PI) / width;
  const half = (size: number, most: number) => Math.max(0, Math.min(most, Math.round((size / cell - 1) / 2)));
  const within = (x: number, y: number, hx: number, hy: number) => {
    const [x0, x1, y0, y1] = [x - hx, x + hx + 1, Math.max(0, y - hy), Math.min(height, y + hy + 1)];
    const at = (i: number, j: number) => sums[j * (2 * width + 1) + i]!;
    return { sum: at(x1, y1) - at(x0, y1) - at(x1, y0) + at(x0, y0), area: (x1 - x0) * (y1 - y0) };
  };
  const out = new Float32Array((width * height) / STRIDE ** 2);
  for (let y = 0, i = 0; y < height; y += STRIDE) {
    const stretch = 1 / Math.max(0.05, Math.sin((y + 0.5) * cell));
    const [hx, hy] = [half(shape.width * stretch, width / 5), half(shape.height, height / 4)];
    const [bx, by] = [Math.min(width / 2 - 1, Math.ceil((hx + 1) * ABOUT)), Math.ceil((hy + 1) * ABOUT)];
    for (let x = 0; x < width; x += STRIDE, i++) {
      const inner = within(x + width / 2, y, hx, hy);
      const outer = within(x + width / 2, y, bx, by);
      const about = (outer.sum - inner.sum) / Math.max(1, outer.area - inner.area);
      out[i] = inner.sum / inner.area - COST * about;
    }
  }
  return out;
}
