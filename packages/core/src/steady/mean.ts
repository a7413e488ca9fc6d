/** Means on the rotation group. */
import {
  matrixOf,
  multiply,
  quaternionOf,
  rotationAbout,
  type Quaternion,
  type Vec3,
  vec3,
} from '../geometry/rotation.js';

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

/** The weighted sum of quaternions as one: near the mean where they lie close together. Null where they cancel out. */
function chordalMean(list: readonly Quaternion[], weights: ArrayLike<number>, near: Quaternion): Quaternion | null {
  let [x, y, z, w] = [0, 0, 0, 0];
  for (let i = 0; i < list.length; i++) {
    const q = list[i]!;
    // q and −q are the same turn.
    const k = q[0] * near[0] + q[1] * near[1] + q[2] * near[2] + q[3] * near[3] < 0 ? -weights[i]! : weights[i]!;
    x += k * q[0];
    y += k * q[1];
    z += k * q[2];
    w += k * q[3];
  }
  const length = Math.hypot(x, y, z, w);
  return length < 1e-9 ? null : [x / length, y / length, z / length, w / length];
}

/**
 * Weighted mean of orientations: the one from which the weighted turns to all others add up to nothing (the Riemannian
 * or Karcher mean, by fixed-point iteration: Manton 2004). They should lie within 90° of `near`.
 */
export function meanOrientation(list: readonly Quaternion[], weights: ArrayLike<number>, near: Quaternion): Quaternion {
  let total = 0;
  for (let i = 0; i < list.length; i++) total += weights[i]!;
  if (total < 1e-12) return near;
  let mean = chordalMean(list, weights, near) ?? near;
  for (let round = 0; round < 6; round++) {
    const sum = [0, 0, 0];
    for (let i = 0; i < list.length; i++) {
      const turn = turnFrom(mean, list[i]!);
      for (let k = 0; k < 3; k++) sum[k]! += (weights[i]! * turn[k]!) / total;
    }
    mean = quaternionOf(multiply(matrixOf(mean), rotationAbout(vec3(sum))));
    if (Math.hypot(...sum) < 1e-7) break;
  }
  return mean;
}
