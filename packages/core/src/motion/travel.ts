/** The direction of travel: axes across it, and where shifts of points say it lies. */
import { cross, unit, type Vec3 } from '../geometry/rotation.js';
import { solveSymmetric } from '../geometry/solve.js';
import { NOISE } from './pairs.js';

/** Two unit vectors at right angles to a unit vector and to each other. */
export function tangents(t: Vec3): [Vec3, Vec3] {
  const other: Vec3 = Math.abs(t[1]) < 0.8 ? [0, 1, 0] : [1, 0, 0];
  const first = unit(cross(t, other));
  return [first, cross(t, first)];
}

/** The direction whose great circles the shifts follow best: t for which t · (shift × place) is least over all points. */
export function travelOf(flow: Float64Array, places: Float64Array, weights: Float64Array, count: number): Vec3 {
  const m = new Float64Array(9);
  for (let i = 0, k = 0; i < count; i++, k += 3) {
    const fx = flow[k]!;
    const fy = flow[k + 1]!;
    const fz = flow[k + 2]!;
    const px = places[k]!;
    const py = places[k + 1]!;
    const pz = places[k + 2]!;
    const x = fy * pz - fz * py;
    const y = fz * px - fx * pz;
    const z = fx * py - fy * px;
    // A long shift says no more about the direction than a middling one.
    const w = weights[i]! / (x * x + y * y + z * z + (10 * NOISE) ** 2);
    m[0]! += w * x * x;
    m[1]! += w * x * y;
    m[2]! += w * x * z;
    m[4]! += w * y * y;
    m[5]! += w * y * z;
    m[8]! += w * z * z;
  }
  [m[3], m[6], m[7]] = [m[1]!, m[2]!, m[5]!];
  for (let i = 0; i < 3; i++) m[i * 4]! += 1e-9;
  // The eigenvector of the least eigenvalue, by inverse iteration.
  let t: number[] = [0.31, 0.27, 0.91];
  for (let n = 0; n < 24; n++) {
    const next = solveSymmetric(m, t, 3);
    if (!next) break;
    const length = Math.hypot(...next);
    t = next.map((v) => v / length);
  }
  // Of its two ends the one that points shift away from.
  let from = 0;
  for (let i = 0; i < count; i++) {
    const k = 3 * i;
    const f = flow[k]! * t[0]! + flow[k + 1]! * t[1]! + flow[k + 2]! * t[2]!;
    from -= Math.sign(f) * Math.min(Math.abs(f), 10 * NOISE) * weights[i]!;
  }
  const sign = from < 0 ? -1 : 1;
  return [sign * t[0]!, sign * t[1]!, sign * t[2]!];
}
