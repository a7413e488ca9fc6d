/** Of each source of a plan the list of its pictures that are shown, in order and each once. */
import type { PlannedShot } from '@glimbo/core/plan/plan';
import type { PlanSource } from '@glimbo/core/plan/shot';
import { sphereWidth } from '@glimbo/core/stitch/source';
import { latitudesSeen, rowsOfBand, union, WHOLE, type Band } from '@glimbo/core/plan/rows';
import type { MipRows, Readied } from '@glimbo/kernel';
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
  /** The latitudes that are drawn from anything; where mip levels are needed everywhere, all. */
  band: Band;
  /** Of each picture where its mip levels are needed: NOWHERE, EVERYWHERE, or where something is looked at FROM_AFAR. */
  mips: Uint8Array;
  afar: Band;
  /** Whether smeared shots are drawn from a picture. */
  smeared: Uint8Array;
}

const [NOWHERE, EVERYWHERE, FROM_AFAR] = [0, 1, 2];
const NO_BAND: Band = { south: Infinity, north: -Infinity };

/** What is to be made of a picture of some height before anything is drawn from it. */
export const readied = (pictures: SourcePictures, number: number, height: number): Readied => ({
  mips: mipRows(pictures, number, height),
  narrowed: pictures.smeared[number] === 1,
});

function mipRows({ mips, afar }: SourcePictures, number: number, height: number): MipRows | null {
  if (mips[number] === NOWHERE) return null;
  if (mips[number] === EVERYWHERE) return { from: 0, to: height };
  const { top, rows } = rowsOfBand(afar, height);
  return { from: top, to: top + rows };
}

export class PictureWriter {
  private readonly frames: number[] = [];
  private readonly mips: number[] = [];
  private readonly smeared: number[] = [];
  private readonly firstShown: number[] = [];
  private last = 0;
  private held = 1;
  private band = NO_BAND;
  private afar = NO_BAND;
  private readonly needed: number[];
  private readonly sphereWidth: number;
  /** Whether its pictures are whole spheres laid flat, of which latitudes are rows. */
  readonly flat: boolean;

  /** `width`: of the source's decoded pictures. */
  constructor(clipFrames: number, source: PlanSource, width: number) {
    this.flat = source.kind === 'sphere';
    this.sphereWidth = source.kind === 'flat' ? width : sphereWidth(source, width);
    this.needed = new Array<number>(clipFrames).fill(NONE);
  }

  /**
   * The number of the picture that a shot of frame n shows. `afar`: latitudes that are looked at from afar besides. Throws
   * RangeError where it lies before one that was shown.
   */
  add(n: number, shot: Pick<PlannedShot, 'frame' | 'picture' | 'toSource' | 'smeared'>, afar: Band | null): number {
    let number = this.frames.length - 1;
    while (number >= 0 && this.frames[number]! > shot.frame) number--;
    if (number < 0 || this.frames[number] !== shot.frame) {
      if (number < this.frames.length - 1) throw new RangeError('A plan cannot go back in its footage.');
      number = this.frames.push(shot.frame) - 1;
      this.mips.push(NOWHERE);
      this.smeared.push(0);
      this.firstShown.push(n);
    }
    this.last = n;
    if (shot.smeared) this.smeared[number] = 1;
    this.needed[n] = Math.min(this.needed[n]!, number);
    this.held = Math.max(this.held, this.frames.length - this.needed[n]!);
    if (needsMips(shot.picture, this.sphereWidth)) {
      this.mips[number] = EVERYWHERE;
      this.band = WHOLE;
    } else if (this.band !== WHOLE) this.band = union(this.band, latitudesSeen(shot));
    if (afar) {
      if (this.mips[number] === NOWHERE) this.mips[number] = FROM_AFAR;
      this.afar = union(this.afar, afar);
      this.band = union(this.band, afar);
    }
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
      afar: this.afar,
      smeared: Uint8Array.from(this.smeared),
    };
  }
}
