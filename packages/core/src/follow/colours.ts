/**
 * What colours a subject has against those about it: two histograms of Y', Cb and Cr, and how likely each cell of a glimpse belongs to
 * the subject (as in Staple, Bertinetto et al. 2016). Colours say what edges cannot where a figure bends, or is half hidden.
 */
import type { Glimpse, Level } from '../frame/sphere-frame.js';

const [LIGHTS, TINTS] = [8, 24];
const BINS = LIGHTS * TINTS * TINTS;
/** Colour differences over which the bins of tints reach, about their zero. */
const REACH = 72;

/** Shares of the glimpse's side: half the subject's width within which all counts as it, and from where on nothing does. */
const INSIDE = 0.72;
const OUTSIDE = 1.25;
/** Up to which share a cell is the world. */
const WORLDLY = 0.4;

/** How many times as often as in the whole sphere a subject must have a colour for it to speak for the subject. */
const RARE = 20;

export class ColourModel {
  private readonly own = new Float64Array(BINS);
  private readonly about = new Float64Array(BINS);
  private readonly first = new Float64Array(BINS);
  private known = false;

  /**
   * Learns the colours of a glimpse in whose middle the subject is, `half` cells from its middle to its rim across and up; where `apart`
   * says how surely each cell is not the world, those that are it belong to its surroundings.
   */
  learn(look: Glimpse, half: { x: number; y: number }, rate: number, apart: Float32Array | null = null): void {
    const own = new Float64Array(BINS);
    const about = new Float64Array(BINS);
    let [within, without] = [0, 0];
    const { side } = look;
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        const r = Math.hypot((x + 0.5 - side / 2) / half.x, (y + 0.5 - side / 2) / half.y);
        const bin = binOf(look, y * side + x);
        if (r < INSIDE && (!apart || apart[y * side + x]! > WORLDLY)) {
          own[bin]!++;
          within++;
        } else if (r > OUTSIDE || (apart && r < INSIDE)) {
          about[bin]!++;
          without++;
        }
      }
    const share = this.known ? rate : 1;
    if (!this.known) own.forEach((n, b) => (this.first[b] = n / Math.max(1, within)));
    for (let b = 0; b < BINS; b++) {
      this.own[b]! += share * (own[b]! / Math.max(1, within) - this.own[b]!);
      this.about[b]! += share * (about[b]! / Math.max(1, without) - this.about[b]!);
    }
    this.known = true;
  }

  /** How likely each cell belongs to the subject, 0 to 1. */
  likely(look: Glimpse, out: Float32Array): void {
    for (let i = 0; i < out.length; i++) {
      const bin = binOf(look, i);
      out[i] = this.against(bin, this.about[bin]!);
    }
  }

  /** The same for each pixel of a whole frame, against all colours that are in it. */
  likelyOf({ width, height, planes }: Level): Float32Array {
    const bins = new Uint16Array(width * height);
    const all = new Float64Array(BINS);
    const [luma, blue, red] = planes;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const tint = (y >> 1) * (width / 2) + (x >> 1);
        const bin = binAt(luma[i]!, blue[tint]!, red[tint]!);
        bins[i] = bin;
        all[bin]!++;
      }
    for (let bin = 0; bin < BINS; bin++)
      all[bin] = this.against(bin, Math.max(this.about[bin]!, (RARE * all[bin]!) / bins.length));
    const out = new Float32Array(bins.length);
    for (let i = 0; i < bins.length; i++) out[i] = all[bins[i]!]!;
    return out;
  }

  /** How likely a colour is the subject's, against how often it is about; what it had at first counts half. */
  private against(bin: number, others: number): number {
    const own = (this.own[bin]! + this.first[bin]!) / 2;
    // A colour that was never seen says nothing for the subject.
    return own / (own + others + 2e-4);
  }
}

const binOf = ({ planes }: Glimpse, i: number) => binAt(planes[0][i]!, planes[1][i]!, planes[2][i]!);

/** The bin of each tint from 0 to 255. */
const TINT_BINS = Uint8Array.from({ length: 256 }, (_, v) =>
  Math.max(0, Math.min(TINTS - 1, Math.floor(((v - 128 + REACH) * TINTS) / (2 * REACH)))),
);

function binAt(luma: number, blue: number, red: number): number {
  const light = Math.min(LIGHTS - 1, (luma * LIGHTS) >> 8);
  return (light * TINTS + TINT_BINS[blue | 0]!) * TINTS + TINT_BINS[red | 0]!;
}

/** The mean of a square map within a box of half sizes about the corner above and left of each cell; beyond the rim there is nothing. */
export function boxMeans(map: Float32Array, side: number, half: { x: number; y: number }): Float32Array {
  const sums = new Float64Array((side + 1) * (side + 1));
  for (let y = 0; y < side; y++)
    for (let x = 0, row = 0; x < side; x++) {
      row += map[y * side + x]!;
      sums[(y + 1) * (side + 1) + x + 1] = sums[y * (side + 1) + x + 1]! + row;
    }
  const [hx, hy] = [Math.max(1, Math.round(half.x)), Math.max(1, Math.round(half.y))];
  const area = 4 * hx * hy;
  const out = new Float32Array(side * side);
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const [x0, x1] = [Math.max(0, x - hx), Math.min(side, x + hx)];
      const [y0, y1] = [Math.max(0, y - hy), Math.min(side, y + hy)];
      const at = (i: number, j: number) => sums[j * (side + 1) + i]!;
      out[y * side + x] = (at(x1, y1) - at(x0, y1) - at(x1, y0) + at(x0, y0)) / area;
    }
  return out;
}
