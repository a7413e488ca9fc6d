/**
 * Directions and rotations. Axes: x right, y up, z ahead. Angles in degrees at the borders of this
 * module: pan > 0 turns right, tilt > 0 looks up, roll > 0 turns clockwise as seen from behind.
 */
/** The first three of some numbers. */
export const vec3 = (list: ArrayLike<number>): Vec3 => [list[0]!, list[1]!, list[2]!];

export type Vec3 = readonly [number, number, number];
/** Row-major 3 × 3 rotation matrix. */
/** Nine numbers as a matrix, rows first. */
export const matrix3 = (n: ArrayLike<number>): Matrix3 => [
  n[0]!, n[1]!, n[2]!,
  n[3]!, n[4]!, n[5]!,
  n[6]!, n[7]!, n[8]!,
]; // prettier-ignore

export type Matrix3 = readonly [number, number, number, number, number, number, number, number, number];
/** Unit quaternion [x, y, z, w]. */
export type Quaternion = readonly [number, number, number, number];

export interface Angles {
  pan: number;
  tilt: number;
  roll: number;
}

export const RADIANS = Math.PI / 180;
export const DEGREES = 180 / Math.PI;
export const IDENTITY: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** Camera-to-world rotation Ry(pan) · Rx(tilt) · Rz(roll). */
export function rotationOf({ pan, tilt, roll }: Angles): Matrix3 {
  const cp = Math.cos(pan * RADIANS);
  const sp = Math.sin(pan * RADIANS);
  const ct = Math.cos(tilt * RADIANS);
  const st = Math.sin(tilt * RADIANS);
  const cr = Math.cos(roll * RADIANS);
  const sr = Math.sin(roll * RADIANS);
  return [
    cp * cr + sp * st * sr, cp * sr - sp * st * cr, sp * ct,
    -ct * sr, ct * cr, st,
    -sp * cr + cp * st * sr, -sp * sr - cp * st * cr, cp * ct,
  ]; // prettier-ignore
}

/** The angles of a camera-to-world rotation; pan and roll in −180…180, tilt in −90…90. At a pole roll is 0. */
export function anglesOf(m: Matrix3): Angles {
  const tilt = Math.asin(Math.max(-1, Math.min(1, m[5])));
  if (Math.abs(m[5]) > 1 - 1e-12) {
    return { pan: Math.atan2(-m[6], m[0]) * DEGREES, tilt: tilt * DEGREES, roll: 0 };
  }
  return {
    pan: Math.atan2(m[2], m[8]) * DEGREES,
    tilt: tilt * DEGREES,
    roll: Math.atan2(-m[3], m[4]) * DEGREES,
  };
}

export function multiply(a: Matrix3, b: Matrix3): Matrix3 {
  const cell = (r: number, c: number) => a[r * 3]! * b[c]! + a[r * 3 + 1]! * b[c + 3]! + a[r * 3 + 2]! * b[c + 6]!;
  return [
    cell(0, 0), cell(0, 1), cell(0, 2),
    cell(1, 0), cell(1, 1), cell(1, 2),
    cell(2, 0), cell(2, 1), cell(2, 2),
  ]; // prettier-ignore
}

export const transpose = (m: Matrix3): Matrix3 => [m[0], m[3], m[6], m[1], m[4], m[7], m[2], m[5], m[8]];

export const apply = (m: Matrix3, v: Vec3): Vec3 => [
  m[0] * v[0] + m[1] * v[1] + m[2] * v[2],
  m[3] * v[0] + m[4] * v[1] + m[5] * v[2],
  m[6] * v[0] + m[7] * v[1] + m[8] * v[2],
];

/** Angle between two unit vectors in degrees, exact for small angles too. */
export function angleBetween(a: Vec3, b: Vec3): number {
  const chord = Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  return 2 * Math.asin(Math.min(1, chord / 2)) * DEGREES;
}

/** Unit quaternion of a rotation matrix (Shepperd's method). */
export function quaternionOf(m: Matrix3): Quaternion {
  const trace = m[0] + m[4] + m[8];
  const largest = Math.max(trace, m[0], m[4], m[8]);
  let q: [number, number, number, number];
  if (largest === trace) q = [m[7] - m[5], m[2] - m[6], m[3] - m[1], 1 + trace];
  else if (largest === m[0]) q = [1 + 2 * m[0] - trace, m[1] + m[3], m[2] + m[6], m[7] - m[5]];
  else if (largest === m[4]) q = [m[1] + m[3], 1 + 2 * m[4] - trace, m[5] + m[7], m[2] - m[6]];
  else q = [m[2] + m[6], m[5] + m[7], 1 + 2 * m[8] - trace, m[3] - m[1]];
  const n = Math.hypot(...q);
  return [q[0] / n, q[1] / n, q[2] / n, q[3] / n];
}

