/**
 * Finds one subject from frame to frame. Two correlation filters, one that goes with the times and one that keeps the first look, and
 * a model of its colours say where it is in a small look round the predicted direction; a third filter how large. Where it is not to
 * be trusted it coasts on, learns nothing, and looks through the whole sphere for what is alike.
 */
import { DEGREES, IDENTITY, RADIANS, transpose, type Vec3 } from '../geometry/rotation.js';
import { Aim } from './aim.js';
import { boxMeans, ColourModel } from './colours.js';
import { CorrelationFilter, peakOf, Spectrum } from './correlation.js';
import { CHANNELS, featuresOf, hann } from './features.js';
import { APART, APART_WHOLE, LEARNS_FROM, WHOLE, trustOf, usualAfter, type Answer, type Evidence } from './evidence.js';
import { joined } from './joined.js';
import { ScaleFilter } from './scale.js';
import { mostAlike, searched, type Again, type LookAt, type Sought } from './found-again.js';
import { boxAbout, boxAngles, NotWorld, takesInItsOwn, type Beside } from './not-world.js';
import type { Box, Found } from './box.js';
import { SIDE, SubjectBox } from './subject-box.js';
import { NOBODY, type NextFrame, type WhoIsWhere } from './next-frame.js';
import { cellOf, glimpse, glimpseOf, type SphereFrame } from '../frame/sphere-frame.js';

/** Every how many frames it learns, and how much of what is known gives way then. */
const LEARNS = 2;
const LEARN = { looks: 0.05, colours: 0.08, size: 0.016 };
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
const SEARCH = { soon: 3, long: 60, later: 6 };
/** How fast what its trust comes to goes with it; below which it must be the surer. */
const FLAGS = 0.08;
const FLAGGING = 0.4;
/** Every how many frames it is learned how like it others are, and how much of that is kept. */
const COMPARES = 20;
const FORGETS = 0.95;
/** Trust above which it is plainly seen, looks after which it is known how it goes, and by which share of its size it may go between two. */
const PLAIN = 0.95;
const SETTLED = 10;
const GOES = 0.16;
/** For so many frames after it was found elsewhere it must be as sure as this. */
const DOUBTFUL = 15;
const HOLDS = 0.6;

export class SubjectTracker {
  private readonly aim: Aim;
  private readonly box: SubjectBox;
  private readonly spectrum = new Spectrum(SIDE, CHANNELS);
  private readonly filter: CorrelationFilter;
  private readonly first: CorrelationFilter;
  private readonly scale = new ScaleFilter();
  private readonly colours = new ColourModel();
  private readonly window = hann(SIDE);
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
  /** The most that anything else was trusted to be it while it was seen. */
  private alike = 0;
  /** Looks in which it was found, and frames since the one before. */
  private seen = 0;
  private passed = 1;
  /** Frames for which what was found elsewhere has yet to hold up. */
  private doubtful = 0;
  /** Whether it is well seen and has held up: that it is who it was; and whether so plainly that not every frame need be looked at. */
  isSure = true;
  private isPlain = false;
  /** What its trust comes to lately, while it is seen. */
  private lately = 1;
  /** Frames since it was trusted last. */
  missing = 0;

  /** `beside`: the still world about the frame, where it is known. */
  constructor(
    frame: SphereFrame,
    box: Box,
    private beside: Beside | null = null,
  ) {
    this.box = new SubjectBox({ width: box.width * RADIANS, height: box.height * RADIANS });
    this.filter = new CorrelationFilter(this.spectrum, this.box.cellsAcross);
    this.first = new CorrelationFilter(this.spectrum, this.box.cellsAcross);
    this.aim = new Aim(box.direction, beside ? transpose(beside.toWorld) : IDENTITY);
    this.see(frame);
    if (this.isApart(APART_WHOLE) && this.fit({ x: 0, y: 0 }, FIRST)) this.see(frame);
    this.filter.learn(this.spectrum.of(this.features, this.learned()), 1);
    this.first.learn(this.spectrum.seen, 1);
    this.colours.learn(this.look, this.box.half, 1, this.isApart() ? this.apart : null);
    this.scale.learn(frame, this.aim.toPicture, this.box.acrossForSize, 1);
  }

  /** Frames after which it must be looked at again: the more, the slower it goes, where it is plainly seen. */
  get rests(): number {
    if (!this.isPlain || this.seen < SETTLED) return 1;
    return Math.max(1, Math.floor((GOES * this.box.size) / this.aim.speed));
  }

  get found(): Found {
    return this.at(1);
  }

  private at(trust: number): Found {
    const { width, height } = this.box.shape;
    return { direction: this.aim.direction, width: width * DEGREES, height: height * DEGREES, trust };
  }

