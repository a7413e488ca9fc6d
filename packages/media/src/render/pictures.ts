/** Of each source of a plan the list of its pictures that are shown, in order and each once. */
import type { PlannedShot } from '@glimbo/core/plan/plan';
import type { PlanSource } from '@glimbo/core/plan/shot';
import { sphereWidth } from '@glimbo/core/stitch/source';
import { latitudesSeen, rowsOfBand, union, WHOLE, type Band } from '@glimbo/core/plan/rows';
import type { MipRows, Readied } from '@glimbo/kernel';
import { needsMips } from '@glimbo/kernel/mips';
import { sharedInts } from './records.js';

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

/** What is known of a picture while a plan is written down. */
interface Shown {
  first: number;
  mips: number;
  smeared: boolean;
}

/** Most pictures of a source that may have to be held at once. */
const MOST_HELD = 64;

export class PictureWriter {
  private readonly shown = new Map<number, Shown>();
  /** The least and the greatest frame that each frame of the clip shows. */
  private readonly least: number[];
  private readonly most: number[];
  private band = NO_BAND;
  private afar = NO_BAND;
  private readonly sphereWidth: number;
  /** Whether its pictures are whole spheres laid flat, of which latitudes are rows. */
  readonly flat: boolean;

  /** `width`: of the source's decoded pictures. */
  constructor(clipFrames: number, source: PlanSource, width: number) {
    this.flat = source.kind === 'sphere';
    this.sphereWidth = source.kind === 'flat' ? width : sphereWidth(source, width);
    this.least = new Array<number>(clipFrames).fill(Infinity);
    this.most = new Array<number>(clipFrames).fill(-Infinity);
  }

  /** Takes a shot of frame n down. `afar`: latitudes that are looked at from afar besides. */
  add(
    n: number,
    { frame, picture, toSource, smeared }: Pick<PlannedShot, 'frame' | 'picture' | 'toSource' | 'smeared'>,
    afar: Band | null,
  ): void {
    const shown = this.shown.get(frame) ?? { first: n, mips: NOWHERE, smeared: false };
    this.shown.set(frame, shown);
    this.least[n] = Math.min(this.least[n]!, frame);
    this.most[n] = Math.max(this.most[n]!, frame);
    if (smeared) shown.smeared = true;
    if (needsMips(picture, this.sphereWidth)) {
      shown.mips = EVERYWHERE;
      this.band = WHOLE;
    } else if (this.band !== WHOLE) this.band = union(this.band, latitudesSeen({ picture, toSource }));
    if (!afar) return;
    if (shown.mips === NOWHERE) shown.mips = FROM_AFAR;
    this.afar = union(this.afar, afar);
    this.band = union(this.band, afar);
  }

  /** The pictures in order, and the number of each by its frame. Throws RangeError for a plan that goes too far back in time. */
  finish(): { pictures: SourcePictures; numberOf: Map<number, number> } {
    const frames = [...this.shown.keys()].sort((a, b) => a - b);
    const numberOf = new Map(frames.map((frame, number) => [frame, number]));
    const list = frames.map((frame) => this.shown.get(frame)!);
    const { needed, held } = this.held(frames.length, numberOf);
    if (held > MOST_HELD) throw new RangeError('A plan cannot go far back in its footage.');
    const showing = this.most.flatMap((most, n) => (most >= 0 ? [n] : []));
    const pictures = {
      frames: sharedInts(frames),
      needed: sharedInts(needed),
      firstShown: sharedInts(list.map((p) => p.first)),
      uses: { first: showing[0] ?? 0, last: showing.at(-1) ?? 0 },
      held,
      band: this.band,
      mips: Uint8Array.from(list, (p) => p.mips),
      afar: this.afar,
      smeared: Uint8Array.from(list, (p) => Number(p.smeared)),
    };
    return { pictures, numberOf };
  }

  /** From which picture on they are needed by each frame of the clip and later ones, and how many at once. */
  private held(pictures: number, numberOf: Map<number, number>) {
    const needed = new Array<number>(this.least.length);
    let next = pictures;
    for (let n = needed.length - 1; n >= 0; n--) {
      if (this.least[n]! < Infinity) next = Math.min(next, numberOf.get(this.least[n]!)!);
      needed[n] = next;
    }
    let [read, held] = [-1, 1];
    for (let n = 0; n < needed.length; n++) {
      if (this.most[n]! >= 0) read = Math.max(read, numberOf.get(this.most[n]!)!);
      held = Math.max(held, read - needed[n]! + 1);
    }
    return { needed, held };
  }
}
