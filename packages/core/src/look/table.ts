/** A colour map baked into a table from Y'CbCr to Y'CbCr (BT.709, video range), which kernel and shader only look up. */
import { CHROMA_SPAN, CHROMA_ZERO, KB, KG, KR, LUMA_BLACK, LUMA_SPAN } from '../colour/bt709.js';
import { TO_RGB } from '../colour/convert.js';
import { vec3, type Vec3 } from '../geometry/rotation.js';
import type { ColourMap } from './grade.js';
import { tetrahedral, type Lattice } from './tetrahedral.js';

/** Points a side: 65, at every fourth code, or 33 where a table is needed at once. */
export type Steps = 33 | 65;
/** The code at the far side of a table: the points between lie at whole codes. */
export const FAR = 256;

/** What a code is in a table of whole numbers, as kernel and shader read it. */
export const UNIT = 64;

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
  (codes: Vec3): Vec3 => {
    const [y, cb, cr] = codesOfRgb(map(rgbOfCodes(codes)));
    return [coded(y), coded(cb), coded(cr)];
  };

/** How far beyond R'G'B' of 0…1 colours still occur: codes below black and over white, and what compression makes of edges. */
const BEYOND = 0.1;

/**
 * Bakes a map. Points lie at codes from 0 to FAR, Y' running fastest. Most of them stand for no colour at all: where none of a
 * point's neighbours does, it is what the next point towards grey is.
 */
export function bake(map: ColourMap, steps: Steps): Lattice {
  const { places, inner, colours } = pointsOf(steps);
  const values = new Float32Array(3 * steps ** 3);
  for (let i = 0; i < places.length; i++) {
    const at = places[i]!;
    if (inner[i]! >= 0) {
      values.copyWithin(at, inner[i]!, inner[i]! + 3);
      continue;
    }
    const [y, cb, cr] = codesOfRgb(map([colours[3 * i]!, colours[3 * i + 1]!, colours[3 * i + 2]!]));
    values[at] = coded(y);
    values[at + 1] = coded(cb);
    values[at + 2] = coded(cr);
  }
  return { steps, values };
}

/** The points of a table from grey outwards. */
interface Points {
  /** Where each lies among the values. */
  places: Uint32Array;
  /** Where that one lies whose value it has; -1 where it has its own. */
  inner: Int32Array;
  /** R'G'B' of each. */
  colours: Float64Array;
}

/** They are the same for every table, and a look that changes needs one each frame. */
const known = new Map<Steps, Points>();

function pointsOf(steps: Steps): Points {
  const before = known.get(steps);
  if (before) return before;
  const count = steps ** 3;
  const points = {
    places: new Uint32Array(count),
    inner: new Int32Array(count),
    colours: new Float64Array(3 * count),
  };
  const unit = FAR / (steps - 1);
  const margin = BEYOND + (4 * unit) / 255;
  let i = 0;
  for (const { cb, cr, inner } of outwards(steps))
    for (let y = 0; y < steps; y++, i++) {
      const [r, g, b] = rgbOfCodes([y * unit, cb * unit, cr * unit]);
      const own = inner === null || (Math.min(r, g, b) > -margin && Math.max(r, g, b) < 1 + margin);
      points.places[i] = 3 * (y + steps * (cb + steps * cr));
      points.inner[i] = own ? -1 : 3 * (y + steps * inner);
      points.colours.set([r, g, b], 3 * i);
    }
  known.set(steps, points);
  return points;
}

/** Columns of a table in rings about grey, each with the place of the one before it on the way from there. */
function outwards(steps: number): { cb: number; cr: number; inner: number | null }[] {
  const middle = (steps - 1) / 2;
  const columns = Array.from({ length: steps ** 2 }, (_, i) => {
    const [cb, cr] = [i % steps, Math.floor(i / steps)];
    const ring = Math.max(Math.abs(cb - middle), Math.abs(cr - middle));
    const inwards = (v: number) => Math.round(middle + ((v - middle) * (ring - 1)) / ring);
    return { cb, cr, ring, inner: ring === 0 ? null : inwards(cb) + steps * inwards(cr) };
  });
  return columns.sort((a, b) => a.ring - b.ring);
}

/** What a baked table makes of codes, 0 to 255. */
export const lookUp = (table: Lattice, codes: Vec3): Vec3 => tetrahedral(table, vec3(codes.map((v) => v / FAR)));

/**
 * How far inputs have to be spread, in codes from 0 to 1, so that a look shows no steps: not at all while neighbouring codes stay
 * next to each other, by a whole code where they come out two or more apart.
 */
export function spreadFor({ steps, values }: Lattice): number {
  const unit = FAR / (steps - 1);
  const grey = (steps * (steps - 1)) / 2 + (steps * steps * (steps - 1)) / 2;
  let steepest = 0;
  for (let y = 1; y < steps; y++)
    steepest = Math.max(steepest, (values[3 * (grey + y)]! - values[3 * (grey + y - 1)]!) / unit);
  return Math.max(0, Math.min(1, steepest - 1));
}
