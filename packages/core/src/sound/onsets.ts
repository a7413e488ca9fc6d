/**
 * Onset strength: how much louder a sound becomes at each moment, summed over bands of pitch (spectral flux). Beats are found in it.
 */

/** Values of onset strength a second. */
export const ONSET_RATE = 100;
/** Samples a second of the sound that is listened to. */
export const HEARD_RATE = 8000;

/** Middle of each band in Hz, and how narrow it is. */
const BANDS = [90, 140, 215, 330, 500, 760, 1150, 1750, 2600, 3500];
const QUALITY = 2.2;
/** What is so much below full scale counts as silence, as a share of power. */
const FLOOR = 1e-6;
/** Decibels, in the mean over the bands, that a byte of 255 stands for. */
const FULL = 25;
/** Values that lie before the one that is compared with. */
const BACK = 3;

/** A resonator (RBJ's audio EQ cookbook, band-pass with a peak of 0 dB), and the power it let through since the last value. */
class Band {
  private readonly b: number;
  private readonly a1: number;
  private readonly a2: number;
  private x1 = 0;
  private x2 = 0;
  private y1 = 0;
  private y2 = 0;
  private power = 0;
  /** Level in dB of the last values. */
  private readonly before: number[] = [];

  constructor(hertz: number) {
    const w = (2 * Math.PI * hertz) / HEARD_RATE;
    const alpha = Math.sin(w) / (2 * QUALITY);
    this.b = alpha / (1 + alpha);
    this.a1 = (-2 * Math.cos(w)) / (1 + alpha);
    this.a2 = (1 - alpha) / (1 + alpha);
  }

  hear(x: number) {
    const y = this.b * (x - this.x2) - this.a1 * this.y1 - this.a2 * this.y2;
    [this.x2, this.x1, this.y2, this.y1] = [this.x1, x, this.y1, y];
    this.power += y * y;
  }

  /** By how many dB it is louder than just before. */
  rise(samples: number): number {
    const level = 10 * Math.log10(this.power / samples + FLOOR);
    this.power = 0;
    const mean = this.before.length ? this.before.reduce((a, b) => a + b, 0) / this.before.length : level;
    this.before.push(level);
    if (this.before.length > BACK) this.before.shift();
    return Math.max(0, level - mean);
  }
}

/** Listens to samples (−1…1, HEARD_RATE a second) and gives one byte for each 1/ONSET_RATE s. */
export class OnsetMeter {
  readonly onsets: number[];
  private readonly bands = BANDS.map((hertz) => new Band(hertz));
  private readonly each = HEARD_RATE / ONSET_RATE;
  private count = 0;

  /** `goOn`: what was heard before. */
  constructor(goOn: Iterable<number> = []) {
    this.onsets = [...goOn];
  }

  hear(sample: number) {
    for (const band of this.bands) band.hear(sample);
    if (++this.count < this.each) return;
    this.count = 0;
    const rise = this.bands.reduce((sum, band) => sum + band.rise(this.each), 0) / this.bands.length;
    this.onsets.push(Math.min(255, Math.round((rise / FULL) * 255)));
  }
}
