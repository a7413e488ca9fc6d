/** Means on the rotation group. */
import { matrixOf, multiply, quaternionOf, rotationAbout, type Quaternion, type Vec3 } from '../geometry/rotation.js';

/** a⁻¹ · b as a vector: the turn from a to b, in a's axes, as long as its angle in radians. */
function turnFrom(a: Quaternion, b: Quaternion): Vec3 {
  let x = -a[0] * b[3] + a[3] * b[0] - a[1] * b[2] + a[2] * b[1];
  let y = -a[1] * b[3] + a[3] * b[1] - a[2] * b[0] + a[0] * b[2];
  let z = -a[2] * b[3] + a[3] * b[2] - a[0] * b[1] + a[1] * b[0];
  const w = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
  const sine = Math.sqrt(x * x + y * y + z * z);
  const k = sine < 1e-9 ? 2 : ((w < 0 ? -2 : 2) * Math.atan2(sine, Math.abs(w))) / sine;
  x *= k;
  y *= k;
  z *= k;
  return [x, y, z];
}

/**
 * Weighted mean of orientations: the one from which the weighted turns to all others add up to nothing (the Riemannian
 * or Karcher mean, by fixed-point iteration: Manton 2004). Begins at `near`, which should lie within 90° of them.
 */
export function meanOrientation(list: readonly Quaternion[], weights: readonly number[], near: Quaternion): Quaternion {
  const total = weights.reduce((a, b) => a + b, 0);
  if (total < 1e-12) return near;
  let mean = near;
  for (let round = 0; round < 6; round++) {
    const sum = [0, 0, 0];
    for (let i = 0; i < list.length; i++) {
      const turn = turnFrom(mean, list[i]!);
      for (let k = 0; k < 3; k++) sum[k]! += (weights[i]! * turn[k]!) / total;
    }
    mean = quaternionOf(multiply(matrixOf(mean), rotationAbout(sum as unknown as Vec3)));
    if (Math.hypot(...sum) < 1e-8) break;
  }
  return mean;
}
