/**
 * The still world at each direction: the median of what was seen there some seconds before and after, and how much that is usually
 * off. What passes is in less than half of the looks and leaves no trace; leaves, water and noise show in how much is usual.
 */
import type { Matrix3 } from '../geometry/rotation.js';
import type { Level } from '../frame/sphere-frame.js';

export interface StillWorld {
  /** In the world's axes. */
  picture: Level;
  /** Grey levels of luma that are usual, and of both colours together, in planes of the picture's sizes. */
  usual: readonly [Uint8Array, Uint8Array];
  /** Least and most luma of the 3 × 3 pixels about each: so far a look may be off without being another. */
  bounds: readonly [least: Uint8Array, most: Uint8Array];
}

/** Shares of the sorted looks between which most of them lie: what is usual is half of that. */
export const MOSTLY = { low: 0.2, high: 0.8 } as const;

/** Grey levels that noise and compression make, how many times what is usual counts, and how much colour counts beside light. */
export const EXCESS = { noise: 8, usual: 2, tint: 1.5 } as const;

/** What is computed for every pixel of a look; all pictures are of the same size. */
export interface WorldWork {
  /** A picture as it lies in the world, by the nearest pixel; `m` turns directions of the picture into the world's. */
  turn(picture: Level, m: Matrix3): Level;
  /** The still world of looks in the world's axes; at least one, at most MOST_LOOKS. */
  still(looks: readonly Level[]): StillWorld;
  /** By how many grey levels each pixel of a look in the world's axes is off the still world, beyond what is usual; 0 to 255. */
  excess(look: Level, world: StillWorld): Uint8Array;
}

/** Looks that make a still world at most. */
export const MOST_LOOKS = 32;

/** How much brighter a look is than the world on the whole, in grey levels: light and exposure change. */
export function brighter(look: Level, { picture }: StillWorld): number {
  const counts = new Int32Array(511);
  const [now, still] = [look.planes[0], picture.planes[0]];
  let total = 0;
  for (let i = 0; i < now.length; i += 37, total++) counts[now[i]! - still[i]! + 255]!++;
  let sum = 0;
  for (let v = 0; v < counts.length; v++) if ((sum += counts[v]!) >= total / 2) return v - 255;
  return 0;
}
