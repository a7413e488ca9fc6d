/** Where the sky is, from the picture alone. */
import { vec3, type Vec3 } from '../geometry/rotation.js';
import { directionOf } from '../geometry/sphere.js';

/**
 * Where the sky is: the direction in which the picture is bright and smooth, of a length of 0 (nowhere more than
 * elsewhere) to about 1.
 */
export function skyward(grey: Uint8Array, width: number): Vec3 {
  const height = width / 2;
  const cell = Math.max(4, width / 64);
  const sum = [0, 0, 0];
  let total = 0;
  const means: { direction: Vec3; area: number; bright: number; rough: number }[] = [];
  for (let top = 0; top < height; top += cell)
    for (let left = 0; left < width; left += cell) {
      let [bright, rough] = [0, 0];
      for (let y = top; y < top + cell; y++)
        for (let x = left; x < left + cell; x++) {
          const p = y * width + x;
          bright += grey[p]!;
          if (x + 1 < left + cell) rough += Math.abs(grey[p + 1]! - grey[p]!);
          if (y + 1 < top + cell) rough += Math.abs(grey[p + width]! - grey[p]!);
        }
      const latitude = (0.5 - (top + cell / 2) / height) * 180;
      means.push({
        direction: directionOf(((left + cell / 2) / width - 0.5) * 360, latitude),
        area: Math.cos((latitude * Math.PI) / 180),
        bright: bright / cell ** 2,
        rough: rough / cell ** 2,
      });
    }
  const area = means.reduce((a, m) => a + m.area, 0);
  const average = means.reduce((a, m) => a + m.bright * m.area, 0) / area;
  for (const { direction, area: a, bright, rough } of means) {
    const sky = (bright - average) / 64 / (1 + rough / 4);
    direction.forEach((v, k) => (sum[k]! += v * a * sky));
    total += a * Math.abs(sky);
  }
  return total > 0 ? vec3(sum.map((v) => (2 * v) / total)) : [0, 0, 0];
}