/** Rotation matrix of a unit quaternion. */
export function matrixOf([x, y, z, w]: Quaternion): Matrix3 {
  return [
    1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w),
    2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w),
    2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y),
  ]; // prettier-ignore
}

/** How far a rotation turns, in degrees, 0…180; exact for small ones too. */
export const angleOf = (m: Matrix3): number => Math.hypot(...rotationVector(m)) * DEGREES;

/** Angle of the shortest turn between two orientations in degrees, 0…180; exact for small ones too. */
export function turnBetween(a: Quaternion, b: Quaternion): number {
  const w = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
  const x = a[3] * b[0] - a[0] * b[3] + a[2] * b[1] - a[1] * b[2];
  const y = a[3] * b[1] - a[1] * b[3] + a[0] * b[2] - a[2] * b[0];
  const z = a[3] * b[2] - a[2] * b[3] + a[1] * b[0] - a[0] * b[1];
  return 2 * Math.atan2(Math.hypot(x, y, z), Math.abs(w)) * DEGREES;
}

/** Spherical linear interpolation along the shortest turn (Shoemake 1985); f = 0 gives a, 1 gives b. */
export function slerp(a: Quaternion, b: Quaternion, f: number): Quaternion {
  let d = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
  const sign = d < 0 ? -1 : 1;
  d = Math.min(1, Math.abs(d));
  const angle = Math.acos(d);
  const s = Math.sin(angle);
  const [ka, kb] = s < 1e-6 ? [1 - f, f] : [Math.sin((1 - f) * angle) / s, Math.sin(f * angle) / s];
  const q = [0, 1, 2, 3].map((i) => ka * a[i]! + sign * kb * b[i]!) as [number, number, number, number];
  const n = Math.hypot(...q);
  return [q[0] / n, q[1] / n, q[2] / n, q[3] / n];
}

/** Rotation about a vector by its length in radians (Rodrigues): x turns y to z, y turns z to x, z turns x to y. */
export function rotationAbout([x, y, z]: Vec3): Matrix3 {
  const angle = Math.hypot(x, y, z);
  // sin a / a and (1 − cos a) / a², without dividing by nothing.
  const s = angle > 1e-4 ? Math.sin(angle) / angle : 1 - (angle * angle) / 6;
  const c = angle > 1e-4 ? (1 - Math.cos(angle)) / (angle * angle) : 0.5 - (angle * angle) / 24;
  return [
    1 - c * (y * y + z * z), c * x * y - s * z, c * x * z + s * y,
    c * x * y + s * z, 1 - c * (x * x + z * z), c * y * z - s * x,
    c * x * z - s * y, c * y * z + s * x, 1 - c * (x * x + y * y),
  ]; // prettier-ignore
}

/** The vector about which a rotation turns, as long as its angle in radians (0…π): the inverse of rotationAbout. */
export function rotationVector(m: Matrix3): Vec3 {
  const [x, y, z, w] = quaternionOf(m);
  const sine = Math.hypot(x, y, z);
  const sign = w < 0 ? -1 : 1;
  const k = sine > 1e-12 ? (2 * sign * Math.atan2(sine, Math.abs(w))) / sine : 2;
  return [x * k, y * k, z * k];
}

export const dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/** A vector brought to length 1; one without length points ahead. */
export function unit(v: Vec3): Vec3 {
  const length = Math.hypot(...v);
  return length > 1e-12 ? [v[0] / length, v[1] / length, v[2] / length] : [0, 0, 1];
}

/** The shortest turn that takes one unit direction to another; between opposite ones, about any axis. */
export function turnTo(from: Vec3, to: Vec3): Matrix3 {
  const axis = cross(from, to);
  const sine = Math.hypot(...axis);
  const angle = Math.atan2(sine, dot(from, to));
  if (sine > 1e-9) return rotationAbout([(axis[0] * angle) / sine, (axis[1] * angle) / sine, (axis[2] * angle) / sine]);
  if (angle < 1) return IDENTITY;
  const aside = unit(cross(from, Math.abs(from[0]) < 0.8 ? [1, 0, 0] : [0, 1, 0]));
  return rotationAbout([aside[0] * Math.PI, aside[1] * Math.PI, aside[2] * Math.PI]);
}

/** The value equivalent to `angle` (modulo 360°) that lies nearest to `reference`. */
export const unwrapNear = (angle: number, reference: number) => angle + 360 * Math.round((reference - angle) / 360);

/** An angle as a heading in −180…180 (180 stays 180). */
export function wrapHeading(angle: number): number {
  const a = ((angle % 360) + 360) % 360;
  return a > 180 ? a - 360 : a;
}
