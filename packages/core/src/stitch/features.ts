/** Matching details between the two lenses of a recording, in the unrolled band of their overlap. */
import type { Lens } from './lens.js';
import { bandDirection, lensMapper, unrollLuma, type Picture } from './overlap.js';

/** One detail as both lenses draw it: pixels of the joined picture. */
export interface FeaturePair {
  first: [number, number];
  second: [number, number];
}

/** Degrees from one place of the unrolled band to the next. */
const STEP = 0.125;
/** Half the side of a patch, in places. */
const PATCH = 9;
/** Correlation that a match must reach, and by how much it must beat the best one elsewhere. */
const LEAST_CORRELATION = 0.82;
const MARGIN = 0.03;
/** Details are looked for in this many stretches of azimuth. */
const STRETCHES = 120;

/**
 * Pairs of places at which the two lenses see the same detail. `half`: how far from the middle, degrees, the overlap
 * reaches; `reach`: how far apart the lenses may put the same thing, degrees.
 */
export function matchFeatures(
  picture: Picture,
  lenses: readonly [Lens, Lens],
  half: number,
  reach: number,
): FeaturePair[] {
  const columns = Math.round(360 / STEP);
  const rows = 2 * Math.round(half / STEP) + 1;
  const [a, b] = lenses.map((lens) => unrollLuma(picture, lens, columns, rows, half)) as [Float32Array, Float32Array];
  const maps = lenses.map(lensMapper);
  const search = Math.ceil(reach / STEP);
  const pairs: FeaturePair[] = [];
  for (const { column, row } of corners(a, columns, rows)) {
    const found = bestMatch(a, b, columns, rows, column, row, search);
    if (!found) continue;
    const place = (c: number, r: number) => bandDirection(c * STEP, -half + (2 * half * r) / (rows - 1));
    pairs.push({
      first: maps[0]!(place(column, row)),
      second: maps[1]!(place(column + found.dx, row + found.dy)),
    });
  }
  return pairs;
}

/** Places with the strongest corners (least eigenvalue of the structure tensor; Shi and Tomasi 1994), spread over the band. */
function corners(band: Float32Array, columns: number, rows: number): { column: number; row: number }[] {
  const out: { column: number; row: number; strength: number }[] = [];
  const levels = 3;
  const usable = rows - 2 * PATCH - 2;
  if (usable < 3) return [];
  for (let stretch = 0; stretch < STRETCHES; stretch++)
    for (let level = 0; level < levels; level++) {
      let best = { column: 0, row: 0, strength: 0 };
      const from = PATCH + 1 + Math.floor((usable * level) / levels);
      const to = PATCH + 1 + Math.floor((usable * (level + 1)) / levels);
      for (let row = from; row < to; row += 2)
        for (
          let column = Math.floor((columns * stretch) / STRETCHES);
          column < Math.floor((columns * (stretch + 1)) / STRETCHES);
          column += 2
        ) {
          const strength = cornerStrength(band, columns, column, row);
          if (strength > best.strength) best = { column, row, strength };
        }
      if (best.strength > 60) out.push(best);
    }
  return out;
}

function cornerStrength(band: Float32Array, columns: number, column: number, row: number): number {
  let [xx, xy, yy] = [0, 0, 0];
  for (let j = -4; j <= 4; j += 2)
    for (let i = -4; i <= 4; i += 2) {
      const c = (column + i + columns) % columns;
      const at = (row + j) * columns;
      const gx = band[at + ((c + 1) % columns)]! - band[at + ((c + columns - 1) % columns)]!;
      const gy = band[at + columns + c]! - band[at - columns + c]!;
      xx += gx * gx;
      xy += gx * gy;
      yy += gy * gy;
    }
  const mean = (xx + yy) / 2;
  return (mean - Math.sqrt(((xx - yy) / 2) ** 2 + xy * xy)) / 25;
}

