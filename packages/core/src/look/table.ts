/** A colour map baked into a table from Y'CbCr to Y'CbCr (BT.709, video range), which kernel and shader only look up. */
import { CHROMA_SPAN, CHROMA_ZERO, KB, KG, KR, LUMA_BLACK, LUMA_SPAN } from '../colour/bt709.js';
import { TO_RGB } from '../colour/convert.js';
import { vec3, type Vec3 } from '../geometry/rotation.js';
import type { ColourMap } from './grade.js';
import { tetrahedral, type Lattice } from './tetrahedral.js';

/** Steps a side: 33 for most looks; steep ones take 65. */
export type Steps = 33 | 65;

/** Codes of 8 bits, as fractions of one, to R'G'B' in 0…1 and back. */
export function rgbOfCodes([y, cb, cr]: Vec3): Vec3 {
  const luma = TO_RGB.luma * (y - LUMA_BLACK);
  const [u, v] = [cb - CHROMA_ZERO, cr - CHROMA_ZERO];
  const { red, green, blue } = TO_RGB;
  return [(luma + red.cr * v) / 255, (luma + green.cb * u + green.cr * v) / 255, (luma + blue.cb * u) / 255];
}
export function codesOfRgb([r, g, b]: Vec3): Vec3 {
  const luma = KR * r + KG * g + KB * b;
  return [
    LUMA_BLACK + LUMA_SPAN * luma,
    CHROMA_ZERO + (CHROMA_SPAN * (b - luma)) / (2 * (1 - KB)),
    CHROMA_ZERO + (CHROMA_SPAN * (r - luma)) / (2 * (1 - KR)),
  ];
}

/** Codes that stand for a picture: 0 and 255 are kept for synchronization. */
const LEAST = 1;
const MOST = 254;
const coded = (v: number) => Math.max(LEAST, Math.min(MOST, v));

/** What a map makes of codes, computed directly: what a table is measured against. */
export const directly =
  (map: ColourMap) =>
  (codes: Vec3): Vec3 =>
    vec3(codesOfRgb(map(rgbOfCodes(codes))).map(coded));

/** Bakes a map. Lattice points lie at codes from 0 to 255, Y' running fastest. */
export function bake(map: ColourMap, steps: Steps): Lattice {
  const values = new Float32Array(3 * steps ** 3);
  const code = (i: number) => (255 * i) / (steps - 1);
  const look = directly(map);
  let at = 0;
  for (let cr = 0; cr < steps; cr++)
    for (let cb = 0; cb < steps; cb++)
      for (let y = 0; y < steps; y++, at += 3) values.set(look([code(y), code(cb), code(cr)]), at);
  return { steps, values };
}

/** What a baked table makes of codes, 0 to 255. */
export const lookUp = (table: Lattice, codes: Vec3): Vec3 => tetrahedral(table, vec3(codes.map((v) => v / 255)));
