/** Which parts of the picture show the rig itself, a mount or a wagon: they turn with it and would hold the estimate back. */
import { angleBetween, type Vec3 } from '../geometry/rotation.js';
import { cellOf, type Grid } from './grid.js';

/** Degrees by which a point must have shifted by the rig's turning alone, to tell what it belongs to. */
const TELLING = 1.2;
/** What shifted by less than this share of it is part of the rig. */
const STUCK = 0.2;

export class RigParts {
  /** For each cell whether what was seen there last belonged to the rig. */
  private readonly cells: Uint8Array;

  constructor(private readonly grid: Grid) {
    this.cells = new Uint8Array(grid.cells);
  }

  /** Whether the rig was seen last in a direction of the picture. */
  has(direction: Vec3): boolean {
    return this.cells[cellOf(this.grid, direction)] === 1;
  }

  /**
   * Tells what a point belongs to and keeps that for its cell: from where it was, where it would be now by the rig's
   * turning alone (`turned`), and where it is. Null where the rig has not turned enough to tell.
   */
  tell(was: Vec3, turned: Vec3, now: Vec3): 'world' | 'rig' | null {
    const expected = angleBetween(turned, was);
    if (expected < TELLING) return null;
    const kind = angleBetween(now, was) < STUCK * expected ? 'rig' : 'world';
    this.cells[cellOf(this.grid, now)] = kind === 'rig' ? 1 : 0;
    return kind;
  }
}
