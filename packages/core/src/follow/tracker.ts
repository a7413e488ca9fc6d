/**
 * Finds one subject from frame to frame. Two correlation filters, one that goes with the times and one that keeps the first look, and
 * a model of its colours say where it is in a small look round the predicted direction; a third filter how large. Where it is not to
 * be trusted it coasts on, learns nothing, and looks through the whole sphere for what is alike.
 */
import { angleBetween, DEGREES, IDENTITY, RADIANS, transpose, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { Aim } from './aim.js';
import { boxMeans, ColourModel } from './colours.js';
import { CorrelationFilter, peakOf, Spectrum } from './correlation.js';
import { boxWindow, CHANNELS, featuresOf, hann } from './features.js';
import { APART, APART_WHOLE, LEARNS_FROM, WHOLE, trustOf, usualAfter, type Answer, type Evidence } from './evidence.js';
import { ScaleFilter } from './scale.js';
import { FINER, NEAR_ENOUGH, needed, sizesFor } from './found-again.js';
import { boxAbout, boxAngles, NotWorld, type Beside } from './not-world.js';
import { placesOf } from './search.js';
import { cellOf, glimpse, glimpseOf, type SphereFrame } from '../frame/sphere-frame.js';

/** Cells of a look from side to side, and how many subjects wide it is. */
const SIDE = 64;
const PADDING = 2.4;
/** Half sizes beyond the subject's rim over which what is learned fades out. */
const FADE = 0.6;
/** Every how many frames it learns, and how much of what is known gives way then. */
const LEARNS = 2;
const LEARN = 0.05;
const LEARN_COLOURS = 0.08;
const LEARN_SIZE = 0.016;
/** Changes of size below this (natural logarithm) are taken for noise. */
const STEADY = 0.005;
/** Shares in where the subject is: of the first look in what the filters say, and of colours beside the filters. */
const BY_FIRST = 0.4;
const BY_COLOUR = 0.3;
/** And what is not the still world, where that is known and the subject was not part of it. */
const BY_APART = 0.4;
/** What of the world beside a subject is learned with it. */
const WORLDLY = 0.15;
/** How fast its box follows what is not the world, and by how much (natural logarithms) that may be off the box. */
const LATER = { rate: 0.25, likely: 0.45 };
/** A hand that drew it was in a hurry. */
const FIRST = { rate: 1, likely: 0.7 };
/** Sizes by which it is off from where it is expected so that this counts against it (a standard deviation). */
const ASTRAY = 0.5;
/** Below this trust the subject is not taken to be where the filters say. */
export const TRUSTED = 0.35;
/** Frames after which it counts as lost: from then on it must be this sure to be found again where it was expected. */
const LOST = 8;
const FOUND_HERE = 0.52;
/** Every how many frames it is looked for while it is lost, and once it is lost for long. */
const SEARCH = 3;
const LONG = 60;
const SEARCH_LATER = 6;
/** For so many frames after it was found elsewhere it must be as sure as this. */
const DOUBTFUL = 15;
const HOLDS = 0.6;

/** A subject as it is pointed out: unit direction in the picture, degrees across and up. */
export interface Box {
  direction: Vec3;
  width: number;
  height: number;
}

/** Where a subject was found, and how far that is trusted, 0 to 1. */
export interface Found extends Box {
  trust: number;
}

/** Something found again elsewhere. */
interface Again {
  answer: Answer;
  trust: number;
  toPicture: Matrix3;
  size: number;
}

/** A place that was looked at; `sure`: by how much it is trusted more than it must be that far away. */
interface Looked extends Again {
  direction: Vec3;
  sure: number;
}

const surest = (list: readonly Looked[]): Looked | undefined =>
  list.reduce<Looked | undefined>((a, b) => (!a || b.sure > a.sure ? b : a), undefined);

export class SubjectTracker {
  private readonly aim: Aim;
  private size: number;
  private half: { x: number; y: number };
  private readonly spectrum = new Spectrum(SIDE, CHANNELS);
  private readonly filter: CorrelationFilter;
  private readonly first: CorrelationFilter;
  private readonly scale = new ScaleFilter();
  private readonly colours = new ColourModel();
  private readonly window = hann(SIDE);
  private own: Float32Array;
  private readonly notWorld = new NotWorld(SIDE);
  /** How surely each cell of the look is not the still world. */
  private readonly apart = new Float32Array(SIDE * SIDE);
  /** Shares of the look's cells that are not the still world, within boxes about each; null where the world is not known. */
  private apartMeans: Float32Array | null = null;
  private readonly look = glimpseOf(SIDE);
  private readonly features = Array.from({ length: CHANNELS }, () => new Float32Array(SIDE * SIDE));
  private readonly likely = new Float32Array(SIDE * SIDE);
  /** Running means of what a trusted frame comes to. */
  private usual: Evidence | null = null;
  /** Frames in which it was found. */
  private seen = 0;
  /** Frames for which what was found elsewhere has yet to hold up. */
  private doubtful = 0;
  /** Frames since it was trusted last. */
  missing = 0;

  /** `beside`: the still world about the frame, where it is known. */
  constructor(
    frame: SphereFrame,
    box: Box,
    private beside: Beside | null = null,
  ) {
    const longer = Math.max(box.width, box.height);
    this.size = longer * RADIANS;
    const cells = SIDE / PADDING / 2;
    this.half = { x: (cells * box.width) / longer, y: (cells * box.height) / longer };
    this.filter = new CorrelationFilter(this.spectrum, this.cellsAcross);
    this.first = new CorrelationFilter(this.spectrum, this.cellsAcross);
    this.own = boxWindow(SIDE, this.half, FADE);
    this.aim = new Aim(box.direction, beside ? transpose(beside.toWorld) : IDENTITY);
    this.see(frame);
    if (this.isApart(APART_WHOLE) && this.fit({ x: 0, y: 0 }, FIRST)) this.see(frame);
    this.filter.learn(this.spectrum.of(this.features, this.learned()), 1);
    this.first.learn(this.spectrum.seen, 1);
    this.colours.learn(this.look, this.half, 1, this.isApart() ? this.apart : null);
    this.scale.learn(frame, this.aim.toPicture, this.scaleAcross, 1);
  }

  private get cellsAcross() {
    return 2 * Math.sqrt(this.half.x * this.half.y);
  }

  private get across() {
    return this.size * PADDING;
  }

  private get scaleAcross() {
    return this.size * 1.3;
  }

  /** Radians across and up. */
  private get shape() {
    const longer = Math.max(this.half.x, this.half.y);
    return { width: (this.size * this.half.x) / longer, height: (this.size * this.half.y) / longer };
  }

  get found(): Found {
    return this.at(1);
  }

  private at(trust: number): Found {
    const { width, height } = this.shape;
    return { direction: this.aim.direction, width: width * DEGREES, height: height * DEGREES, trust };
  }

  private see(frame: SphereFrame) {
    glimpse(frame, this.aim.toPicture, this.across, this.look);
    featuresOf(this.look, this.features);
    this.apartMeans = null;
    if (!this.beside) return;
    this.notWorld.of(this.look, this.beside, this.aim.toPicture, this.across, this.apart);
    this.apartMeans = boxMeans(this.apart, SIDE, { x: this.half.x * 0.85, y: this.half.y * 0.85 });
  }

  /** Whether what is in the middle of the look is plainly not the world. */
  private isApart(least = APART): boolean {
    return (this.apartMeans?.[(SIDE * (SIDE + 1)) / 2] ?? 0) > least;
  }

  /** The window through which it is learned: its box, and of that hardly what is the world. */
  private learned(): Float32Array {
    if (!this.isApart()) return this.own;
    return this.own.map((w, i) => w * (WORLDLY + (1 - WORLDLY) * this.apart[i]!));
  }

  /** What the present look answers. */
  private answer(): Answer {
    const seen = this.spectrum.of(this.features, this.window);
    const [map, first] = this.spectrum.answers(seen, this.filter, this.first);
    const shape = peakOf(map, SIDE);
    this.colours.likely(this.look, this.likely);
    const means = boxMeans(this.likely, SIDE, { x: this.half.x * 0.7, y: this.half.y * 0.7 });
    const now = (1 - BY_COLOUR) * ((1 - BY_FIRST) / (this.usual?.peak ?? Math.max(0.2, shape.peak)));
    const then = (1 - BY_COLOUR) * (BY_FIRST / (this.usual?.first ?? Math.max(0.05, peakOf(first, SIDE).peak)));
    const astray = 1 / (2 * (ASTRAY * this.cellsAcross * (1 + 0.15 * this.missing)) ** 2);
    const along = Float64Array.from({ length: SIDE }, (_, k) => Math.exp(-((k - SIDE / 2) ** 2) * astray));
    const apart = this.apartMeans;
    const weighs = apart && (this.usual?.apart ?? 0) > APART ? BY_APART / this.usual!.apart : 0;
    const joined = new Float64Array(SIDE * SIDE);
    for (let y = 0; y < SIDE; y++)
      for (let x = 0; x < SIDE; x++) {
        const [cx, cy] = [(x + SIDE / 2) % SIDE, (y + SIDE / 2) % SIDE];
        const i = y * SIDE + x;
        let sum = now * map[i]! + then * first[i]! + BY_COLOUR * means[cy * SIDE + cx]!;
        if (weighs > 0) sum += weighs * apart![cy * SIDE + cx]!;
        joined[i] = along[cx]! * along[cy]! * sum;
      }
    const { x, y } = peakOf(joined, SIDE);
    const wrapped = (v: number) => (Math.round(v) + SIDE) % SIDE;
    const inside = (v: number) => Math.max(0, Math.min(SIDE - 1, Math.round(v) + SIDE / 2));
    const at = wrapped(y) * SIDE + wrapped(x);
    const cell = inside(y) * SIDE + inside(x);
    return {
      x,
      y,
      peak: map[at]!,
      first: first[at]!,
      colour: means[cell]!,
      apart: apart?.[cell] ?? 0,
      ratio: shape.ratio,
    };
  }

  /** Looks for the subject in the next frame; `turn`: from directions of the last picture to those of this one, where it is known. */
  step(frame: SphereFrame, turn: Matrix3 | null, beside: Beside | null = null): Found {
    this.beside = beside;
    if (turn) this.aim.carry(turn);
    const before = this.aim.coast(this.missing > 0 ? Math.max(0, 1 - this.missing / 45) : 1);
    const lost = this.missing > LOST;
    if (lost && this.missing % (this.missing > LONG ? SEARCH_LATER : SEARCH) !== 0) {
      this.missing++;
      return this.at(0);
    }
    this.see(frame);
    let answer = this.answer();
    let trust = trustOf(answer, this.usual, this.beside !== null);
    const again = lost && trust < TRUSTED ? this.search(frame) : null;
    if (again) {
      ({ answer, trust } = again);
      this.aim.jump(again.toPicture);
      this.size = again.size;
    } else if (trust < (this.doubtful > 0 ? HOLDS : lost ? FOUND_HERE : TRUSTED)) {
      // What was found elsewhere and does not hold up was something else.
      this.missing = this.doubtful > 0 ? LOST + 1 : this.missing + 1;
      this.doubtful = 0;
      return this.at(Math.min(trust, TRUSTED / 2));
    }
    const cell = this.cellRadians(answer);
    this.aim.turnBy(cell.x, cell.y);
    this.seen++;
    // One that moves by less than its own width is in part the world: that says nothing of its size.
    const usual = this.usual?.apart ?? 0;
    const whole = this.beside && usual > APART_WHOLE && answer.apart >= WHOLE * usual;
    if (!(whole && this.fit(answer, LATER))) this.grow(frame);
    this.learn(frame, answer, trust);
    this.doubtful = again ? DOUBTFUL : Math.max(0, this.doubtful - 1);
    if (!again) this.aim.remember(before);
    this.missing = 0;
    return this.at(trust);
  }

  /** Learns how it looks now, as far as it is to be trusted. */
  private learn(frame: SphereFrame, answer: Answer, trust: number) {
    if (trust > LEARNS_FROM && this.seen % LEARNS === 0) {
      this.see(frame);
      this.filter.learn(this.spectrum.of(this.features, this.learned()), LEARN);
      this.colours.learn(this.look, this.half, LEARN_COLOURS, this.isApart() ? this.apart : null);
    }
    this.usual = usualAfter(this.usual, answer, trust);
  }

  /** Fits the box to what is not the world where the answer is; false where that says nothing. */
  private fit({ x, y }: { x: number; y: number }, { rate, likely }: typeof LATER): boolean {
    const box = boxAbout(this.apart, SIDE, { x, y, halfX: this.half.x, halfY: this.half.y });
    if (!box) return false;
    const cell = cellOf(this.across, SIDE);
    const now = boxAngles({ x, y, halfX: this.half.x, halfY: this.half.y }, cell);
    const seen = boxAngles(box, cell);
    const wider = Math.log(seen.width / now.width);
    const higher = Math.log(seen.height / now.height);
    if (Math.max(Math.abs(wider), Math.abs(higher)) > likely) return false;
    this.aim.turnBy(rate * (seen.right - now.right), rate * (seen.up - now.up));
    this.resize(this.shape.width * Math.exp(rate * wider), this.shape.height * Math.exp(rate * higher));
    return true;
  }

  /** Sets the box's sizes, in radians. */
  private resize(width: number, height: number) {
    const longer = Math.max(width, height);
    this.size = Math.max(0.5 * RADIANS, Math.min(110 * RADIANS, longer));
    const cells = SIDE / PADDING / 2;
    this.half = { x: (cells * width) / longer, y: (cells * height) / longer };
    this.own = boxWindow(SIDE, this.half, FADE);
  }

  /** The size in this frame; it is found and learned in turn. */
  private grow(frame: SphereFrame) {
    const { toPicture } = this.aim;
    if (this.seen % LEARNS === 0) return this.scale.learn(frame, toPicture, this.scaleAcross, LEARN_SIZE);
    const factor = this.scale.find(frame, toPicture, this.scaleAcross);
    if (Math.abs(Math.log(factor)) > STEADY)
      this.size = Math.max(0.5 * RADIANS, Math.min(110 * RADIANS, this.size * factor));
  }

  /** How a place in cells lies from the middle, in radians to the right and up. */
  private cellRadians({ x, y }: { x: number; y: number }) {
    const step = cellOf(this.across, SIDE);
    const r = Math.hypot(x, y) * step;
    const angle = 2 * Math.atan(r / 2);
    const k = r > 0 ? (angle * step) / r : 0;
    return { x: x * k, y: -y * k };
  }

  /** Looks more closely where in the whole sphere its colours are; gives the best place if it is like the subject. */
  private search(frame: SphereFrame): Again | null {
    const from = { toPicture: this.aim.toPicture, size: this.size };
    const places = placesOf(
      frame,
      this.colours,
      this.shape,
      { direction: this.aim.direction, reach: this.size + 0.02 * this.missing },
      5,
    );
    const expected = this.aim.direction;
    const look = (direction: Vec3, size: number): Looked => {
      const found = this.lookAt(frame, direction, size);
      return { ...found, direction, sure: found.trust - needed(angleBetween(expected, direction) * RADIANS) };
    };
    const looks = places.flatMap(({ direction }, n) =>
      sizesFor(n, this.missing).map((factor) => look(direction, from.size * factor)),
    );
    const best = surest(looks);
    if (best && best.sure > NEAR_ENOUGH) for (const finer of FINER) looks.push(look(best.direction, best.size * finer));
    const found = surest(looks);
    this.aim.toPicture = from.toPicture;
    this.size = from.size;
    return found && found.sure >= 0 ? found : null;
  }

  private lookAt(frame: SphereFrame, direction: Vec3, size: number): Again {
    this.size = size;
    this.aim.toPicture = this.aim.uprightAt(direction);
    this.see(frame);
    const answer = this.answer();
    return { answer, trust: trustOf(answer, this.usual, this.beside !== null), toPicture: this.aim.toPicture, size };
  }
}
