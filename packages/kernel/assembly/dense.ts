/**
 * Where a pixel covers many of the source: how many samples it takes, from which level, and where. What a pixel covers is round
 * on the sphere: so high in the picture, and wider there by one over the cosine of the latitude. Two by two samples fill that
 * box; their mean, of a level whose pixels are half as high, is close to the mean over the pixel's area. Along the rows near a
 * pole a picture of the world has no more detail than down its columns, however many pixels it has there: two do there too.
 */

import { DENSE, SHRINK } from '../../core/src/lens/filter';

/** Samples along each side. */
export const ALONG: i32 = 2;

/** Source pixels that a pixel is high, for a level of detail as the map gives it. */
@inline
export function heightOf(detail: f32): f32 {
  return <f32>SHRINK * Mathf.pow(2, detail);
}

@inline
export function isDense(detail: f32): bool {
  return detail > <f32>DENSE;
}

/** And wide, at a row of the source; a bounded picture is taken to be as wide as high. */
@inline
export function widthOf(high: f32, levels: usize, v: f32): f32 {
  if (load<i32>(levels, 12) != 0) return high;
  const latitude = (v / <f32>load<i32>(levels, 8) - <f32>0.5) * <f32>3.14159265;
  return min(<f32>load<i32>(levels, 4), high / max(<f32>1e-3, Mathf.cos(latitude)));
}

/** The level whose pixels are about as high as a sample's share of the pixel. */
@inline
export function denseLevel(high: f32, count: i32): i32 {
  const share = high / <f32>ALONG;
  let level = 0;
  while (level < count - 1 && share > <f32>(1 << level) * <f32>1.41421356) level++;
  return level;
}

/** Where the i-th sample over a length lies from its middle. */
@inline
export function placeOf(i: i32, length: f32): f32 {
  return ((<f32>i + <f32>0.5) / <f32>ALONG - <f32>0.5) * length;
}
