/** Lines down the Score: of headings over the Sweep, and of anything else beside it. */
import { wrapHeading } from '@glimbo/core/geometry/rotation';
import { viewAt, type Path } from '@glimbo/core/path/path';
import { brokenPath, headingAt } from '~/ui/chart';
import type { Axis } from './lanes';

/** Pixels from one point of a curve to the next. */
const FINE = 2;

/** Points down the axis, each with its place in pixels. */
export const pointsOf = ({ height, timeAt }: Axis, x: (time: number) => number): [number, number][] =>
  Array.from({ length: Math.ceil(height / FINE) + 1 }, (_, i) => [x(timeAt(i * FINE)), i * FINE]);

export const panPlace = (pan: number, width: number) => headingAt(wrapHeading(pan), width);

/**
 * The line of a path's pan down the Sweep, as an SVG path, broken where it leaps by more than a share of the width: over the Sweep's edge,
 * and for a smaller share at cuts too. `span`: only so much of it, in seconds.
 */
export const panLine = (
  path: Path,
  axis: Axis & { width: number; leap?: number; span?: { from: number; to: number } },
): string => headingLine((time) => viewAt(path, time).pan, axis);

/** The same of any heading over time, in degrees; nothing where there is none (NaN). */
export function headingLine(
  headingOf: (time: number) => number,
  { width, leap = 1 / 2, span, ...axis }: Axis & { width: number; leap?: number; span?: { from: number; to: number } },
): string {
  const points = pointsOf(axis, (time) => panPlace(headingOf(time), width));
  const [top, bottom] = span ? [axis.y(span.from), axis.y(span.to)] : [-Infinity, Infinity];
  return brokenPath(
    points.filter(([x, y]) => Number.isFinite(x) && y >= top && y <= bottom),
    (a, b) => Math.abs(a[0] - b[0]) > width * leap || b[1] - a[1] > FINE,
  );
}
