/**
 * The motion analysis by points: corners spread evenly over the sphere are followed from frame to frame, and the turn
 * and travel between frames fitted to where they went. Besides the step from the last frame the turn since an earlier
 * frame is fitted to the points that have lasted: the same error of a place counts less over such a span.
 */
import {
  angleBetween,
  apply,
  angleOf,
  IDENTITY,
  multiply,
  transpose,
  unit,
  type Matrix3,
  type Vec3,
} from '../geometry/rotation.js';
import { aligned } from './align.js';
import { clearTravel, FEWEST, fitMotion, refineMotion } from './fit.js';
import type { Pairs } from './pairs.js';
import type { Beginning, MotionFit } from './motion-fit.js';
import { stepFit, type Span, type Step } from './steps.js';
import { WholePictures } from './whole.js';
import { cellOf, makeGrid, type Grid } from './grid.js';
import { RigParts } from './rig-parts.js';
import { expectPatch, foundAt, frameAt, turnFrame, type PatchFrame, type PatchTracker } from './tracker.js';

export const POINT_GRID = makeGrid(17);
/** Points followed at once. */
export const POINT_CAPACITY = 380;
/** Width in pixels of the frames that are looked at. */
export const ANALYSIS_WIDTH = 1024;
/** How alike a patch must stay to what it was. */
const ALIKE = 0.8;
/** Every so manieth point leads the others: it is looked for from this level of the pyramid on, and tells how the rig has turned. */
const LEADERS = 6;
const FAR_OFF = 2;
/** Level from which a point is looked for that was not found from nearer. */
const COARSEST = 3;
/** Smallest corner score, in squared grey levels summed over its window. */
const CORNER = 30;
/** Share of the strong corners' score below which a corner is taken for noise, and at which its place varies twice as much. */
const FAINT = 0.01;
const WEAK = 0.08;
/** A point that disagreed so many times in a row is given up. */
const STRIKES = 4;
/** Frames over which the turn is fitted besides single steps, and from one such span to the next; they overlap. */
const SPAN = 12;
const SPAN_EVERY = 3;
/** A span counts with so many points, if so large a share of them agree, and if the steps say the same to so many degrees. */
const SPAN_POINTS = 40;
const SPAN_SHARE = 0.35;
const SPAN_APART = 0.5;
const SPAN_WEIGHT = 0.3;
/** Degrees by which a point must have shifted by travel until its patch is taken anew. */
const PASSED = 15;
/** Frames from one search for new points to the next. */
const REPLENISH_EVERY = 3;
/** Share of the points that may turn out to have been the rig's, until the last steps are fitted again, and how many those are. */
const MISLED = 0.15;
const AGAIN = 12;

/** What a turn from whole pictures counts against one from points. */
const WHOLE_WEIGHT = 40;

interface Point {
  slot: number;
  /** Its patch's frame when it was taken, in the first frame's axes. */
  taken: PatchFrame;
  /** Where that was in the picture. */
  seen: Vec3;
  direction: Vec3;
  before: Vec3;
  /** Where it was in every SPAN_EVERY-th frame since it is known to be of the world, for one span and no longer. */
  trail: Vec3[];
  strikes: number;
  score: number;
  /** How much farther off it is expected than the strongest: a variance, 1 for those. */
  variance: number;
  /** Whether it belongs to the world or to the rig itself, once the rig has turned enough to tell. */
  kind: 'new' | 'world' | 'rig';
}

export class PointAnalysis {
  private points: Point[] = [];
  private readonly free: number[];
  private orientation: Matrix3 = IDENTITY;
  private turn: Matrix3 = IDENTITY;
  /** Direction of travel in the last frame's axes, where it is clear. */
  private travel: Vec3 | undefined;
  private readonly steps: Step[] = [];
  private readonly spans: Span[] = [];
  private readonly rig: RigParts;
  /** What the last steps were fitted to. */
  private readonly recent: (Pairs & { points: Point[] })[] = [];
  private readonly whole: WholePictures | null;

  /** With `whole` each whole picture is held against a panorama of those before, besides. */
  constructor(
    private readonly tracker: PatchTracker,
    whole = false,
    private readonly grid: Grid = POINT_GRID,
  ) {
    this.rig = new RigParts(grid);
    this.whole = whole ? new WholePictures(tracker, grid, this.rig) : null;
    this.free = Array.from({ length: tracker.capacity }, (_, i) => i);
  }

