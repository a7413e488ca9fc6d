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

export class SphereFrame {
  private readonly levels: Level[];

  /** `width` is twice `height`, both multiples of 16. */
  constructor(first: Level) {
    this.levels = [first];
  }

  /** The size whose pixels are about as large as `radians`, made when it is asked for first. */
  levelFor(radians: number): Level {
    const [first] = this.levels as [Level];
    const wanted = Math.log2(Math.max(1, (radians * first.width) / (2 * Math.PI)));
    const n = Math.min(LEVELS - 1, Math.floor(wanted + 0.3));
    while (this.levels.length <= n) this.levels.push(halved(this.levels.at(-1)!));
    return this.levels[n]!;
  }
}

function halved({ width, height, planes }: Level): Level {
  const half = (plane: Uint8Array, w: number, h: number) => {
    const out = new Uint8Array((w / 2) * (h / 2));
    for (let y = 0, to = 0; y < h; y += 2)
      for (let x = 0, at = y * w; x < w; x += 2, at += 2, to++)
        out[to] = (plane[at]! + plane[at + 1]! + plane[at + w]! + plane[at + w + 1]! + 2) >> 2;
    return out;
  };
  const [y, u, v] = planes;
  return {
    width: width / 2,
    height: height / 2,
    planes: [half(y, width, height), half(u, width / 2, height / 2), half(v, width / 2, height / 2)],
  };
}

/** A square look at a frame: luma and two colour differences, rows first, 0 to 255. */
export interface Glimpse {
  side: number;
  planes: readonly [Float32Array, Float32Array, Float32Array];
}

/** How large a cell of a look is on its stereographic plane, r = 2 tan(θ/2): `across` radians from side to side. */
export const cellOf = (across: number, side: number) => (4 * Math.tan(Math.min(across, 5.8) / 4)) / side;

/**
 * Looks stereographically along the z axis of `toPicture`, `across` radians from side to side: small looks are like those of any
 * camera, and large ones hold together as far as the sphere goes. Rows run from up to down. `out` is filled.
 */
export function glimpse(frame: SphereFrame, toPicture: Matrix3, across: number, out: Glimpse): void {
  const { side } = out;
  const { width, height, planes } = frame.levelFor(across / side);
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
      oy[i] = between(luma, width, height, u * width - 0.5, v * height - 0.5);
      const at = Math.min(ch - 1, (v * ch) | 0) * cw + Math.min(cw - 1, (u * cw) | 0);
      ou[i] = blue[at]!;
      ov[i] = red[at]!;
    }
  }
}

/** Bilinear; it wraps round and ends at the poles. */
function between(plane: Uint8Array, width: number, height: number, x: number, y: number): number {
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
