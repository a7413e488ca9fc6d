/** Looking for up in the frames of a footage while its motion is analysed. */
import {
  apply,
  dot,
  IDENTITY,
  multiply,
  transpose,
  unit,
  type Matrix3,
  type Vec3,
  vec3,
} from '../geometry/rotation.js';
import type { LevelProposal } from '../motion/motion.js';
import { proposeUp } from './proposal.js';
import { skyward } from './skyward.js';

/** Seconds from one look to the next. */
const EVERY = 0.6;
/** From this confidence on a look leads the next one. */
const SURE = 0.6;
const AXES: Vec3[] = [
  [0, 1, 0],
  [0, -1, 0],
  [1, 0, 0],
  [-1, 0, 0],
  [0, 0, 1],
  [0, 0, -1],
];

/** Below this length the mean direction of the sky, of which 1 is sure, says nothing. */
export const CLEAR_SKY = 0.25;

/** The picture's axis nearest to where the sky is; its own up where that is not clear. */
export const axisTowards = (sky: Vec3 | undefined): Vec3 =>
  sky && Math.hypot(...sky) > CLEAR_SKY ? AXES.reduce((a, b) => (dot(b, sky) > dot(a, sky) + 0.1 ? b : a)) : AXES[0]!;

export class LevelLooks {
  readonly levels: LevelProposal[] = [];
  private readonly skies: Vec3[] = [];
  private orientation: Matrix3 = IDENTITY;
  /** The last sure up-direction in the first frame's axes. */
  private up: Vec3 | null = null;
  private readonly small: Uint8Array;

  constructor(
    private readonly width: number,
    private readonly rate: number,
  ) {
    this.small = new Uint8Array((width * width) / 8);
  }

  /** Takes frame number `n` and the turn that led to it. */
  next(n: number, grey: Uint8Array, turn: Matrix3) {
    this.orientation = multiply(this.orientation, turn);
    if (n % Math.max(1, Math.round(EVERY * this.rate)) !== 0) return;
    halve(grey, this.small, this.width);
    const width = this.width / 2;
    this.skies.push(skyward(this.small, width));
    const guess = this.up ? apply(transpose(this.orientation), this.up) : axisTowards(this.sky);
    const found = proposeUp(this.small, width, unit(guess));
    this.levels.push({ time: n / this.rate, up: found.up, confidence: found.confidence });
    // After a doubtful look the next one begins anew from where the sky is.
    this.up = found.confidence > SURE ? apply(this.orientation, found.up) : null;
  }

  /** Where the sky is in the picture on the whole. */
  get sky(): Vec3 {
    const n = Math.max(1, this.skies.length);
    return vec3([0, 1, 2].map((k) => this.skies.reduce((a, s) => a + s[k]! / n, 0)));
  }
}

/** The mean of four pixels for each. */
function halve(grey: Uint8Array, out: Uint8Array, width: number) {
  for (let y = 0; y < width / 4; y++)
    for (let x = 0; x < width / 2; x++) {
      const p = 2 * y * width + 2 * x;
      out[y * (width / 2) + x] = (grey[p]! + grey[p + 1]! + grey[p + width]! + grey[p + width + 1]!) >> 2;
    }
}
