/** Streaks as lines of the Sweep: as wide as what they show, one below the other. */
import type { StreakPiece } from '@glimbo/core/follow/outline';
import { headingAt } from '~/ui/chart';
import type { Axis } from '../axes/lanes';

/** Pixels of the Sweep from one piece of a streak to the next. */
const ROWS_APART = 2;
/** Pixels to either side that a streak has at least. */
const NARROWEST = 1.5;

interface Rows {
  y: Axis['y'];
  span: { from: number; to: number };
  /** Frames a second. */
  rate: number;
}

/** Frames from one piece of a streak to the next. */
export function rowsOf({ y, span, rate }: Rows): number {
  const perRow = (span.to - span.from) / Math.max(1, y(span.to) - y(span.from));
  return Math.max(1, Math.round(perRow * ROWS_APART * rate));
}

/** The SVG path of a streak's pieces over a Sweep so many pixels wide, on both of its sides where it goes round. */
export const streakPath = (pieces: readonly StreakPiece[], width: number, y: Axis['y']): string =>
  pieces
    .flatMap(({ from, to, heading, half }) => {
      const x = headingAt(heading, width);
      const side = Math.max(NARROWEST, (half / 360) * width);
      const [top, bottom] = [y(from), y(to)].map((v) => v.toFixed(1));
      return [-width, 0, width]
        .filter((by) => x + by + side > 0 && x + by - side < width)
        .map(
          (by) => `M${(x + by - side).toFixed(1)} ${top}h${(2 * side).toFixed(1)}V${bottom}h${(-2 * side).toFixed(1)}Z`,
        );
    })
    .join('');
