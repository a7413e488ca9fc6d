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
import type { Prepare } from './evidence/seen.js';
import { proposeUp } from './proposal.js';
import { skyward } from './skyward.js';

/** Seconds from one look to the next. */
const EVERY = 0.5;
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

/**
 * How clearly the sky must lie towards another axis than the picture's own up: below, and at a side. Rigs seldom hang head down and
 * more seldom lie on a side; lit floors (0.5 on photographs of halls) and windows (0.75) look like sky, too.
 */
const BELOW = 0.7;
const ASIDE = 0.9;

/** The picture's axis towards which the sky clearly is; its own up where no other one is clear. */
export const axisTowards = (sky: Vec3 | undefined, below = BELOW, aside = ASIDE): Vec3 =>
  (sky && AXES.slice(1).find((axis, i) => dot(axis, sky) > (i === 0 ? below : aside))) || AXES[0]!;

/** A frame that is to be looked at. */
export interface Look {
  /** Seconds. */
  time: number;
  /** Grey bytes, half as wide and high as the frame. */
  grey: Uint8Array;
  /** Turns a direction of the frame into the first frame's axes. */
  orientation: Matrix3;
}

/** Picks the frames that are looked at, out of all, as they come. */
export class LookPicker {
  private orientation: Matrix3 = IDENTITY;

  /** `width`: of the frames, in pixels; they are half as high. */
  constructor(
    private readonly width: number,
    private readonly rate: number,
  ) {}

  /** Takes frame number `n` and the turn that led to it; gives what is to be looked at, for some. */
  next(n: number, grey: Uint8Array, turn: Matrix3): Look | null {
    this.orientation = multiply(this.orientation, turn);
    if (n % Math.max(1, Math.round(EVERY * this.rate)) !== 0) return null;
    return { time: n / this.rate, grey: halved(grey, this.width), orientation: this.orientation };
  }
}

/** Looks for up in one frame after the other. */
export class LevelLooks {
  readonly levels: LevelProposal[] = [];
  private readonly skies: Vec3[] = [];
  /** The last sure up-direction in the first frame's axes. */
  private up: Vec3 | null = null;

  constructor(private readonly prepare: Prepare) {}

  /** Takes the next frame that was picked. */
  take({ time, grey, orientation }: Look) {
    const seen = this.prepare(grey);
    this.skies.push(skyward(seen));
    const guess = this.up ? apply(transpose(orientation), this.up) : axisTowards(this.sky);
    const found = proposeUp(seen, unit(guess));
    this.levels.push({ time, up: found.up, confidence: found.confidence });
    // After a doubtful look the next one begins anew from where the sky is.
    this.up = found.confidence > SURE ? apply(orientation, found.up) : null;
  }

  /** Where the sky is in the picture on the whole. */
  get sky(): Vec3 {
    const n = Math.max(1, this.skies.length);
    return vec3([0, 1, 2].map((k) => this.skies.reduce((a, s) => a + s[k]! / n, 0)));
  }
}

/** The mean of four pixels for each. */
function halved(grey: Uint8Array, width: number): Uint8Array {
  const out = new Uint8Array(grey.length / 4);
  for (let y = 0; y < width / 4; y++)
    for (let x = 0; x < width / 2; x++) {
      const p = 2 * y * width + 2 * x;
      out[y * (width / 2) + x] = (grey[p]! + grey[p + 1]! + grey[p + width]! + grey[p + width + 1]!) >> 2;
    }
  return out;
}
