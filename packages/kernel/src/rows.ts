/** Tile rows of planes, and the stripes of them that are drawn at a time. */
import { TILE } from '../assembly/record.js';
import { STRIPE_ROWS, type TargetSlot } from './memory.js';

/** The tile rows of a plane that belong to luma tile rows `row` to `row + rows`. */
export function rowsOf(plane: { height: number }, part: number, row: number, rows: number) {
  const first = Math.floor(row / part);
  const total = Math.ceil(plane.height / TILE);
  return { first, count: Math.min(total, Math.ceil((row + rows) / part)) - first };
}

/** A slot laid out anew for planes of other sizes, one behind the other. */
export function packed({ pointer, bytes }: TargetSlot, { planes }: TargetSlot): TargetSlot {
  let next = pointer;
  const laid = planes.map(({ width, height }) => {
    const plane = { pointer: next, width, height, stride: width };
    next += width * height;
    return plane;
  });
  return { pointer, bytes, planes: laid, detailed: null };
}

/** Tile rows of a picture of some height, and the stripes in which they are drawn: first row and how many. */
export function stripesOf(height: number): { row: number; rows: number }[] {
  const all = Math.ceil(height / TILE);
  return Array.from({ length: Math.ceil(all / STRIPE_ROWS) }, (_, n) => ({
    row: n * STRIPE_ROWS,
    rows: Math.min(STRIPE_ROWS, all - n * STRIPE_ROWS),
  }));
}