  /** Takes the next frame: grey bytes of the tracker's size. */
  next(grey: Uint8Array): Step {
    this.tracker.setPicture(grey);
    const points = this.points.length;
    let fit: MotionFit | null = null;
    let misled = 0;
    if (this.steps.length) {
      this.follow();
      const pairs = this.pairs((p) => p.before);
      fit = fitMotion(pairs, { rotation: this.turn, travel: this.travel, share: this.steps.at(-1)?.fit?.share });
      this.accept(fit, pairs.points);
      this.recent.push(pairs);
      if (this.recent.length > AGAIN) this.recent.shift();
      const turn = fit ? this.whole?.next(fit, pairs.points, this.points) : this.whole?.forget();
      if (turn) this.spans.push({ from: this.steps.length - 1, to: this.steps.length, turn, weight: WHOLE_WEIGHT });
      misled = this.tell();
      this.renew();
      if (this.steps.length % SPAN_EVERY === 0) this.lookBack();
    }
    const step = { turn: this.turn, fit: fit && stepFit(fit), followed: this.points.length, points };
    this.steps.push(step);
    if (misled > MISLED * points) this.fitAgain();
    if ((this.steps.length - 1) % REPLENISH_EVERY === 0 || this.points.length < this.grid.cells / 3) this.replenish();
    return step;
  }

  /** All that was found, once every frame was taken. */
  result(): { steps: Step[]; spans: Span[] } {
    return { steps: this.steps, spans: this.spans };
  }

  /** Finds every point in the new frame. A few come first, from far off; the others begin where those say they are. */
  private follow() {
    const leaders = this.points.filter((_, i) => i % LEADERS === 0);
    const led = this.points.filter((_, i) => i % LEADERS !== 0);
    const found = this.find(leaders, this.turn, FAR_OFF);
    const pairs = this.pairs((p) => p.before, [...found]);
    const turn = pairs.count >= FEWEST ? aligned(pairs, this.turn) : this.turn;
    for (const p of this.find(led, turn, 0)) found.add(p);
    this.points = this.points.filter((p) => {
      if (!found.has(p)) this.free.push(p.slot);
      return found.has(p);
    });
  }

  /** Moves points to where they are in the new frame, and gives those that were found. The rig is taken to have turned so. */
  private find(points: Point[], turn: Matrix3, level: number): Set<Point> {
    const found = new Set<Point>();
    const back = transpose(turn);
    const turned = transpose(multiply(this.orientation, turn));
    const { search } = this.tracker;
    let missed = points;
    for (const from of [level, COARSEST]) {
      missed.forEach((p, i) => expectPatch(search, i, p.slot, turned, p.taken, apply(back, goesOn(p, this.turn))));
      this.tracker.find(missed.length, from);
      missed = missed.filter((p, i) => {
        if (!(search.alike[i]! >= ALIKE)) return true;
        p.before = p.direction;
        p.direction = foundAt(search, i);
        found.add(p);
        return false;
      });
    }
    return found;
  }

  /** Points of the world alone: what turns with the rig, a mount or a wagon, would hold the estimate back. */
  private pairs(earlier: (p: Point) => Vec3 | null, all = this.points): Pairs & { points: Point[] } {
    const ofWorld = ({ kind, direction }: Point) => kind === 'world' || (kind === 'new' && !this.rig.has(direction));
    const points = all.filter((p) => ofWorld(p) && earlier(p) !== null);
    const before = new Float64Array(points.length * 3);
    const after = new Float64Array(points.length * 3);
    const variance = Float64Array.from(points, (p) => p.variance);
    points.forEach((p, i) => {
      before.set(earlier(p)!, 3 * i);
      after.set(p.direction, 3 * i);
    });
    return { before, after, variance, count: points.length, points };
  }

  /** Takes over a fitted step; gives up points that do not agree. */
  private accept(fit: MotionFit | null, fitted: Point[]) {
    this.turn = fit?.rotation ?? IDENTITY;
    this.travel = fit ? clearTravel(fit) : undefined;
    this.orientation = multiply(this.orientation, this.turn);
    if (!fit) return;
    fitted.forEach((p, i) => (p.strikes = fit.inliers[i] ? 0 : p.strikes + 1));
    this.points = this.points.filter((p) => {
      if (p.strikes < STRIKES) return true;
      this.free.push(p.slot);
      return false;
    });
  }

  /** Where a point would be by the rig's turning alone since its patch was taken. */
  private unmoved({ taken }: Point): Vec3 {
    return apply(transpose(this.orientation), taken.direction);
  }

