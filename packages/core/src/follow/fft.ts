/** The discrete Fourier transform of a square of complex numbers whose side is a power of two. */

export interface Complex {
  re: Float64Array;
  im: Float64Array;
}

export const complexOf = (length: number): Complex => ({ re: new Float64Array(length), im: new Float64Array(length) });

/** Transforms rows and then columns in place (Cooley and Tukey 1965, radix 2). Throws RangeError for a side that is no power of two. */
export class Fourier {
  private readonly cos: Float64Array;
  private readonly sin: Float64Array;
  private readonly reversed: Uint16Array;

  constructor(readonly side: number) {
    const bits = Math.log2(side);
    if (!Number.isInteger(bits) || bits < 1) throw new RangeError('The side of a transform is a power of two.');
    this.cos = Float64Array.from({ length: side / 2 }, (_, i) => Math.cos((2 * Math.PI * i) / side));
    this.sin = Float64Array.from({ length: side / 2 }, (_, i) => Math.sin((2 * Math.PI * i) / side));
    this.reversed = Uint16Array.from({ length: side }, (_, i) => {
      let out = 0;
      for (let b = 0; b < bits; b++) out |= ((i >> b) & 1) << (bits - 1 - b);
      return out;
    });
  }

  forward(data: Complex) {
    this.square(data, 1);
  }

  /** The inverse, with its factor. */
  inverse(data: Complex) {
    this.square(data, -1);
    const { re, im } = data;
    const scale = 1 / (this.side * this.side);
    for (let i = 0; i < re.length; i++) {
      re[i]! *= scale;
      im[i]! *= scale;
    }
  }

  private square({ re, im }: Complex, direction: 1 | -1) {
    const { side } = this;
    for (let k = 0; k < side; k++) this.line(re, im, k * side, 1, direction);
    for (let k = 0; k < side; k++) this.line(re, im, k, side, direction);
  }

  /** One line of `side` numbers, from `at` on, every `stride`th. */
  private line(re: Float64Array, im: Float64Array, at: number, stride: number, direction: 1 | -1) {
    const { side, cos, sin, reversed } = this;
    for (let i = 0; i < side; i++) {
      const j = reversed[i]!;
      if (j <= i) continue;
      const a = at + i * stride;
      const b = at + j * stride;
      const r = re[a]!;
      const m = im[a]!;
      re[a] = re[b]!;
      im[a] = im[b]!;
      re[b] = r;
      im[b] = m;
    }
    const end = at + side * stride;
    for (let half = 1; half < side; half *= 2) {
      const step = side / (2 * half);
      const apart = half * stride;
      for (let k = 0; k < half; k++) {
        const c = cos[k * step]!;
        const s = -direction * sin[k * step]!;
        for (let a = at + k * stride; a < end; a += 2 * apart) {
          const b = a + apart;
          const r = re[b]! * c - im[b]! * s;
          const m = re[b]! * s + im[b]! * c;
          re[b] = re[a]! - r;
          im[b] = im[a]! - m;
          re[a] = re[a]! + r;
          im[a] = im[a]! + m;
        }
      }
    }
  }
}
