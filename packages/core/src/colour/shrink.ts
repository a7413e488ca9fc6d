/** Small pictures out of decoded planes. */
import { CHROMA_ZERO, LUMA_BLACK } from './bt709.js';
import { TO_RGB } from './convert.js';

/** A picture in Y'CbCr (BT.709, video range, 8 bits) whose chroma has half its width and height; rows follow each other. */
export interface Planes {
  width: number;
  height: number;
  y: Uint8Array;
  u: Uint8Array;
  v: Uint8Array;
}

/** Where the two samples of each of so many parts of a length lie: at its quarters. */
function samplesOf(length: number, parts: number): Int32Array {
  const places = new Int32Array(2 * parts);
  for (let i = 0; i < places.length; i++) places[i] = ((i + 0.5) * length) / (2 * parts);
  return places;
}

/** Each pixel the mean of two by two samples of what lies under it: a mean of all would take ten times as long. */
function shrinkPlane(from: Uint8Array, fromWidth: number, fromHeight: number, width: number, height: number) {
  const to = new Uint8Array(width * height);
  const across = samplesOf(fromWidth, width);
  const down = samplesOf(fromHeight, height);
  for (let y = 0; y < height; y++) {
    const [upper, lower] = [down[2 * y]! * fromWidth, down[2 * y + 1]! * fromWidth];
    for (let x = 0; x < width; x++) {
      const [left, right] = [across[2 * x]!, across[2 * x + 1]!];
      to[y * width + x] =
        (from[upper + left]! + from[upper + right]! + from[lower + left]! + from[lower + right]! + 2) >> 2;
    }
  }
  return to;
}

/** The picture at another size as pixels of 32 bits, red in the lowest byte and opaque, rows first. */
export function shrinkToRgba(planes: Planes, width: number, height: number): Uint32Array<ArrayBuffer> {
  const [half, quarter] = [planes.width / 2, planes.height / 2];
  const y = shrinkPlane(planes.y, planes.width, planes.height, width, height);
  const u = shrinkPlane(planes.u, half, quarter, width, height);
  const v = shrinkPlane(planes.v, half, quarter, width, height);
  const bytes = new Uint8ClampedArray(width * height * 4);
  const { luma, red, green, blue } = TO_RGB;
  for (let i = 0; i < width * height; i++) {
    const [light, cb, cr] = [luma * (y[i]! - LUMA_BLACK), u[i]! - CHROMA_ZERO, v[i]! - CHROMA_ZERO];
    bytes[i * 4] = light + red.cr * cr;
    bytes[i * 4 + 1] = light + green.cb * cb + green.cr * cr;
    bytes[i * 4 + 2] = light + blue.cb * cb;
    bytes[i * 4 + 3] = 255;
  }
  return new Uint32Array(bytes.buffer);
}
