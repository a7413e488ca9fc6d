/** Lines of charts as SVG paths. */
import { line } from 'd3';
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import { lonLatOf } from '@glimbo/core/geometry/sphere';

const joined = line<readonly [number, number]>().digits(1);

/** Pieces of a line as one path; empty without any. */
export const pathOf = (pieces: readonly (readonly [number, number])[][]) =>
  pieces.map((piece) => joined(piece) ?? '').join('');

/** A line through points, broken where two that follow each other do not belong together. */
export function brokenPath(
  points: readonly (readonly [number, number])[],
  broken: (a: readonly [number, number], b: readonly [number, number]) => boolean,
): string {
  const pieces: (readonly [number, number])[][] = [];
  points.forEach((p, i) => {
    if (i === 0 || broken(points[i - 1]!, p)) pieces.push([p]);
    else pieces.at(-1)!.push(p);
  });
  return pathOf(pieces);
}

/** Headings at which Map, Sweep and their rulers have a line, in degrees. */
export const MERIDIANS = [-135, -90, -45, 0, 45, 90, 135] as const;
/** Place of a heading on an axis as wide as the sphere. */
export const headingAt = (heading: number, width: number) => (heading / 360 + 0.5) * width;
/** A direction of the world as maps take it: longitude and latitude in degrees. */
export function mapPlace(direction: Vec3): [number, number] {
  const { longitude, latitude } = lonLatOf(direction);
  return [longitude, latitude];
}
