/** A rotation alone that takes points along, as if there were no travel: where a fit of the motion begins. */
import {
  cross,
  multiply,
  rotationAbout,
  transpose,
  unit,
  type Matrix3,
  type Vec3,
  vec3,
  matrix3,
} from '../geometry/rotation.js';
import { solveSymmetric } from '../geometry/solve.js';
import { seededRandom } from '../random.js';
import type { Pairs } from './pairs.js';

/** Trials of RANSAC. */
const TRIALS = 60;
/** Radians within which a point counts as taken along: coarse, as near points shift by travel. */
export const COARSE = 0.012;
/** Rounds of reweighted least squares. */
const ALIGNING = 4;

/** The rotation that takes most points along within COARSE, among `start` and those of random pairs of points. */
export function seed({ before, after, count }: Pairs, start: Matrix3): Matrix3 {
  const random = seededRandom(count);
  const at = (list: Float64Array, i: number): Vec3 => [list[3 * i]!, list[3 * i + 1]!, list[3 * i + 2]!];
  const cost = (r: Matrix3) => {
    let sum = 0;
    for (let k = 0; k < 3 * count; k += 3) {
      const ax = after[k]!;
      const ay = after[k + 1]!;
      const az = after[k + 2]!;
      const x = r[0] * ax + r[1] * ay + r[2] * az - before[k]!;
      const y = r[3] * ax + r[4] * ay + r[5] * az - before[k + 1]!;
      const z = r[6] * ax + r[7] * ay + r[8] * az - before[k + 2]!;
      sum += Math.min(1, (x * x + y * y + z * z) / COARSE ** 2);
    }
    return sum;
  };
  let best = start;
  let least = cost(start);
  for (let k = 0; k < TRIALS; k++) {
    const [i, j] = [Math.floor(random() * count), Math.floor(random() * count)];
    const r = i === j ? null : rotationOfPairs(at(before, i), at(before, j), at(after, i), at(after, j));
    const c = r ? cost(r) : Infinity;
    if (c < least) [best, least] = [r!, c];
  }
  return best;
}

/** A rotation turned so that it takes most points along, as if there were no travel. */
export function aligned({ before, after, count }: Pairs, start: Matrix3): Matrix3 {
  let r = start;
  for (let round = 0; round < ALIGNING; round++) {
    const m = new Float64Array(9);
    const right = new Float64Array(3);
    for (let k = 0; k < 3 * count; k += 3) {
      const px = before[k]!;
      const py = before[k + 1]!;
      const pz = before[k + 2]!;
      const ax = after[k]!;
      const ay = after[k + 1]!;
      const az = after[k + 2]!;
      const x = r[0] * ax + r[1] * ay + r[2] * az - px;
      const y = r[3] * ax + r[4] * ay + r[5] * az - py;
      const z = r[6] * ax + r[7] * ay + r[8] * az - pz;
      const w = 1 / (1 + (x * x + y * y + z * z) / COARSE ** 2) ** 2;
      m[0]! += w * (1 - px * px);
      m[1]! -= w * px * py;
      m[2]! -= w * px * pz;
      m[4]! += w * (1 - py * py);
      m[5]! -= w * py * pz;
      m[8]! += w * (1 - pz * pz);
      right[0]! -= w * (py * z - pz * y);
      right[1]! -= w * (pz * x - px * z);
      right[2]! -= w * (px * y - py * x);
    }
    [m[3], m[6], m[7]] = [m[1]!, m[2]!, m[5]!];
    const step = solveSymmetric(m, right, 3);
    if (!step) break;
    r = multiply(rotationAbout(vec3(step)), r);
  }
  return r;
}

/** The rotation that takes c to a exactly and d as near to b as can be; null if they say too little. */
function rotationOfPairs(a: Vec3, b: Vec3, c: Vec3, d: Vec3): Matrix3 | null {
  const [p, q] = [triad(a, b), triad(c, d)];
  return p && q ? multiply(transpose(p), q) : null;
}

/** Rows: a, the normal of a and b, and their cross product. */
function triad(a: Vec3, b: Vec3): Matrix3 | null {
  const n = cross(a, b);
  if (Math.hypot(...n) < 0.3) return null;
  const u = unit(n);
  return matrix3([...a, ...u, ...cross(a, u)]);
}
