/** Of each source of a plan the list of its pictures that are shown, in order and each once. */
import type { PlannedShot } from '@glimbo/core/plan/plan';
import { latitudesSeen, union, WHOLE, type Band } from '@glimbo/core/plan/rows';
import { needsMips } from '@glimbo/kernel/mips';
import { sharedInts } from './records.js';
import { NONE } from './schedule.js';

export interface SourcePictures {
  /** Frame of the source, by picture. */
  frames: Uint32Array;
  /** For each frame of the clip the first picture that it or a later one shows. */
  needed: Uint32Array;
  /** Frame of the clip that shows it first, by picture. */
  firstShown: Uint32Array;
  /** The first and the last frame of the clip that show any of them. */
  uses: { first: number; last: number };
  /** How many pictures have to be held at once for one frame of the clip. */
  held: number;
  /** The latitudes that are drawn from anything; where mip levels are needed, all. */
  band: Band;
  /** Whether anything draws the picture smaller than it is. */
  mips: Uint8Array;
}

export class PictureWriter {
  private readonly frames: number[] = [];
  private readonly mips: number[] = [];
  private readonly firstShown: number[] = [];
  private last = 0;
  private held = 1;
  private band: Band = { south: Infinity, north: -Infinity };
  private readonly needed: number[];

  constructor(
    clipFrames: number,
    private readonly sphereWidth: number,
  ) {
    this.needed = new Array<number>(clipFrames).fill(NONE);
  }

  /**
   * The number of the picture that a shot of frame n shows. `all`: whether it is looked at from afar, whatever is seen of it.
   * Throws RangeError where it lies before one that was shown.
   */
  add(n: number, shot: Pick<PlannedShot, 'frame' | 'picture' | 'toSource'>, all: boolean): number {
    let number = this.frames.length - 1;
    while (number >= 0 && this.frames[number]! > shot.frame) number--;
    if (number < 0 || this.frames[number] !== shot.frame) {
      if (number < this.frames.length - 1) throw new RangeError('A plan cannot go back in its footage.');
      number = this.frames.push(shot.frame) - 1;
      this.mips.push(0);
      this.firstShown.push(n);
    }
    this.last = n;
    this.needed[n] = Math.min(this.needed[n]!, number);
    this.held = Math.max(this.held, this.frames.length - this.needed[n]!);
    if (all || needsMips(shot.picture, this.sphereWidth)) {
      this.mips[number] = 1;
      this.band = WHOLE;
    } else if (this.band !== WHOLE) this.band = union(this.band, latitudesSeen(shot));
    return number;
  }

  finish(): SourcePictures {
    let next = this.frames.length;
    for (let n = this.needed.length - 1; n >= 0; n--) this.needed[n] = next = Math.min(next, this.needed[n]!);
    return {
      frames: sharedInts(this.frames),
      needed: sharedInts(this.needed),
      firstShown: sharedInts(this.firstShown),
      uses: { first: this.firstShown[0] ?? 0, last: this.last },
      held: this.held,
      band: this.band,
      mips: Uint8Array.from(this.mips),
    };
  }
}
