/** White balance: the light that is taken for white, moved along the daylight locus and across it. */
import { multiply, type Matrix3, type Vec3, apply } from '../geometry/rotation.js';

/** The primaries of BT.709 with D65 to CIE XYZ, and back (ITU-R BT.709-6, computed from their chromaticities). */
const TO_XYZ: Matrix3 = [
  0.4123907992659595, 0.357584339383878, 0.1804807884018343, 0.21263900587151036, 0.715168678767756,
  0.07219231536073371, 0.01933081871559185, 0.11919477979462599, 0.9505321522496607,
];
const FROM_XYZ: Matrix3 = [
  3.2409699419045213, -1.5373831775700935, -0.4986107602930033, -0.9692436362808798, 1.8759675015077206,
  0.04155505740717561, 0.05563007969699361, -0.20397695888897657, 1.0569715142428786,
];
/** XYZ to the responses in which Bradford's adaptation scales, and back (Lam 1985). */
const BRADFORD: Matrix3 = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];
const FROM_BRADFORD: Matrix3 = [
  0.9869929054667123, -0.14705425642099013, 0.15996265166373122, 0.4323052697233945, 0.5183602715367776,
  0.049291228212855594, -0.008528664575177328, 0.04004282165408487, 0.9684866957875502,
];

/** Mired of D65. */
const D65 = 1e6 / 6504;
/** Distance in u, v (CIE 1960) at the far end of tint. */
const ACROSS = 0.02;

/** Chromaticity of daylight of a temperature in mired (CIE 15:2004, 3.1; meant for 4000 to 25000 K). */
export function daylight(mired: number): [x: number, y: number] {
  const t = mired / 1000;
  const x =
    mired > 1e6 / 7000
      ? 0.244063 + 0.09911 * t + 2.9678 * t ** 2 - 4.607 * t ** 3
      : 0.23704 + 0.24748 * t + 1.9018 * t ** 2 - 2.0064 * t ** 3;
  return [x, -3 * x * x + 2.87 * x - 0.275];
}

const toUv = ([x, y]: readonly [number, number]) => {
  const n = -2 * x + 12 * y + 3;
  return [(4 * x) / n, (6 * y) / n] as const;
};
const fromUv = ([u, v]: readonly [number, number]): [number, number] => {
  const n = 2 * u - 8 * v + 4;
  return [(3 * u) / n, (2 * v) / n];
};

/** XYZ of a white, Y being 1. `temperature` and `tint` as in a grade, from D65 on. */
function whiteOf(temperature: number, tint: number): Vec3 {
  const mired = D65 + temperature;
  const [u, v] = toUv(daylight(mired));
  const [u1, v1] = toUv(daylight(mired + 1));
  const length = Math.hypot(u1 - u, v1 - v);
  // Across the locus, away from green.
  const away = (ACROSS * tint) / 100 / length;
  const [x, y] = fromUv([u + away * (v1 - v), v - away * (u1 - u)]);
  return [x / y, 1, (1 - x - y) / y];
}

/** What linear R, G and B are multiplied by so that what is grey looks as under warmer, cooler, greener or more magenta light. */
export function whiteBalance(temperature: number, tint: number): Matrix3 {
  const from = apply(BRADFORD, whiteOf(0, 0));
  const to = apply(BRADFORD, whiteOf(temperature, tint));
  const scale: Matrix3 = [to[0] / from[0], 0, 0, 0, to[1] / from[1], 0, 0, 0, to[2] / from[2]];
  return multiply(FROM_XYZ, multiply(FROM_BRADFORD, multiply(scale, multiply(BRADFORD, TO_XYZ))));
}
