/** The discrete Fourier transform of a square of complex numbers whose side is a power of two. */

export interface Complex {
  re: Float64Array;
  im: Float64Array;
}

export const complexOf = (length: number): Complex => ({ re: new Float64Array(length), im: new Float64Array(length) });

/** Transforms columns and then rows in place (Cooley and Tukey 1965, radix 2). Throws RangeError for a side that is no power of two. */
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

  /** All columns at once, then what were rows as columns. */
  private square(data: Complex, direction: 1 | -1) {
    for (let pass = 0; pass < 2; pass++) {
      this.columns(data.re, data.im, direction);
      this.transpose(data.re);
      this.transpose(data.im);
    }
  }

  /** Every column, a row of them at a time, so that what lies side by side is read side by side. */
  private columns(re: Float64Array, im: Float64Array, direction: 1 | -1) {
    const { side, cos, sin, reversed } = this;
    for (let i = 0; i < side; i++) {
      const j = reversed[i]!;
      if (j <= i) continue;
      for (let a = i * side, b = j * side, end = a + side; a < end; a++, b++) {
        const r = re[a]!;
        const m = im[a]!;
        re[a] = re[b]!;
        im[a] = im[b]!;
        re[b] = r;
        im[b] = m;
      }
    }
    for (let half = 1; half < side; half *= 2) {
      const step = side / (2 * half);
      const apart = half * side;
      for (let row = 0; row < side; row++) {
        if ((row & half) !== 0) continue;
        const k = (row & (half - 1)) * step;
        const c = cos[k]!;
        const s = -direction * sin[k]!;
        for (let a = row * side, end = a + side; a < end; a++) {
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

  private transpose(plane: Float64Array) {
    const { side } = this;
    for (let y = 0; y < side; y++)
      for (let x = y + 1; x < side; x++) {
        const [a, b] = [y * side + x, x * side + y];
        const v = plane[a]!;
        plane[a] = plane[b]!;
        plane[b] = v;
      }
  }
}
