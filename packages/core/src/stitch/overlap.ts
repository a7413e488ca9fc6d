/**
 * Where two lenses see the same: the band round the seam, unrolled. A place in it is an azimuth α about the rig's z
 * axis (from up over right) and an offset δ from the middle plane towards the second lens, both in degrees.
 */
import { apply, DEGREES, RADIANS, rotationOf, type Vec3 } from '../geometry/rotation.js';
import { focalOf, rigToLens, type Lens } from './lens.js';

// Looked up once: these run millions of times a picture.
const { acos, atan2, cos, floor, hypot, max, min, sin } = Math;

/** One decoded 4:2:0 picture: planes of bytes, BT.709 in video range; chroma is half as wide and high. */
export interface Picture {
  width: number;
  height: number;
  y: Uint8Array;
  u: Uint8Array;
  v: Uint8Array;
}

/** The planes of yuv420p bytes as ffmpeg writes them. */
export function pictureOf(bytes: Uint8Array, width: number, height: number): Picture {
  const luma = width * height;
  const chroma = (width >> 1) * (height >> 1);
  return {
    width,
    height,
    y: bytes.subarray(0, luma),
    u: bytes.subarray(luma, luma + chroma),
    v: bytes.subarray(luma + chroma, luma + 2 * chroma),
  };
}

/** Direction of the rig at an azimuth and an offset in degrees. */
export function bandDirection(azimuth: number, offset: number): Vec3 {
  const c = cos(offset * RADIANS);
  return [c * sin(azimuth * RADIANS), c * cos(azimuth * RADIANS), -sin(offset * RADIANS)];
}

/** Azimuth and offset in degrees of a direction of the rig. */
export const bandPlace = ([x, y, z]: Vec3) => ({
  azimuth: atan2(x, y) * DEGREES,
  offset: atan2(-z, hypot(x, y)) * DEGREES,
});

/** How far in degrees both lenses see past the middle plane, less `margin` for the soft border of their circles. */
export function overlapHalf(lenses: readonly [Lens, Lens], margin = 1.5): number {
  const axes = lenses.map((l) => apply(rotationOf(l), [0, 0, 1]));
  const apart =
    acos(max(-1, min(1, axes[0]![0] * axes[1]![0] + axes[0]![1] * axes[1]![1] + axes[0]![2] * axes[1]![2]))) * DEGREES;
  return max(0, (lenses[0].fov + lenses[1].fov) / 4 - 90 - (180 - apart) / 2 - margin);
}

/** A quick map from directions to a lens's pixels. */
export function lensMapper(lens: Lens) {
  const m = rigToLens(lens);
  const f = focalOf(lens);
  return ([dx, dy, dz]: Vec3): [number, number] => {
    const x = m[0] * dx + m[1] * dy + m[2] * dz;
    const y = m[3] * dx + m[4] * dy + m[5] * dz;
    const z = m[6] * dx + m[7] * dy + m[8] * dz;
    const across = hypot(x, y);
    const theta = atan2(across, z);
    const t2 = theta * theta;
    const k = across > 1e-12 ? (f * theta * (1 + t2 * (lens.k1 + t2 * lens.k2))) / across : 0;
    return [lens.centreX + x * k, lens.centreY - y * k];
  };
}

/** Bilinear sample of a plane at continuous coordinates; clamped at the borders. */
function samplePlane(plane: Uint8Array, width: number, height: number, x: number, y: number): number {
  const px = max(0, min(width - 1.001, x - 0.5));
  const py = max(0, min(height - 1.001, y - 0.5));
  const [i, j] = [floor(px), floor(py)];
  const [fx, fy] = [px - i, py - j];
  const at = j * width + i;
  const top = plane[at]! + (plane[at + 1]! - plane[at]!) * fx;
  const low = plane[at + width]! + (plane[at + width + 1]! - plane[at + width]!) * fx;
  return top + (low - top) * fy;
}

/** The band of one lens unrolled: `columns` azimuths (0° first) by `rows` offsets from −half to half, bytes of luma as floats. */
export function unrollLuma(picture: Picture, lens: Lens, columns: number, rows: number, half: number): Float32Array {
  const map = lensMapper(lens);
  const out = new Float32Array(columns * rows);
  for (let r = 0; r < rows; r++) {
    const offset = -half + (2 * half * r) / (rows - 1);
    for (let c = 0; c < columns; c++) {
      const [x, y] = map(bandDirection((360 * c) / columns, offset));
      out[r * columns + c] = samplePlane(picture.y, picture.width, picture.height, x, y);
    }
  }
  return out;
}

/**
 * Pixels of a lens for the places of an unrolled band: x and y for each of `taps` × `taps` points in each place, so that
 * many pictures can be unrolled without mapping again.
 */
export function bandTable(lens: Lens, columns: number, rows: number, half: number, taps: number): Float32Array {
  const map = lensMapper(lens);
  const table = new Float32Array(columns * rows * taps * taps * 2);
  let at = 0;
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++)
      for (let j = 0; j < taps; j++)
        for (let i = 0; i < taps; i++) {
          const azimuth = ((c + (i + 0.5) / taps - 0.5) * 360) / columns;
          const offset = -half + (2 * half * (r + (j + 0.5) / taps)) / rows;
          [table[at], table[at + 1]] = map(bandDirection(azimuth, offset));
          at += 2;
        }
  return table;
}

/** A band in colour from its table: R′, G′, B′ from 0 to 255 (not clamped), three floats a place, the mean of its points. */
export function unrollColour(picture: Picture, table: Float32Array, taps: number): Float32Array {
  const n = taps * taps;
  const out = new Float32Array((table.length / 2 / n) * 3);
  const { width, height, y, u, v } = picture;
  const [cw, ch] = [width >> 1, height >> 1];
  for (let place = 0, at = 0; place < out.length; place += 3) {
    let [sy, su, sv] = [0, 0, 0];
    for (let k = 0; k < n; k++, at += 2) {
      const [px, py] = [table[at]!, table[at + 1]!];
      sy += samplePlane(y, width, height, px, py);
      su += samplePlane(u, cw, ch, px / 2, py / 2);
      sv += samplePlane(v, cw, ch, px / 2, py / 2);
    }
    const luma = 1.16438 * (sy / n - 16);
    const [cu, cv] = [su / n - 128, sv / n - 128];
    out[place] = luma + 1.79274 * cv;
    out[place + 1] = luma - 0.21325 * cu - 0.53291 * cv;
    out[place + 2] = luma + 2.1124 * cu;
  }
  return out;
}