  /** Tells points of the world from points of the rig; gives how many of the rig had passed for the world's. */
  private tell(): number {
    let misled = 0;
    for (const p of this.points) {
      if (p.kind !== 'new') continue;
      p.kind = this.rig.tell(p.seen, this.unmoved(p), p.direction) ?? 'new';
      if (p.kind === 'rig') misled++;
    }
    return misled;
  }

  /** Fits the last steps again, without what has turned out to be the rig's. */
  private fitAgain() {
    let start: Beginning = { rotation: this.turn };
    for (let back = 1; back <= this.recent.length; back++) {
      const { points, before, after, variance } = this.recent.at(-back)!;
      const world = points.flatMap((p, i) => (p.kind === 'rig' ? [] : [i]));
      const three = (list: Float64Array) =>
        Float64Array.from(world.flatMap((i) => [...list.subarray(3 * i, 3 * i + 3)]));
      const pairs = {
        before: three(before),
        after: three(after),
        variance: variance.filter((_, i) => points[i]!.kind !== 'rig'),
      };
      const fit = fitMotion({ ...pairs, count: world.length }, start);
      if (!fit) continue;
      Object.assign(this.steps.at(-back)!, { turn: fit.rotation, fit: stepFit(fit) });
      start = { rotation: fit.rotation };
    }
    this.turn = this.steps.at(-1)!.turn;
    const before = this.steps.length - this.recent.length;
    while (this.spans.length && this.spans.at(-1)!.to >= before) this.spans.pop();
    this.whole?.forget();
  }

  /** Takes patches anew of what was passed by: seen from another side it looks different, and would be found beside its place. */
  private renew() {
    for (const p of this.points) {
      if (p.kind !== 'world') continue;
      if (angleBetween(this.unmoved(p), p.direction) < PASSED) continue;
      const frame = frameAt(p.direction);
      if (!this.tracker.take(p.slot, frame)) continue;
      p.taken = turnFrame(this.orientation, frame);
      p.seen = p.direction;
    }
  }

  /** Fits the turn since the frame one span ago; the present frame has the number `steps.length`. */
  private lookBack() {
    const [from, to] = [this.steps.length - SPAN, this.steps.length];
    const lasting = this.pairs((p) => (p.trail.length === SPAN / SPAN_EVERY ? p.trail[0]! : null));
    if (lasting.count >= SPAN_POINTS) {
      const guess = multiply(
        this.steps.slice(from + 1).reduce((turn, s) => multiply(turn, s.turn), IDENTITY),
        this.turn,
      );
      const long = refineMotion(lasting, { rotation: guess });
      if (long && long.share > SPAN_SHARE && angleOf(multiply(transpose(long.rotation), guess)) < SPAN_APART)
        this.spans.push({ from, to, turn: long.rotation, weight: SPAN_WEIGHT });
    }
    for (const p of this.points) {
      if (p.kind !== 'world') continue;
      p.trail.push(p.direction);
      if (p.trail.length > SPAN / SPAN_EVERY) p.trail.shift();
    }
  }

  /** Takes new points where cells have none. */
  private replenish() {
    const wanted = new Uint8Array(this.grid.cells).fill(1);
    for (const p of this.points) wanted[cellOf(this.grid, p.direction)] = 0;
    const corners = this.tracker.corners(wanted);
    const strong = strongOf([...this.points, ...corners]);
    const least = Math.max(CORNER, FAINT * strong);
    for (const { direction, score } of corners) {
      const slot = score >= least ? this.free.pop() : undefined;
      if (slot === undefined) continue;
      const frame = frameAt(direction);
      if (!this.tracker.take(slot, frame)) {
        this.free.push(slot);
        continue;
      }
      this.points.push({
        slot,
        taken: turnFrame(this.orientation, frame),
        seen: direction,
        direction,
        before: apply(this.turn, direction),
        trail: [],
        strikes: 0,
        score,
        variance: 1 + (WEAK * strong) / score,
        kind: 'new',
      });
    }
  }
}

/** Where a point would be in the last frame's axes if it went on shifting, the rig's turn apart, as it did to get there. */
function goesOn({ direction, before }: Point, turn: Matrix3): Vec3 {
  const still = apply(transpose(turn), before);
  return unit([2 * direction[0] - still[0], 2 * direction[1] - still[1], 2 * direction[2] - still[2]]);
}

/** Score of strong corners: nine in ten have less. */
function strongOf(corners: readonly { score: number }[]): number {
  const scores = corners.map((c) => c.score).sort((a, b) => a - b);
  return scores[Math.floor(0.9 * scores.length)] ?? 0;
}