  private see(frame: SphereFrame) {
    glimpse(frame, this.aim.toPicture, this.box.across, this.look);
    featuresOf(this.look, this.features);
    this.apartMeans = null;
    if (!this.beside) return;
    this.notWorld.of(this.look, this.beside, this.aim.toPicture, this.box.across, this.apart);
    this.apartMeans = boxMeans(this.apart, SIDE, { x: this.box.half.x * 0.85, y: this.box.half.y * 0.85 });
  }

  /** Whether what is in the middle of the look is plainly not the world. */
  private isApart(least = APART): boolean {
    return (this.apartMeans?.[(SIDE * (SIDE + 1)) / 2] ?? 0) > least;
  }

  /** The window through which it is learned: its box, and of that hardly what is the world. */
  private learned(): Float32Array {
    if (!this.isApart()) return this.box.window;
    return this.box.window.map((w, i) => w * (WORLDLY + (1 - WORLDLY) * this.apart[i]!));
  }

  /** What the present look answers. */
  private answer(): Answer {
    const seen = this.spectrum.of(this.features, this.window);
    const [map, first] = this.spectrum.answers(seen, this.filter, this.first);
    const shape = peakOf(map, SIDE);
    this.colours.likely(this.look, this.likely);
    const means = boxMeans(this.likely, SIDE, { x: this.box.half.x * 0.7, y: this.box.half.y * 0.7 });
    const now = (1 - BY_COLOUR) * ((1 - BY_FIRST) / (this.usual?.peak ?? Math.max(0.2, shape.peak)));
    const then = (1 - BY_COLOUR) * (BY_FIRST / (this.usual?.first ?? Math.max(0.05, peakOf(first, SIDE).peak)));
    const astray = 1 / (2 * (ASTRAY * this.box.cellsAcross * (1 + 0.15 * this.missing)) ** 2);
    const apart = this.apartMeans;
    const weighs = apart && (this.usual?.apart ?? 0) > APART ? BY_APART / this.usual!.apart : 0;
    const filters = [
      { map, weight: now },
      { map: first, weight: then },
    ];
    const cells = [{ map: means, weight: BY_COLOUR }, ...(apart && weighs > 0 ? [{ map: apart, weight: weighs }] : [])];
    const { x, y } = peakOf(joined(SIDE, filters, cells, astray), SIDE);
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

  /** Looks for the subject in the next frame that is looked at. */
  step(frame: SphereFrame, { turn, beside = null, who = NOBODY, frames = 1 }: NextFrame = {}): Found {
    this.beside = beside;
    this.passed = frames;
    this.isSure = this.isPlain = false;
    if (turn) this.aim.carry(turn);
    const before = this.aim.coast(frames * (this.missing > 0 ? Math.max(0, 1 - this.missing / 45) : 1));
    const lost = this.missing > LOST;
    if (lost && this.missing % (this.missing > SEARCH.long ? SEARCH.later : SEARCH.soon) !== 0) {
      this.missing++;
      return this.at(0);
    }
    this.see(frame);
    let answer = this.answer();
    let trust = this.trustIn(answer, who, lost);
    if (this.missing === 0) this.lately += FLAGS * (trust - this.lately);
    const least = this.doubtful > 0 || this.lately < FLAGGING ? HOLDS : lost ? FOUND_HERE : TRUSTED;
    const again =
      lost && trust < TRUSTED ? this.elsewhere(frame, (lookAt) => searched(this.sought(frame), who, lookAt)) : null;
    if (again) {
      ({ answer, trust } = again);
      this.aim.jump(again.toPicture);
      this.box.size = again.size;
    } else if (trust < least) {
      return this.missed(trust);
    }
    const { right, up } = this.box.anglesOf(answer);
    this.aim.turnBy(right, up);
    this.goOn(frame, answer, trust, again !== null);
    if (!again) this.aim.remember(before, frames);
    return this.at(trust);
  }

  /** It was not where it was expected. */
  private missed(trust: number): Found {
    // What was found elsewhere and does not hold up was something else.
    this.missing = this.doubtful > 0 ? LOST + 1 : this.missing + 1;
    this.doubtful = 0;
    return this.at(Math.min(trust, TRUSTED / 2));
  }

  /** It was found, perhaps again and elsewhere: its size and its looks are learned, and how like it others are. */
  private goOn(frame: SphereFrame, answer: Answer, trust: number, elsewhere: boolean) {
    this.seen++;
    // One that moves by less than its own width is in part the world: that says nothing of its size.
    const usual = this.usual?.apart ?? 0;
    const whole = this.beside && usual > APART_WHOLE && answer.apart >= WHOLE * usual;
    if (!(whole && !elsewhere && this.fit(answer, LATER))) this.grow(frame);
    this.learn(frame, answer, trust);
    if (this.missing > 0) this.lately = Math.max(this.lately, trust);
    this.doubtful = elsewhere ? DOUBTFUL : Math.max(0, this.doubtful - 1);
    this.missing = 0;
    this.isSure = trust > LEARNS_FROM && this.doubtful === 0;
    this.isPlain = this.isSure && trust > PLAIN;
    if (this.isSure && this.seen % COMPARES === 0) {
      const others = this.elsewhere(frame, (lookAt) => mostAlike(this.sought(frame), lookAt));
      this.alike = Math.max(FORGETS * this.alike, others);
    }
  }

  /** Learns how it looks now, as far as it is to be trusted. */
  private learn(frame: SphereFrame, answer: Answer, trust: number) {
    if (trust > LEARNS_FROM && (this.passed >= LEARNS || this.seen % LEARNS === 0)) {
      this.see(frame);
      const times = Math.max(1, this.passed / LEARNS);
      const rate = (once: number) => 1 - (1 - once) ** times;
      this.filter.learn(this.spectrum.of(this.features, this.learned()), rate(LEARN.looks));
      this.colours.learn(this.look, this.box.half, rate(LEARN.colours), this.isApart() ? this.apart : null);
    }
    this.usual = usualAfter(this.usual, answer, trust, this.passed);
  }

  /** Fits the box to what is not the world where the answer is; false where that says nothing. */
  private fit({ x, y }: { x: number; y: number }, { rate, likely }: typeof LATER): boolean {
    const now = { x, y, halfX: this.box.half.x, halfY: this.box.half.y };
    const box = boxAbout(this.apart, SIDE, now);
    if (!box || (this.usual && !takesInItsOwn(this.apart, this.likely, SIDE, now, box))) return false;
    const cell = cellOf(this.box.across, SIDE);
    const was = boxAngles(now, cell);
    const seen = boxAngles(box, cell);
    const wider = Math.log(seen.width / was.width);
    const higher = Math.log(seen.height / was.height);
    if (Math.max(Math.abs(wider), Math.abs(higher)) > likely) return false;
    this.aim.turnBy(rate * (seen.right - was.right), rate * (seen.up - was.up));
    const { width, height } = this.box.shape;
    this.box.resize({ width: width * Math.exp(rate * wider), height: height * Math.exp(rate * higher) });
    return true;
  }

  /** The size in this frame; it is found and learned in turn. */
  private grow(frame: SphereFrame) {
    const { toPicture } = this.aim;
    if (this.seen % LEARNS === 0) return this.scale.learn(frame, toPicture, this.box.acrossForSize, LEARN.size);
    const factor = this.scale.find(frame, toPicture, this.box.acrossForSize);
    if (Math.abs(Math.log(factor)) > STEADY) this.box.size *= factor;
  }

  /** How far an answer is to be trusted: never where somebody else is; who is recognised there has not gone. */
  private trustIn(answer: Answer, { whose, isRecognised }: WhoIsWhere, lost: boolean): number {
    const trust = trustOf(answer, this.usual, this.beside !== null);
    if (!lost && trust >= HOLDS) return trust;
    const there = this.directionOf(answer);
    if (whose(there) === 'stranger') return 0;
    return isRecognised(there) ? trustOf(answer, this.usual, false) : trust;
  }

  /** Where an answer lies. */
  private directionOf(answer: Answer): Vec3 {
    const { right, up } = this.box.anglesOf(answer);
    return this.aim.beside(right, up);
  }

  /** What is looked for elsewhere in a frame. */
  private sought(frame: SphereFrame): Sought {
    const { colours, missing, alike } = this;
    const { size, shape } = this.box;
    const moves = (this.usual?.apart ?? 0) > APART;
    return { frame, colours, shape, size, direction: this.aim.direction, missing, alike, moves };
  }

  /** Looks at other places, and is afterwards where it was. */
  private elsewhere<T>(frame: SphereFrame, looking: (lookAt: LookAt) => T): T {
    const [toPicture, size] = [this.aim.toPicture, this.box.size];
    const found = looking((direction, across) => this.lookAt(frame, direction, across));
    this.aim.toPicture = toPicture;
    this.box.size = size;
    return found;
  }

  private lookAt(frame: SphereFrame, direction: Vec3, size: number): Again {
    this.box.size = size;
    this.aim.toPicture = this.aim.uprightAt(direction);
    this.see(frame);
    const answer = this.answer();
    return { answer, trust: trustOf(answer, this.usual, this.beside !== null), toPicture: this.aim.toPicture, size };
  }
}
