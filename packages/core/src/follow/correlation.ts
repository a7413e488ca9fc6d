/**
 * A correlation filter over several channels: trained to answer a bump where the subject is (MOSSE, Bolme et al. 2010; several
 * channels as in DSST, Danelljan et al. 2014). All in the frequencies of a square of cells.
 */
import { complexOf, Fourier, type Complex } from './fft.js';

/** Keeps the filter from what is hardly there. */
const RIDGE = 0.05;
/** Width of the bump, in shares of the subject's size. */
const BUMP = 0.1;
/** Cells about the peak that do not count as its surroundings. */
const PEAK = 5;

export interface Answer {
  /** Where the subject is, in cells from the middle, right and down. */
  x: number;
  y: number;
  /** Height of the peak, and how far it stands out of its surroundings in their standard deviations. */
  peak: number;
  ratio: number;
}

/** Turns features of a look into the frequencies that filters work on; one for all filters of a size. */
export class Spectrum {
  readonly fourier: Fourier;
  private readonly pairs: Complex[];
  readonly seen: Complex[];

  /** `side` cells, `channels` planes of features. */
  constructor(
    readonly side: number,
    channels: number,
  ) {
    this.fourier = new Fourier(side);
    this.pairs = Array.from({ length: Math.ceil(channels / 2) }, () => complexOf(side * side));
    this.seen = Array.from({ length: channels }, () => complexOf(side * side));
  }

  /** Transforms features under a window; two channels go in one transform, one as its real and one as its imaginary part. */
  of(features: readonly Float32Array[], window: Float32Array): readonly Complex[] {
    const { side } = this;
    for (const [k, pair] of this.pairs.entries()) {
      const first = features[2 * k]!;
      const second = features[2 * k + 1];
      for (let i = 0; i < window.length; i++) {
        pair.re[i] = first[i]! * window[i]!;
        pair.im[i] = second ? second[i]! * window[i]! : 0;
      }
      this.fourier.forward(pair);
      const a = this.seen[2 * k]!;
      const b = this.seen[2 * k + 1];
      for (let y = 0; y < side; y++)
        for (let x = 0; x < side; x++) {
          const i = y * side + x;
          const j = ((side - y) % side) * side + ((side - x) % side);
          a.re[i] = (pair.re[i]! + pair.re[j]!) / 2;
          a.im[i] = (pair.im[i]! - pair.im[j]!) / 2;
          if (!b) continue;
          b.re[i] = (pair.im[i]! + pair.im[j]!) / 2;
          b.im[i] = (pair.re[j]! - pair.re[i]!) / 2;
        }
    }
    return this.seen;
  }
}

export class CorrelationFilter {
  private readonly bump: Complex;
  private numerator: Complex[] = [];
  private denominator = new Float64Array();
  private readonly answer: Complex;
  private readonly energy: Float64Array;

  /** `size` cells of the spectrum's side across the subject. */
  constructor(
    private readonly spectrum: Spectrum,
    size: number,
  ) {
    const { side, fourier } = spectrum;
    const sigma = BUMP * size;
    this.bump = complexOf(side * side);
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        const [dx, dy] = [x < side / 2 ? x : x - side, y < side / 2 ? y : y - side];
        this.bump.re[y * side + x] = Math.exp(-(dx * dx + dy * dy) / (2 * sigma * sigma));
      }
    fourier.forward(this.bump);
    this.answer = complexOf(side * side);
    this.energy = new Float64Array(side * side);
  }

  /** Learns that the subject is in the middle of what is seen; `rate`: how much of what was known gives way, 1 all of it. */
  learn(seen: readonly Complex[], rate: number): void {
    const count = this.energy.length;
    if (this.numerator.length === 0) {
      this.numerator = seen.map(() => complexOf(count));
      this.denominator = new Float64Array(count);
      rate = 1;
    }
    const { re: gr, im: gi } = this.bump;
    const { energy } = this;
    energy.fill(0);
    seen.forEach(({ re, im }, c) => {
      const { re: nr, im: ni } = this.numerator[c]!;
      for (let i = 0; i < count; i++) {
        // The bump times the conjugate of what is seen.
        nr[i]! += rate * (gr[i]! * re[i]! + gi[i]! * im[i]! - nr[i]!);
        ni[i]! += rate * (gi[i]! * re[i]! - gr[i]! * im[i]! - ni[i]!);
        energy[i]! += re[i]! * re[i]! + im[i]! * im[i]!;
      }
    });
    for (let i = 0; i < count; i++) this.denominator[i]! += rate * (energy[i]! - this.denominator[i]!);
  }

  /** The answer to what is seen, cell by cell, its middle at 0, wrapping round. */
  respond(seen: readonly Complex[]): Float64Array {
    const { re, im } = this.answer;
    re.fill(0);
    im.fill(0);
    let mean = 0;
    for (let i = 0; i < this.denominator.length; i++) mean += this.denominator[i]!;
    const ridge = RIDGE * (mean / this.denominator.length);
    seen.forEach((s, c) => {
      const n = this.numerator[c]!;
      for (let i = 0; i < re.length; i++) {
        re[i]! += n.re[i]! * s.re[i]! - n.im[i]! * s.im[i]!;
        im[i]! += n.re[i]! * s.im[i]! + n.im[i]! * s.re[i]!;
      }
    });
    for (let i = 0; i < re.length; i++) {
      const d = 1 / (this.denominator[i]! + ridge);
      re[i]! *= d;
      im[i]! *= d;
    }
    this.spectrum.fourier.inverse(this.answer);
    return re;
  }
}

/** The peak of a map of answers whose middle is at 0, to fractions of a cell. */
export function peakOf(map: ArrayLike<number>, side: number): Answer {
  let best = 0;
  for (let i = 1; i < map.length; i++) if (map[i]! > map[best]!) best = i;
  const [x, y] = [best % side, Math.floor(best / side)];
  const at = (dx: number, dy: number) => map[((y + dy + side) % side) * side + ((x + dx + side) % side)]!;
  const peak = at(0, 0);
  const vertex = (a: number, b: number) => {
    const bend = a + b - 2 * peak;
    return bend < -1e-12 ? Math.max(-0.5, Math.min(0.5, (0.5 * (a - b)) / bend)) : 0;
  };
  let [sum, square, count] = [0, 0, 0];
  for (let j = 0; j < side; j++)
    for (let i = 0; i < side; i++) {
      const dx = Math.min(Math.abs(i - x), side - Math.abs(i - x));
      const dy = Math.min(Math.abs(j - y), side - Math.abs(j - y));
      if (Math.max(dx, dy) <= PEAK) continue;
      const v = map[j * side + i]!;
      sum += v;
      square += v * v;
      count++;
    }
  const mean = sum / count;
  const deviation = Math.sqrt(Math.max(1e-12, square / count - mean * mean));
  const signed = (v: number) => (v >= side / 2 ? v - side : v);
  return {
    x: signed(x) + vertex(at(-1, 0), at(1, 0)),
    y: signed(y) + vertex(at(0, -1), at(0, 1)),
    peak,
    ratio: (peak - mean) / deviation,
  };
}
