/** A picture of the whole sphere, made ready to be looked at for where up is. */

export interface Seen {
  /** In pixels; it is half as high. */
  width: number;
  /** Grey bytes, row by row from the top. */
  grey: Uint8Array;
  /** The same softened by a binomial of nine pixels. */
  soft: Float32Array;
  /**
   * For every pixel the products of the picture's slopes east and north, twice as steep as they are per pixel on the equator, summed
   * over seven by seven pixels (Bigün and Granlund's structure matrix).
   */
  xx: Float32Array;
  xy: Float32Array;
  yy: Float32Array;
}

/** Makes a grey picture ready; the kernel does that (its slopes.ts). */
export type Prepare = (grey: Uint8Array) => Seen;
