/** A grid over the sphere whose cells are about equally large, in rows of equal height from the top down. */
import { lonLatOf } from '../geometry/sphere.js';
import type { Vec3 } from '../geometry/rotation.js';

export interface Grid {
  /** Number of cells in each row. */
  columns: number[];
  /** Number of the first cell in each row. */
  first: number[];
  cells: number;
}

export function makeGrid(rows: number): Grid {
  const columns = Array.from({ length: rows }, (_, r) =>
    Math.max(3, Math.round(2 * rows * Math.cos(((r + 0.5) / rows - 0.5) * Math.PI))),
  );
  const first: number[] = [];
  let cells = 0;
  for (const n of columns) {
    first.push(cells);
    cells += n;
  }
  return { columns, first, cells };
}

/** Number of the cell in which a direction lies. */
export function cellOf(grid: Grid, direction: Vec3): number {
  const { longitude, latitude } = lonLatOf(direction);
  const rows = grid.columns.length;
  const r = Math.min(rows - 1, Math.max(0, Math.floor((0.5 - latitude / 180) * rows)));
  const n = grid.columns[r]!;
  return grid.first[r]! + Math.min(n - 1, Math.max(0, Math.floor((longitude / 360 + 0.5) * n)));
}