/** A patch round a place, every `step`-th row and column of it, less its mean and over its length; null when it is all of one tone or outside. */
function patchAt(
  band: Float32Array,
  columns: number,
  rows: number,
  column: number,
  row: number,
  step: number,
): Float32Array | null {
  if (row < PATCH || row >= rows - PATCH) return null;
  const values: number[] = [];
  for (let j = -PATCH; j <= PATCH; j += step)
    for (let i = -PATCH; i <= PATCH; i += step)
      values.push(band[(row + j) * columns + ((column + i + columns) % columns)]!);
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  const length = Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0));
  return length * length < values.length * FLAT ? null : Float32Array.from(values, (v) => (v - mean) / length);
}

/** Variance in grey levels squared below which a patch says nothing. */
const FLAT = 9;

/** Correlation of a patch from `patchAt` with the same patch round another place of another band; −1 outside it. */
function correlate(
  patch: Float32Array,
  band: Float32Array,
  columns: number,
  rows: number,
  column: number,
  row: number,
  step: number,
): number {
  if (row < PATCH || row >= rows - PATCH) return -1;
  let [sum, squares, product, k] = [0, 0, 0, 0];
  for (let j = -PATCH; j <= PATCH; j += step) {
    const base = (row + j) * columns;
    for (let i = -PATCH; i <= PATCH; i += step) {
      let c = column + i;
      if (c < 0) c += columns;
      else if (c >= columns) c -= columns;
      const v = band[base + c]!;
      sum += v;
      squares += v * v;
      product += v * patch[k++]!;
    }
  }
  const variance = squares - (sum * sum) / k;
  return variance < k * FLAT ? 0 : product / Math.sqrt(variance);
}

/** Shift in places at which the second band correlates best with the first round a place, to a fraction; null if none does clearly. */
function bestMatch(
  a: Float32Array,
  b: Float32Array,
  columns: number,
  rows: number,
  column: number,
  row: number,
  search: number,
) {
  const wanted = patchAt(a, columns, rows, column, row, 1);
  const rough = patchAt(a, columns, rows, column, row, 2);
  if (!wanted || !rough) return null;
  const at = (dx: number, dy: number) => correlate(wanted, b, columns, rows, column + dx, row + dy, 1);
  let best = { dx: 0, dy: 0, value: -1 };
  const tried: { dx: number; dy: number; value: number }[] = [];
  for (let dy = -search; dy <= search; dy += 2)
    for (let dx = -search; dx <= search; dx += 2) {
      const value = correlate(rough, b, columns, rows, column + dx, row + dy, 2);
      tried.push({ dx, dy, value });
      if (value > best.value) best = { dx, dy, value };
    }
  const elsewhere = tried.reduce(
    (most, t) => (Math.hypot(t.dx - best.dx, t.dy - best.dy) > 6 ? Math.max(most, t.value) : most),
    -1,
  );
  best.value = at(best.dx, best.dy);
  for (let moved = true; moved;) {
    moved = false;
    for (const [i, j] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ] as const) {
      const value = at(best.dx + i, best.dy + j);
      if (value > best.value) {
        best = { dx: best.dx + i, dy: best.dy + j, value };
        moved = true;
      }
    }
  }
  if (best.value < LEAST_CORRELATION || best.value - elsewhere < MARGIN) return null;
  if (Math.abs(best.dx) > search || Math.abs(best.dy) > search) return null;
  const vertex = (l: number, m: number, r: number) => {
    const bend = l - 2 * m + r;
    return bend < 0 && l > -1 && r > -1 ? Math.max(-0.5, Math.min(0.5, (l - r) / (2 * bend))) : 0;
  };
  return {
    dx: best.dx + vertex(at(best.dx - 1, best.dy), best.value, at(best.dx + 1, best.dy)),
    dy: best.dy + vertex(at(best.dx, best.dy - 1), best.value, at(best.dx, best.dy + 1)),
  };
}
