/** Where the sky is, from the picture alone. */
import { RADIANS, vec3, type Vec3 } from '../geometry/rotation.js';
import { directionOf } from '../geometry/sphere.js';
import type { Seen } from './evidence/seen.js';

/** Pixels of the parts that are looked at. */
const PART = 8;
/** Summed products of slopes from which on a pixel shows an edge. */
const EDGE = 4000;
/** How much less a part is sky for each edge in it: lit floors and bright walls are not as smooth as the sky. */
const SMOOTH = 4;

/**
 * Where the sky is: the direction in which the picture is brighter than on the whole, and smooth, of a length of 0 (what is bright is
 * nowhere smooth) to about 1 (all of it is smooth, and lies round that direction).
 */
export function skyward({ width, grey, xx, yy }: Seen): Vec3 {
  const height = width / 2;
  const parts: { direction: Vec3; area: number; bright: number; smooth: number }[] = [];
  for (let top = 0; top < height; top += PART)
    for (let left = 0; left < width; left += PART) {
      let bright = 0;
      let edges = 0;
      for (let y = top; y < top + PART; y++)
        for (let at = y * width + left; at < y * width + left + PART; at++) {
          bright += grey[at]!;
          if (xx[at]! + yy[at]! > EDGE) edges++;
        }
      const latitude = (0.5 - (top + PART / 2) / height) * 180;
      parts.push({
        direction: directionOf(((left + PART / 2) / width - 0.5) * 360, latitude),
        area: Math.cos(latitude * RADIANS),
        bright: bright / PART ** 2,
        smooth: (1 - edges / PART ** 2) ** SMOOTH,
      });
    }
  const area = parts.reduce((a, p) => a + p.area, 0);
  const average = parts.reduce((a, p) => a + p.bright * p.area, 0) / area;
  const sum = [0, 0, 0];
  let total = 0;
  for (const { direction, area: a, bright, smooth } of parts) {
    const brighter = a * Math.max(0, bright - average);
    direction.forEach((v, k) => (sum[k]! += v * brighter * smooth));
    total += brighter;
  }
  // The mean over half a sphere is half as long as its direction.
  return total > 0 ? vec3(sum.map((v) => (2 * v) / total)) : [0, 0, 0];
}
