/** Looking for up in the frames of a footage while its motion is analysed. */
import { apply, IDENTITY, multiply, transpose, unit, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import type { LevelProposal } from '../motion/motion.js';
import type { Prepare } from './evidence/seen.js';
import { proposeUp, type Proposal } from './proposal.js';
import { Stance } from './stance.js';

/** Seconds from one look to the next. */
const EVERY = 0.5;
/** From this confidence on a look leads the next one. */
const SURE = 0.6;

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
  private readonly stance = new Stance();
  /** The last sure up-direction in the first frame's axes. */
  private up: Vec3 | null = null;

  constructor(private readonly prepare: Prepare) {}

  /** Takes the next frame that was picked. */
  take({ time, grey, orientation }: Look) {
    const seen = this.prepare(grey);
    this.stance.look(seen);
    const { up: axis, confidence: stands } = this.stance.axis;
    const found = proposeUp(seen, this.up ? unit(apply(transpose(orientation), this.up)) : axis);
    const confidence = found.confidence * stands;
    this.levels.push({ time, up: found.up, confidence });
    // After a doubtful look the next one begins anew from how the picture stands.
    this.up = confidence > SURE ? apply(orientation, found.up) : null;
  }

  /** Which of the picture's axes up is near on the whole. */
  get stands(): Proposal {
    return this.stance.axis;
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
