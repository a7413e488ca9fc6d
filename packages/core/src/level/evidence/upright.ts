/** Up as upright edges have it, to a fraction of a degree. */
import { dot, unit, type Vec3, vec3 } from '../../geometry/rotation.js';
import { solveSymmetric } from '../../geometry/solve.js';
import type { Edges } from './edges.js';

/** Sine of the angle off upright that still counts, from the first round to the last. */
const SPREADS = [0.05, 0.04, 0.03, 0.02, 0.015, 0.015, 0.015];
/** Sines of the heights between which edges count. */
const HIGHEST = 0.75;
const LOWEST = -0.5;
/** Farthest that it may be from where it began, as the cosine of the angle: 4°. */
const NEAREST = 0.9976;

/**
 * The direction at right angles to which most normals lie, by reweighted least squares from one that is nearly right; that one
 * where the edges lead away from it.
 */
export function uprightNear({ normals, places, weights, count }: Edges, from: Vec3): Vec3 {
  let up = from;
  for (const spread of SPREADS) {
    const m = new Float64Array(9);
    for (let i = 0; i < count; i++) {
      const k = 3 * i;
      const height = places[k]! * up[0] + places[k + 1]! * up[1] + places[k + 2]! * up[2];
      if (height > HIGHEST || height < LOWEST) continue;
      const n = normals.subarray(k, k + 3);
      const off = (n[0]! * up[0] + n[1]! * up[1] + n[2]! * up[2]) / spread;
      if (Math.abs(off) > 20) continue;
      const w = weights[i]! / (1 + off * off) ** 2;
      for (let a = 0; a < 3; a++) for (let b = 0; b < 3; b++) m[a * 3 + b]! += w * n[a]! * n[b]!;
    }
    // The direction least along any normal; the trace keeps it defined when there are hardly any.
    const floor = 1e-6 * (m[0]! + m[4]! + m[8]!) + 1e-12;
    for (let i = 0; i < 3; i++) m[i * 4]! += floor;
    let next: Vec3 = up;
    for (let k = 0; k < 6; k++) next = unit(vec3(solveSymmetric(m, next, 3) ?? next));
    if (dot(next, up) < 0) next = [-next[0], -next[1], -next[2]];
    if (dot(next, from) < NEAREST) return from;
    up = next;
  }
  return up;
}
