/**
 * The skyline: where, going down from the sky at each heading, something else begins. What the sky looks like is learned on the way
 * down: it changes slowly, and how unsteady it is tells how large a step is needed to leave it.
 */
import { apply, turnTo, type Vec3 } from '../../geometry/rotation.js';
import { directionOf, equirectangularOf } from '../../geometry/sphere.js';

/** Headings that are looked along, and degrees from one place to the next down each. */
const HEADINGS = 120;
const STEP = 1;
/** Degrees about the guess between which it is looked for. */
const TOP = 60;
const BOTTOM = -60;
const ROWS = (TOP - BOTTOM) / STEP;
/** Places above and below that are compared. */
const REACH = 5;
/** Grey levels, and times the sky's unsteadiness, by which what is below must differ. */
const STEADY = 7;
const UNSTEADY = 4;
/** Places within which the clearest step is the skyline's. */
const NEAR = 4;

/**
 * Directions of the skyline in the picture's axes, one for each heading about `up` that has one, three numbers each. `soft`:
 * width × width/2.
 */
export function skylineOf(soft: Float32Array, width: number, up: Vec3): Float64Array {
  const turn = turnTo([0, 1, 0], up);
  const place = (heading: number, row: number): Vec3 =>
    apply(turn, directionOf(((heading + 0.5) * 360) / HEADINGS - 180, TOP - (row + 0.5) * STEP));
  const column = new Float64Array(ROWS);
  const found: number[] = [];
  for (let heading = 0; heading < HEADINGS; heading++) {
    for (let row = 0; row < ROWS; row++) {
      const { u, v } = equirectangularOf(place(heading, row), width, width / 2);
      column[row] = soft[Math.min(width / 2 - 1, Math.floor(v)) * width + (Math.floor(u) % width)]!;
    }
    const row = leaves(column);
    if (row !== null) found.push(...place(heading, row));
  }
  return Float64Array.from(found);
}

/** The row at which a column of grey levels leaves the sky; null where it never does. */
function leaves(column: Float64Array): number | null {
  const mean = (from: number) => {
    let sum = 0;
    for (let i = from; i < from + REACH; i++) sum += column[i]!;
    return sum / REACH;
  };
  const step = (row: number) => Math.abs(column[row]! - column[row - 1]!);
  let unsteady = 2;
  for (let row = REACH + 2; row < ROWS - REACH; row++) {
    let rough = 0;
    for (let i = 1; i < REACH; i++) rough += step(row - i) / (REACH - 1);
    unsteady = Math.max(1.5, 0.8 * unsteady + 0.2 * rough);
    const differs = Math.min(Math.abs(mean(row) - mean(row - REACH)), 3 * step(row));
    if (differs <= STEADY + UNSTEADY * unsteady) continue;
    let clearest = row;
    const across = (r: number) => Math.abs(column[r + 1]! - column[r - 1]!);
    for (let r = row; r < Math.min(ROWS - 1, row + NEAR); r++) if (across(r) > across(clearest)) clearest = r;
    return clearest;
  }
  return null;
}
