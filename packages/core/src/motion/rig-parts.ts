/** Which parts of the picture show the rig itself, a mount or a wagon: they turn with it and would hold the estimate back. */
import { angleBetween, type Vec3 } from '../geometry/rotation.js';
import { cellOf, type Grid } from './grid.js';

/** Degrees by which a point must have shifted by the rig's turning alone, to tell what it belongs to. */
const TELLING = 1.2;
/** What shifted by less than this share of it is part of the rig. */
const STUCK = 0.35;
/** So many more sights of one kind than of the other are kept of a cell. */
const SURE = 4;

export class RigParts {
  /** For each cell how many more sights of the rig than of the world there were lately, −SURE…SURE. */
  private readonly cells: Int8Array;

  constructor(private readonly grid: Grid) {
    this.cells = new Int8Array(grid.cells);
  }

  /** Whether a direction of the picture shows the rig. */
  has(direction: Vec3): boolean {
    return this.cells[cellOf(this.grid, direction)]! > 0;
  }

  /**
   * Tells what a point belongs to and counts it for its cell: from where it was, where it would be now by the rig's
   * turning alone (`turned`), and where it is. Null where the rig has not turned enough to tell.
   */
  tell(was: Vec3, turned: Vec3, now: Vec3): 'world' | 'rig' | null {
    const expected = angleBetween(turned, was);
    if (expected < TELLING) return null;
    const kind = angleBetween(now, was) < STUCK * expected ? 'rig' : 'world';
    const cell = cellOf(this.grid, now);
    this.cells[cell] = Math.max(-SURE, Math.min(SURE, this.cells[cell]! + (kind === 'rig' ? 1 : -1)));
    return kind;
  }
}
