/** How large a subject is from one frame to the next: a correlation filter along a row of sizes (DSST, Danelljan et al. 2014). */
import type { Matrix3 } from '../geometry/rotation.js';
import { glimpse, glimpseOf, type SphereFrame } from '../frame/sphere-frame.js';

/** Sizes looked at, and the factor from one to the next. */
const SIZES = 17;
const STEP = 1.025;
const SIDE = 20;
const RIDGE = 0.01;
const BUMP = 1.2;
/** Frequencies that are computed: what is seen is real, so the others are their mirror. */
const FREQUENCIES = (SIZES + 1) / 2;
/** What a size sees: light, and where it gets lighter across and down. */
const PER_CELL = 3;

const factors = Float64Array.from({ length: SIZES }, (_, k) => STEP ** (k - (SIZES - 1) / 2));
const fade = Float64Array.from({ length: SIZES }, (_, k) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (k + 0.5)) / SIZES));

export class ScaleFilter {
  private readonly look = glimpseOf(SIDE);
  private readonly features = Array.from({ length: SIZES }, () => new Float32Array(SIDE * SIDE * PER_CELL));
  private readonly cos = new Float64Array(SIZES * SIZES);
  private readonly sin = new Float64Array(SIZES * SIZES);
  private readonly bump = { re: new Float64Array(SIZES), im: new Float64Array(SIZES) };
  private numerator: { re: Float32Array; im: Float32Array }[] = [];
  private readonly denominator = new Float64Array(FREQUENCIES);

  constructor() {
    for (let f = 0; f < SIZES; f++)
      for (let k = 0; k < SIZES; k++) {
        this.cos[f * SIZES + k] = Math.cos((2 * Math.PI * f * k) / SIZES);
        this.sin[f * SIZES + k] = -Math.sin((2 * Math.PI * f * k) / SIZES);
      }
    for (let f = 0; f < SIZES; f++)
      for (let k = 0; k < SIZES; k++) {
        const d = k - (SIZES - 1) / 2;
        const g = Math.exp(-(d * d) / (2 * BUMP * BUMP));
        this.bump.re[f]! += g * this.cos[f * SIZES + k]!;
        this.bump.im[f]! += g * this.sin[f * SIZES + k]!;
      }
  }

  private see(frame: SphereFrame, toPicture: Matrix3, across: number) {
    for (let k = 0; k < SIZES; k++) {
      glimpse(frame, toPicture, across * factors[k]!, this.look);
      const [luma, blue] = this.look.planes;
      const out = this.features[k]!;
      let mean = 0;
      for (const v of luma) mean += v / luma.length;
      for (let y = 0, i = 0; y < SIDE; y++)
        for (let x = 0; x < SIDE; x++, i++) {
          const at = (v: number, most: number) => Math.max(0, Math.min(most, v));
          const right = luma[y * SIDE + at(x + 1, SIDE - 1)]! - luma[y * SIDE + at(x - 1, SIDE - 1)]!;
          const down = luma[at(y + 1, SIDE - 1) * SIDE + x]! - luma[at(y - 1, SIDE - 1) * SIDE + x]!;
          out[3 * i] = fade[k]! * ((luma[i]! - mean) / 64 + (blue[i]! - 128) / 32);
          out[3 * i + 1] = (fade[k]! * right) / 48;
          out[3 * i + 2] = (fade[k]! * down) / 48;
        }
    }
  }

  private readonly seen = Array.from({ length: FREQUENCIES }, () => ({
    re: new Float32Array(SIDE * SIDE * PER_CELL),
    im: new Float32Array(SIDE * SIDE * PER_CELL),
  }));

  /** The transform along the sizes, at every feature: `FREQUENCIES` of them. */
  private frequencies(): { re: Float32Array; im: Float32Array }[] {
    const count = SIDE * SIDE * PER_CELL;
    for (let f = 0; f < FREQUENCIES; f++) {
      const { re, im } = this.seen[f]!;
      re.fill(0);
      im.fill(0);
      for (let k = 0; k < SIZES; k++) {
        const c = this.cos[f * SIZES + k]!;
        const s = this.sin[f * SIZES + k]!;
        const feature = this.features[k]!;
        for (let i = 0; i < count; i++) {
          re[i] = re[i]! + c * feature[i]!;
          im[i] = im[i]! + s * feature[i]!;
        }
      }
    }
    return this.seen;
  }

  /** Learns that the subject is as large as it is looked at: `across` radians. */
  learn(frame: SphereFrame, toPicture: Matrix3, across: number, rate: number): void {
    this.see(frame, toPicture, across);
    const seen = this.frequencies();
    const first = this.numerator.length === 0;
    if (first)
      this.numerator = seen.map(({ re }) => ({ re: new Float32Array(re.length), im: new Float32Array(re.length) }));
    const share = first ? 1 : rate;
    seen.forEach(({ re, im }, f) => {
      const n = this.numerator[f]!;
      const [gr, gi] = [this.bump.re[f]!, this.bump.im[f]!];
      let energy = 0;
      for (let i = 0; i < re.length; i++) {
        n.re[i]! += share * (gr * re[i]! + gi * im[i]! - n.re[i]!);
        n.im[i]! += share * (gi * re[i]! - gr * im[i]! - n.im[i]!);
        energy += re[i]! * re[i]! + im[i]! * im[i]!;
      }
      this.denominator[f]! += share * (energy - this.denominator[f]!);
    });
  }

  /** The factor by which the subject is larger than `across` radians. */
  find(frame: SphereFrame, toPicture: Matrix3, across: number): number {
    this.see(frame, toPicture, across);
    const seen = this.frequencies();
    const re = new Float64Array(SIZES);
    const im = new Float64Array(SIZES);
    const ridge = (RIDGE * this.denominator.reduce((a, b) => a + b, 0)) / FREQUENCIES;
    seen.forEach((s, f) => {
      const n = this.numerator[f]!;
      for (let i = 0; i < s.re.length; i++) {
        re[f]! += n.re[i]! * s.re[i]! - n.im[i]! * s.im[i]!;
        im[f]! += n.re[i]! * s.im[i]! + n.im[i]! * s.re[i]!;
      }
      re[f]! /= this.denominator[f]! + ridge;
      im[f]! /= this.denominator[f]! + ridge;
    });
    const answer = Float64Array.from({ length: SIZES }, (_, k) => {
      let sum = re[0]!;
      for (let f = 1; f < FREQUENCIES; f++)
        sum += 2 * (re[f]! * this.cos[f * SIZES + k]! + im[f]! * this.sin[f * SIZES + k]!);
      return sum;
    });
    let best = 0;
    for (let k = 1; k < SIZES; k++) if (answer[k]! > answer[best]!) best = k;
    const [a, b, c] = [answer[best - 1] ?? -Infinity, answer[best]!, answer[best + 1] ?? -Infinity];
    const bend = a + c - 2 * b;
    const part = Number.isFinite(bend) && bend < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend)) : 0;
    return STEP ** (best + part - (SIZES - 1) / 2);
  }
}
