/**
 * Activity: how much moves at each heading at a moment, with the rig's own motion discounted. Two bands of the horizon
 * a moment apart are compared block by block over all shifts along the horizon. Turning shifts all blocks alike;
 * travelling shifts a still thing along a sine of its heading, the more the nearer it is. What fits neither moves by
 * itself. The far background hardly shifts and fits always.
 */
import { solveSymmetric } from '../geometry/solve.js';
import { SWEEP_WIDTH } from './sweep.js';

const { abs } = Math;

export const ACTIVITY_BLOCKS = 120;
/** Seconds between the two bands that are compared. */
export const ACTIVITY_GAP = 0.13;
const BLOCK = SWEEP_WIDTH / ACTIVITY_BLOCKS;
/** Blocks overlap: this many columns to each side count too. */
const MARGIN = 6;
const REACH = 20;
const SHIFTS = 2 * REACH + 1;
/** The band is looked at in so many layers, so that a small thing low or high in it is not averaged away. */
const LAYERS = 3;
/** Mean difference in grey levels that noise and compression make. */
const NOISE = 2.5;
const GAIN = 11;

/** Luma of an RGB band of SWEEP_WIDTH × height bytes, every two rows joined so that a nod of the camera matters less. */
export function bandLuma(band: Uint8Array, height: number): Uint8Array {
  const rows = height >> 1;
  const out = new Uint8Array(SWEEP_WIDTH * rows);
  for (let r = 0; r < rows; r++)
    for (let x = 0; x < SWEEP_WIDTH; x++) {
      let sum = 0;
      for (const i of [(2 * r * SWEEP_WIDTH + x) * 3, ((2 * r + 1) * SWEEP_WIDTH + x) * 3])
        sum += 54 * band[i]! + 183 * band[i + 1]! + 19 * band[i + 2]!;
      out[r * SWEEP_WIDTH + x] = sum >> 9;
    }
  return out;
}

/** Activity of ACTIVITY_BLOCKS headings from left to right, 0 (nothing moves by itself) to 255, from two luma bands. */
export function activityRow(before: Uint8Array, now: Uint8Array): Uint8Array {
  const layers = Array.from({ length: LAYERS }, (_, layer) => differences(before, now, layer));
  const whole = layers[0]!.map((_, i) => layers.reduce((sum, l) => sum + l[i]! / LAYERS, 0));
  const { turn, east, north } = ownMotion(whole);
  const out = new Uint8Array(ACTIVITY_BLOCKS);
  for (let b = 0; b < ACTIVITY_BLOCKS; b++) {
    const heading = ((b + 0.5) / ACTIVITY_BLOCKS - 0.5) * 2 * Math.PI;
    const travel = east * Math.cos(heading) + north * Math.sin(heading);
    const most = Math.max(...layers.map((table) => leftOver(table, b, turn, travel)));
    out[b] = Math.max(0, Math.min(255, Math.round((most - NOISE) * GAIN)));
  }
  return out;
}

/** The least difference of a block over all distances at which a still thing could be, and a pixel to each side. */
function leftOver(table: Float32Array, block: number, turn: number, travel: number): number {
  let least = Infinity;
  for (let near = 0; near <= 4; near += 0.5) {
    const at = Math.round(turn + near * travel);
    for (let s = at - 1; s <= at + 1; s++)
      if (abs(s) <= REACH) least = Math.min(least, table[block * SHIFTS + s + REACH]!);
  }
  return least === Infinity ? 0 : least;
}

/** Mean absolute difference of each block of a layer for each shift, in grey levels; every second column is looked at. */
function differences(before: Uint8Array, now: Uint8Array, layer: number): Float32Array {
  const rows = now.length / SWEEP_WIDTH / LAYERS;
  const top = layer * rows * SWEEP_WIDTH;
  const table = new Float32Array(ACTIVITY_BLOCKS * SHIFTS);
  // One shift at a time over the whole layer, then summed by blocks.
  const columns = new Int32Array(SWEEP_WIDTH / 2);
  const earlier = withEnds(before, top, rows);
  for (let s = -REACH; s <= REACH; s++) {
    columns.fill(0);
    for (let r = 0; r < rows; r++) {
      const base = top + r * SWEEP_WIDTH;
      const shifted = r * (SWEEP_WIDTH + 2 * REACH) + REACH - s;
      for (let i = 0; i < SWEEP_WIDTH / 2; i++) {
        const difference = now[base + 2 * i]! - earlier[shifted + 2 * i]!;
        columns[i]! += difference < 0 ? -difference : difference;
      }
    }
    for (let b = 0; b < ACTIVITY_BLOCKS; b++) {
      let sum = 0;
      const first = (b * BLOCK - MARGIN) / 2;
      const count = (BLOCK + 2 * MARGIN) / 2;
      for (let i = 0; i < count; i++) sum += columns[(first + i + columns.length) % columns.length]!;
      table[b * SHIFTS + s + REACH] = sum / (count * rows);
    }
  }
  return table;
}

/** Rows of a band with as many columns of their other end on either side as they are shifted at most. */
function withEnds(band: Uint8Array, top: number, rows: number): Uint8Array {
  const long = SWEEP_WIDTH + 2 * REACH;
  const out = new Uint8Array(rows * long);
  for (let r = 0; r < rows; r++) {
    const row = band.subarray(top + r * SWEEP_WIDTH, top + (r + 1) * SWEEP_WIDTH);
    out.set(row.subarray(SWEEP_WIDTH - REACH), r * long);
    out.set(row, r * long + REACH);
    out.set(row.subarray(0, REACH), r * long + REACH + SWEEP_WIDTH);
  }
  return out;
}

/** Fits shift = turn + east·cos λ + north·sin λ to the blocks' best shifts, leaving out what does not agree. */
function ownMotion(table: Float32Array): { turn: number; east: number; north: number } {
  const points: { c: number; s: number; shift: number; sure: number }[] = [];
  for (let b = 0; b < ACTIVITY_BLOCKS; b++) {
    let [best, least, sum] = [0, Infinity, 0];
    for (let k = 0; k < SHIFTS; k++) {
      const v = table[b * SHIFTS + k]!;
      sum += v;
      // Of equals the smallest shift.
      if (v < least - 0.02 || (v < least + 0.02 && abs(k - REACH) < abs(best)))
        [best, least] = [k - REACH, Math.min(least, v)];
    }
    const heading = ((b + 0.5) / ACTIVITY_BLOCKS - 0.5) * 2 * Math.PI;
    points.push({ c: Math.cos(heading), s: Math.sin(heading), shift: best, sure: Math.max(0, sum / SHIFTS - least) });
  }
  let fit = { turn: 0, east: 0, north: 0 };
  for (let round = 0; round < 4; round++) {
    const m = [0, 0, 0, 0, 0, 0, 0, 0, 0];
    const right = [0, 0, 0];
    for (const { c, s, shift, sure } of points) {
      const miss = shift - (fit.turn + fit.east * c + fit.north * s);
      const weight = round === 0 ? sure : sure / (1 + miss * miss);
      const row = [1, c, s];
      for (let i = 0; i < 3; i++) {
        right[i]! += weight * row[i]! * shift;
        for (let j = 0; j < 3; j++) m[i * 3 + j]! += weight * row[i]! * row[j]!;
      }
    }
    for (let i = 0; i < 3; i++) m[i * 4]! += 1e-3;
    const [turn, east, north] = solveSymmetric(m, right, 3)!;
    fit = { turn: turn!, east: east!, north: north! };
  }
  return fit;
}
