/** Writing the kernel's camera records: what is drawn, and the source it is drawn from. */
import { limbRadius } from '@glimbo/core/lens/projection';
import { IDENTITY, RADIANS, rotationOf, transpose, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { reachOf, type Patch } from '@glimbo/core/look/patch';
import { edgesOf, type Sector } from '@glimbo/core/look/sector';
import type { FlatPicture, Picture, PlanSource, Shot, ShotPatch } from '@glimbo/core/plan/shot';
import { focalOf, type Lens } from '@glimbo/core/stitch/lens';
import { housed, SECTORS, SEAM_POINTS } from '@glimbo/core/stitch/source';
import {
  BEND,
  BLOCK,
  BOTTOM,
  CAP,
  CAP_FEATHER,
  CAMERA_FIELDS,
  CENTRE_X,
  CENTRE_Y,
  EDGE,
  FEATHER,
  FLAT,
  FOCAL,
  FROM,
  HEIGHT,
  K1,
  K2,
  LENS_X,
  LENS_Y,
  LIMB,
  MEET,
  MEET_BOTH,
  MEET_EITHER,
  MEET_NONE,
  OTHER_AXIS,
  OUT_HEIGHT,
  OUT_WIDTH,
  OVER,
  PART,
  ROTATION,
  SCALE,
  SEAM,
  SEAM_COUNT,
  SOFT,
  SOURCE,
  SOURCE_FLAT,
  SOURCE_LENS,
  SOURCE_PART,
  SOURCE_SECTOR,
  TO,
  TO_LENS,
  TOP,
  WIDTH,
} from '../assembly/record.js';

/** The record of what is drawn, for a plane whose pixels are `part` pixels of the frame wide. */
function writePicture(record: Float64Array, picture: Picture, toSource: Matrix3, part: number) {
  record.set(toSource, ROTATION);
  if ('flat' in picture) return;
  if ('sphere' in picture) {
    record[OUT_WIDTH] = Math.ceil(picture.width / part);
    record[OUT_HEIGHT] = Math.ceil(picture.height / part);
    return;
  }
  const limb = limbRadius(picture.bend);
  record[BEND] = picture.bend;
  record[SCALE] = picture.scale * part;
  record[CENTRE_X] = picture.centreX / part;
  record[CENTRE_Y] = picture.centreY / part;
  record[LIMB] = Number.isFinite(limb) ? limb : 0;
}

/** The lenses of a source, as they draw behind their housing. */
function lensesOf(source: PlanSource): Lens[] {
  if (source.kind === 'one-lens') return [housed(source.lens, source.housing)];
  return source.kind === 'two-lenses' ? source.lenses.map((l) => housed(l, source.housing)) : [];
}

/** How many layers a source is drawn in. */
export const layersOf = (source: PlanSource) => (source.kind === 'two-lenses' ? 2 : 1);

/**
 * One layer's record. `plane` is the size of the source's plane, `shrink` its pixels' width in pixels of the source's luma,
 * `seam` the pointer of the seam's table.
 */
export function cameraRecord(
  { picture, toSource, source }: Shot,
  layer: number,
  plane: { width: number; height: number },
  shrink: number,
  part: number,
  seam: number,
): Float64Array {
  const record = new Float64Array(CAMERA_FIELDS);
  writePicture(record, picture, toSource, part);
  if ('flat' in picture) writeFlat(record, picture, plane, part);
  else if (source.kind === 'sphere') {
    record[WIDTH] = plane.width;
    record[HEIGHT] = plane.height;
  } else if (source.kind === 'part') {
    const width = (plane.width * 360) / (source.right - source.left);
    const height = (plane.height * 180) / (source.top - source.bottom);
    record[WIDTH] = width;
    record[HEIGHT] = height;
    record[SOURCE] = SOURCE_PART;
    const corner = [(source.left / 360 + 0.5) * width, (0.5 - source.top / 180) * height];
    record.set([...corner, plane.width, plane.height], PART);
  } else if (source.kind !== 'flat') {
    const lenses = lensesOf(source);
    writeLens(record, lenses[layer]!, shrink);
    record[OVER] = layer;
    const other = lenses[1 - layer];
    if (source.kind === 'two-lenses' && other) {
      const axis = rotationOf(other);
      // Half a pixel's ramp at least, so that a hard seam is not stepped.
      record[FEATHER] = Math.max(source.feather * RADIANS, 2 / focalOf(lenses[layer]!));
      record[SEAM] = seam;
      record[SEAM_COUNT] = SEAM_POINTS;
      record.set([axis[2], axis[5], axis[8]], OTHER_AXIS);
    }
  }
  return record;
}

/** A part of a flat picture, whose plane has this size, over all of the frame. */
function writeFlat(
  record: Float64Array,
  { width, height, left, top, right, bottom }: FlatPicture,
  plane: { width: number; height: number },
  part: number,
) {
  record[SOURCE] = SOURCE_FLAT;
  record[WIDTH] = plane.width;
  record[HEIGHT] = plane.height;
  const across = [left * plane.width, ((right - left) * plane.width * part) / width];
  const down = [top * plane.height, ((bottom - top) * plane.height * part) / height];
  record.set([...across, ...down], FLAT);
}

/** The record of a patch's picture, `side` pixels a side in this plane, over what a shot draws. */
export function patchRecord(
  shot: Shot,
  patch: ShotPatch,
  { size, feather }: Pick<Patch, 'size' | 'feather'>,
  side: number,
  part: number,
) {
  const record = new Float64Array(CAMERA_FIELDS);
  writePicture(record, shot.picture, patch.fromDrawn, part);
  record[SOURCE] = SOURCE_LENS;
  record.set(IDENTITY, TO_LENS);
  record[LENS_X] = side / 2;
  record[LENS_Y] = side / 2;
  record[EDGE] = reachOf({ size, feather }) * RADIANS;
  record[FOCAL] = side / 2 / record[EDGE]!;
  record[OVER] = 1;
  record[CAP] = size * RADIANS;
  // Half a degree at least, so that a hard rim is not stepped.
  record[CAP_FEATHER] = Math.max(feather, 0.5) * RADIANS;
  return record;
}

const MEETS = { none: MEET_NONE, both: MEET_BOTH, either: MEET_EITHER } as const;

/** The record of a sector over what a shot draws. */
export function sectorRecord({ picture }: Shot, toWorld: Matrix3, sector: Sector, part: number): Float64Array {
  const record = new Float64Array(CAMERA_FIELDS);
  writePicture(record, picture, toWorld, part);
  const { from, to, meet, bottom, top, feather } = edgesOf(sector);
  record[SOURCE] = SOURCE_SECTOR;
  record.set(from, FROM);
  record.set(to, TO);
  record[MEET] = MEETS[meet];
  record[BOTTOM] = bottom;
  record[TOP] = top;
  record[SOFT] = feather;
  return record;
}

function writeLens(record: Float64Array, lens: Lens, shrink: number) {
  record[SOURCE] = SOURCE_LENS;
  record.set(transpose(rotationOf(lens)), TO_LENS);
  record[LENS_X] = lens.centreX / shrink;
  record[LENS_Y] = lens.centreY / shrink;
  record[FOCAL] = focalOf(lens) / shrink;
  record[K1] = lens.k1;
  record[K2] = lens.k2;
  record[EDGE] = (lens.fov / 2) * RADIANS;
}

/**
 * For each block of a joined two-lens picture, where it lies round the seam and how much of a correction it gets:
 * four 16-bit numbers a block, as assembly/match.ts reads them.
 */
export function matchBlocks(source: PlanSource, width: number, height: number): Uint16Array | null {
  if (source.kind !== 'two-lenses' || source.match === 'off') return null;
  const [across, down] = [Math.floor(width / BLOCK), Math.floor(height / BLOCK)];
  const blocks = new Uint16Array(across * down * 4);
  const lenses = lensesOf(source);
  const turns = lenses.map((l) => rotationOf(l));
  for (let row = 0; row < down; row++)
    for (let column = 0; column < across; column++) {
      const [x, y] = [(column + 0.5) * BLOCK, (row + 0.5) * BLOCK];
      const n = x < width / 2 ? 0 : 1;
      const lens = lenses[n]!;
      const [dx, dy] = [x - lens.centreX, lens.centreY - y];
      const r = Math.hypot(dx, dy);
      const at = (row * across + column) * 4;
      if (r > lens.radius + BLOCK) {
        blocks[at + 3] = 2;
        continue;
      }
      // The equidistant angle is near enough to say how far a block is from the seam.
      const theta = r / focalOf(lens);
      const [sin, m] = [Math.sin(theta) / Math.max(r, 1e-9), turns[n]!];
      const [lx, ly, lz] = [dx * sin, dy * sin, Math.cos(theta)];
      const azimuth = Math.atan2(m[0] * lx + m[1] * ly + m[2] * lz, m[3] * lx + m[4] * ly + m[5] * lz);
      const near = Math.min(1, Math.max(0, (theta / RADIANS - 30) / 45));
      const local = near * near * (3 - 2 * near);
      blocks[at] = Math.round((azimuth / (2 * Math.PI) + 1) * SECTORS * 256) % (SECTORS * 256);
      blocks[at + 1] = Math.round(local * 65535);
      blocks[at + 2] = source.match === 'full' ? 65535 : blocks[at + 1]!;
      blocks[at + 3] = n;
    }
  return blocks;
}

/** Floats of the gains' table: for each lens the mean's three logarithms, then three a sector. */
export const GAIN_FLOATS = 2 * (SECTORS + 1) * 3;

/** The gains' table for logarithmic ratios of lens 1 over lens 2: each lens goes half the way. */
export function matchGains(ratios: number[]): Float32Array {
  const table = new Float32Array(GAIN_FLOATS);
  const mean = [0, 1, 2].map((c) => {
    let sum = 0;
    for (let i = 0; i < SECTORS; i++) sum += ratios[i * 3 + c]! / SECTORS;
    return sum;
  });
  for (let lens = 0; lens < 2; lens++) {
    const share = lens === 0 ? -0.5 : 0.5;
    const base = lens * (SECTORS + 1) * 3;
    for (let c = 0; c < 3; c++) {
      table[base + c] = share * mean[c]!;
      for (let i = 0; i < SECTORS; i++) table[base + 3 + i * 3 + c] = share * (ratios[i * 3 + c]! - mean[c]!);
    }
  }
  return table;
}
