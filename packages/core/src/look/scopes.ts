/** What is measured of a picture to judge its light: how often each brightness is, and where. Values are luma, 0 black to 1 white. */
import { lumaOf } from '../colour/convert.js';
import { apply, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { directionOf } from '../geometry/sphere.js';

const binOf = (value: number, bins: number) => Math.max(0, Math.min(bins - 1, Math.floor(value * bins)));

/** Shares of the values in each of so many equal bins from 0 to 1; what lies outside counts at the ends. */
export function histogramOf(values: ArrayLike<number>, bins: number): number[] {
  const counts = new Array<number>(bins).fill(0);
  for (let i = 0; i < values.length; i++) counts[binOf(values[i]!, bins)]!++;
  return counts.map((n) => n / Math.max(1, values.length));
}

/** For each of so many columns of a picture, rows first, the histogram of its own values. */
export function waveformOf(values: ArrayLike<number>, width: number, columns: number, bins: number): number[][] {
  const lists = Array.from({ length: columns }, (): number[] => []);
  for (let i = 0; i < values.length; i++) lists[Math.floor(((i % width) * columns) / width)]!.push(values[i]!);
  return lists.map((list) => histogramOf(list, bins));
}

/** Of a picture, how much of it is at black and at white. */
export function clippedOf(values: ArrayLike<number>, near = 1 / 255): { black: number; white: number } {
  let [black, white] = [0, 0];
  for (let i = 0; i < values.length; i++) {
    if (values[i]! <= near) black++;
    if (values[i]! >= 1 - near) white++;
  }
  return { black: black / Math.max(1, values.length), white: white / Math.max(1, values.length) };
}

export interface HeadingLight {
  /** Degrees, −180 to 180. */
  heading: number;
  /** Mean over the sphere's slice there, and its darkest and lightest twentieth. */
  mean: number;
  dark: number;
  light: number;
}

/** Latitudes at which a heading is looked at: up to 75°, as far apart as weighs the sphere's surface evenly. */
const LATITUDES = Array.from({ length: 25 }, (_, i) => {
  const top = Math.sin((75 * Math.PI) / 180);
  return (Math.asin(((i - 12) / 12) * top) * 180) / Math.PI;
});

/**
 * Brightness by heading in the world. `colourAt` gives R'G'B' in a direction of the picture, `toSource` turns the world's directions
 * into it.
 */
export function lightByHeading(
  colourAt: (direction: Vec3) => Vec3,
  toSource: Matrix3,
  headings: number,
): HeadingLight[] {
  return Array.from({ length: headings }, (_, i) => {
    const heading = ((i + 0.5) / headings - 0.5) * 360;
    const values = LATITUDES.map((latitude) => lumaOf(colourAt(apply(toSource, directionOf(heading, latitude)))));
    values.sort((a, b) => a - b);
    const at = (share: number) => values[Math.round(share * (values.length - 1))]!;
    return { heading, mean: values.reduce((a, b) => a + b) / values.length, dark: at(0.05), light: at(0.95) };
  });
}
