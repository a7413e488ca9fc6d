/** A decoded frame of the whole sphere laid flat, with the smaller sizes of it that a look from afar needs. */
import type { Matrix3 } from '../geometry/rotation.js';

/** One plane of luma and two of colour, of half its size; bytes. */
export interface Level {
  width: number;
  height: number;
  planes: readonly [Uint8Array, Uint8Array, Uint8Array];
}

/** How many sizes there are at most. */
const LEVELS = 4;
/** Rows that are halved at a time. */
const BAND = 16;

export class SphereFrame {
  private readonly levels: Level[];
  /** Which bands of the sizes after the first are made. */
  private readonly made: Uint8Array[] = [];

  /** `width` is twice `height`, both multiples of 16. */
  constructor(first: Level) {
    this.levels = [first];
  }

  /**
   * The size whose pixels are about as large as `radians`; what of it lies between two heights in shares of the picture (0 top, 1 bottom)
   * is made when it is asked for first.
   */
  levelFor(radians: number, from = 0, to = 1): Level {
    const [first] = this.levels as [Level];
    const wanted = Math.log2(Math.max(1, (radians * first.width) / (2 * Math.PI)));
    const n = Math.min(LEVELS - 1, Math.floor(wanted + 0.3));
    while (this.levels.length <= n) {
      const level = emptyHalf(this.levels.at(-1)!);
      this.levels.push(level);
      this.made.push(new Uint8Array(Math.ceil(level.height / BAND)));
    }
    const { height } = this.levels[n]!;
    this.make(n, Math.floor(from * height), Math.ceil(to * height));
    return this.levels[n]!;
  }

  /** Makes the bands of a size in which rows lie. */
  private make(n: number, from: number, to: number) {
    if (n === 0) return;
    const level = this.levels[n]!;
    const made = this.made[n - 1]!;
    const end = Math.min(made.length, Math.ceil(to / BAND));
    for (let band = Math.max(0, Math.floor(from / BAND)); band < end; band++) {
      if (made[band]) continue;
      made[band] = 1;
      const [top, bottom] = [band * BAND, Math.min(level.height, (band + 1) * BAND)];
      this.make(n - 1, 2 * top, 2 * bottom);
      halve(this.levels[n - 1]!, level, top, bottom);
    }
  }
}

function emptyHalf({ width, height }: Level): Level {
  const [w, h] = [width / 2, height / 2];
  const tint = () => new Uint8Array((w / 2) * (h / 2));
  return { width: w, height: h, planes: [new Uint8Array(w * h), tint(), tint()] };
}

/** Rows of a size from those of the larger one: means of four. */
function halve(from: Level, to: Level, top: number, bottom: number) {
  to.planes.forEach((out, p) => {
    const plane = from.planes[p]!;
    const scale = p === 0 ? 1 : 2;
    const [w, wide] = [to.width / scale, from.width / scale];
    for (let y = top / scale; y < bottom / scale; y++)
      for (let x = 0, above = 2 * y * wide, i = y * w; x < w; x++, above += 2, i++) {
        const below = above + wide;
        out[i] = (plane[above]! + plane[above + 1]! + plane[below]! + plane[below + 1]! + 2) >> 2;
      }
  });
}

/** A square look at a frame: luma and two colour differences, rows first, 0 to 255. */
export interface Glimpse {
  side: number;
  planes: readonly [Float32Array, Float32Array, Float32Array];
}

/** A look of `side` cells a side, to be filled. */
export const glimpseOf = (side: number): Glimpse => ({
  side,
  planes: [new Float32Array(side * side), new Float32Array(side * side), new Float32Array(side * side)],
});

/** How large a cell of a look is on its stereographic plane, r = 2 tan(θ/2): `across` radians from side to side. */
export const cellOf = (across: number, side: number) => (4 * Math.tan(Math.min(across, 5.8) / 4)) / side;

/**
 * Looks stereographically along the z axis of `toPicture`, `across` radians from side to side: small looks are like those of any
 * camera, and large ones hold together as far as the sphere goes. Rows run from up to down. `out` is filled.
 */
export function glimpse(frame: SphereFrame, toPicture: Matrix3, across: number, out: Glimpse): void {
  const { side } = out;
  // Up and down by half the diagonal, and a pixel of the smallest size.
  const middle = 0.5 - Math.asin(Math.max(-1, Math.min(1, toPicture[5]))) / Math.PI;
  const reach = (0.75 * across) / Math.PI + 0.02;
  const { width, height, planes } = frame.levelFor(across / side, middle - reach, middle + reach);
  const step = cellOf(across, side);
  const [cw, ch] = [width / 2, height / 2];
  const [luma, blue, red] = planes;
  const [oy, ou, ov] = out.planes;
  const m = toPicture;
  for (let j = 0, i = 0; j < side; j++) {
    const y = (side / 2 - j - 0.5) * step;
    for (let k = 0; k < side; k++, i++) {
      const x = (k + 0.5 - side / 2) * step;
      const q = (x * x + y * y) / 4;
      const f = 1 / (1 + q);
      const [dx, dy, dz] = [x * f, y * f, (1 - q) * f];
      const px = m[0] * dx + m[1] * dy + m[2] * dz;
      const py = m[3] * dx + m[4] * dy + m[5] * dz;
      const pz = m[6] * dx + m[7] * dy + m[8] * dz;
      const u = Math.atan2(px, pz) / (2 * Math.PI) + 0.5;
      const v = 0.5 - Math.asin(py > 1 ? 1 : py < -1 ? -1 : py) / Math.PI;
      oy[i] = bilinear(luma, width, height, u * width - 0.5, v * height - 0.5);
      const at = Math.min(ch - 1, (v * ch) | 0) * cw + Math.min(cw - 1, (u * cw) | 0);
      ou[i] = blue[at]!;
      ov[i] = red[at]!;
    }
  }
}

/** A sample of a plane at continuous pixels: bilinear; it wraps round and ends at the poles. */
export function bilinear(plane: Uint8Array, width: number, height: number, x: number, y: number): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - x0, y - y0];
  const left = x0 < 0 ? x0 + width : x0 >= width ? x0 - width : x0;
  const right = left + 1 === width ? 0 : left + 1;
  const top = (y0 < 0 ? 0 : y0) * width;
  const bottom = (y0 + 1 >= height ? height - 1 : y0 + 1) * width;
  const a = plane[top + left]! + (plane[top + right]! - plane[top + left]!) * fx;
  const b = plane[bottom + left]! + (plane[bottom + right]! - plane[bottom + left]!) * fx;
  return a + (b - a) * fy;
}
