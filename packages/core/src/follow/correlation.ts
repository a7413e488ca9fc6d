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

/**
 * Turns features of a look into the frequencies that filters work on, and answers back; one for all filters of a size. What is real has
 * the same frequencies mirrored, so that half of them and a column are kept: `side` rows of side / 2 + 1.
 */
export class Spectrum {
  readonly fourier: Fourier;
  readonly columns: number;
  private readonly whole: Complex;
  readonly seen: readonly Complex[];

  /** `side` cells, `channels` planes of features. */
  constructor(
    readonly side: number,
    channels: number,
  ) {
    this.fourier = new Fourier(side);
    this.columns = side / 2 + 1;
    this.whole = complexOf(side * side);
    this.seen = Array.from({ length: channels }, () => complexOf(side * this.columns));
  }

  /** Transforms features under a window; two channels go in one transform, one as its real and one as its imaginary part. */
  of(features: readonly Float32Array[], window: Float32Array): readonly Complex[] {
    for (let k = 0; k < features.length; k += 2) this.pair(features, k, window);
    return this.seen;
  }

  private pair(features: readonly Float32Array[], k: number, window: Float32Array) {
    const { side, columns, whole } = this;
    const { re, im } = whole;
    const first = features[k]!;
    const second = features[k + 1];
    for (let i = 0; i < window.length; i++) re[i] = first[i]! * window[i]!;
    if (second) for (let i = 0; i < window.length; i++) im[i] = second[i]! * window[i]!;
    else im.fill(0);
    this.fourier.forward(whole);
    const a = this.seen[k]!;
    const b = this.seen[k + 1];
    for (let y = 0, to = 0; y < side; y++) {
      const row = ((side - y) % side) * side;
      for (let x = 0; x < columns; x++, to++) {
        const i = y * side + x;
        const j = row + ((side - x) % side);
        a.re[to] = (re[i]! + re[j]!) / 2;
        a.im[to] = (im[i]! - im[j]!) / 2;
        if (!b) continue;
        b.re[to] = (im[i]! + im[j]!) / 2;
        b.im[to] = (re[j]! - re[i]!) / 2;
      }
    }
  }

  /** What two filters answer to what is seen, cell by cell, their middle at 0, wrapping round; both in one transform back. */
  answers(seen: readonly Complex[], first: CorrelationFilter, second: CorrelationFilter): [Float64Array, Float64Array] {
    const { side, columns, whole } = this;
    const a = first.respond(seen);
    const b = second.respond(seen);
    for (let y = 0, from = 0; y < side; y++) {
      const row = ((side - y) % side) * side;
      for (let x = 0; x < columns; x++, from++) {
        const [ar, ai, br, bi] = [a.re[from]!, a.im[from]!, b.re[from]!, b.im[from]!];
        const j = row + ((side - x) % side);
        whole.re[j] = ar + bi;
        whole.im[j] = br - ai;
        const i = y * side + x;
        whole.re[i] = ar - bi;
        whole.im[i] = br + ai;
      }
    }
    this.fourier.inverse(whole);
    return [whole.re, whole.im];
  }
}

export class CorrelationFilter {
  private readonly bump: Complex;
  private numerator: Complex[] = [];
  private readonly denominator: Float64Array;
  private readonly answer: Complex;
  private readonly energy: Float64Array;

  /** `size` cells of the spectrum's side across the subject. */
  constructor(
    private readonly spectrum: Spectrum,
    size: number,
  ) {
    const { side, columns, fourier } = spectrum;
    const sigma = BUMP * size;
    const bump = complexOf(side * side);
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        const [dx, dy] = [x < side / 2 ? x : x - side, y < side / 2 ? y : y - side];
        bump.re[y * side + x] = Math.exp(-(dx * dx + dy * dy) / (2 * sigma * sigma));
      }
    fourier.forward(bump);
    const half = (plane: Float64Array) =>
      Float64Array.from({ length: side * columns }, (_, i) => plane[Math.floor(i / columns) * side + (i % columns)]!);
    this.bump = { re: half(bump.re), im: half(bump.im) };
    this.answer = complexOf(side * columns);
    this.energy = new Float64Array(side * columns);
    this.denominator = new Float64Array(side * columns);
  }

  /** Learns that the subject is in the middle of what is seen; `rate`: how much of what was known gives way, 1 all of it. */
  learn(seen: readonly Complex[], rate: number): void {
    const count = this.energy.length;
    if (this.numerator.length === 0) {
      this.numerator = seen.map(() => complexOf(count));
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

  /** The answer to what is seen, in frequencies. */
  respond(seen: readonly Complex[]): Complex {
    const { re, im } = this.answer;
    re.fill(0);
    im.fill(0);
    seen.forEach((s, c) => {
      const n = this.numerator[c]!;
      for (let i = 0; i < re.length; i++) {
        re[i]! += n.re[i]! * s.re[i]! - n.im[i]! * s.im[i]!;
        im[i]! += n.re[i]! * s.im[i]! + n.im[i]! * s.re[i]!;
      }
    });
    const ridge = RIDGE * this.meanEnergy();
    for (let i = 0; i < re.length; i++) {
      const d = 1 / (this.denominator[i]! + ridge);
      re[i]! *= d;
      im[i]! *= d;
    }
    return this.answer;
  }

  /** Over all frequencies: those between the first and the last column stand for their mirrored ones as well. */
  private meanEnergy(): number {
    const { side, columns } = this.spectrum;
    let sum = 0;
    for (let y = 0, i = 0; y < side; y++)
      for (let x = 0; x < columns; x++, i++) sum += this.denominator[i]! * (x === 0 || x === columns - 1 ? 1 : 2);
    return sum / (side * side);
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
