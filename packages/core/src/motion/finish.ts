/** From single steps to the motion of the whole footage: orientations, cuts, bad stretches, direction of travel. */
import {
  angleBetween,
  apply,
  DEGREES,
  IDENTITY,
  quaternionOf,
  rotationAbout,
  rotationVector,
  transpose,
  unit,
  type Matrix3,
  type Vec3,
  vec3,
} from '../geometry/rotation.js';
import { orientationsOf } from './assemble.js';
import { TRUSTED, type Method, type Motion, type MotionFrame, type Stretch } from './motion.js';
import type { Span, Step } from './steps.js';

/** So many untrusted frames in a row, or fewer, between trusted ones are a cut. */
const CUT_FRAMES = 2;
/** Share of the points that is lost at a cut. */
const LOST = 0.6;
/** Frames on either side of a bad stretch from which its turning is guessed. */
const SIDE = 12;
/** Points that agree, from which on their number takes nothing from the trust. */
const ENOUGH = 60;
/** Standard error of a turn in degrees that halves the trust. */
const VAGUE = 0.12;
/** Frames to either side that tell of the direction of travel, and degrees by which it may change from one to the next. */
const TRAVEL_REACH = 5;
const TRAVEL_CHANGE = 2;
/** Degrees by which a direction may be off however sure its fit is, and how many times what the fit says. */
const TRAVEL_LEAST = 0.5;
const TRAVEL_DOUBT = 1.5;
/** Error in degrees at which a direction of travel is only half sure. */
const SURE = 1.8;
/** How far the shift by travel must stand out from the noise for a direction to be told. */
const CLEAR = 1.2;

/** How far a step is to be trusted, 0…1. */
export function trustOf({ fit }: Pick<Step, 'fit'>): number {
  if (!fit) return 0;
  return (fit.share * Math.min(1, fit.agreeing / ENOUGH)) / (1 + (fit.error / VAGUE) ** 2);
}

/** Puts the motion together from the steps of all frames (the first has no turn) and the turns of spans. */
export function finishMotion(steps: readonly Step[], spans: readonly Span[], rate: number, method: Method): Motion {
  const trust = steps.map((s, n) => (n === 0 ? 1 : trustOf(s)));
  const { cuts, bad } = breaks(steps, trust);
  const cut = new Set(cuts);
  const turns = steps.map((s, n) => ({ turn: cut.has(n) ? IDENTITY : s.turn }));
  for (const stretch of bad) bridge(turns, trust, stretch, cut);
  const broken = (n: number) => cut.has(n) || bad.some(([from, to]) => n >= from && n < to);
  const whole = spans.filter(({ from, to }) => {
    for (let n = from + 1; n <= to; n++) if (broken(n)) return false;
    return true;
  });
  const orientations = orientationsOf(turns, whole);
  const travel = travels(steps, orientations, trust, cut);
  const seconds = (frame: number) => frame / rate;
  return {
    format: 'glimbo-motion',
    version: 1,
    rate,
    method,
    frames: steps.map(({ fit }, n): MotionFrame => ({
      time: seconds(n),
      orientation: quaternionOf(orientations[n]!),
      travel: apply(transpose(orientations[n]!), travel[n]!.direction),
      travelConfidence: travel[n]!.confidence,
      trust: trust[n]!,
      residual: fit?.residual ?? (n === 0 ? 0 : 180),
    })),
    cuts: cuts.map(seconds),
    bad: bad.map(([from, to]): Stretch => ({ in: seconds(from), out: seconds(to) })),
    levels: [],
  };
}

/** Frames after a cut, and bad stretches as [first, end). */
function breaks(steps: readonly Step[], trust: number[]) {
  const cuts: number[] = [];
  const bad: [number, number][] = [];
  for (let n = 1; n < steps.length; n++) {
    if (trust[n]! >= TRUSTED) continue;
    let end = n;
    while (end < steps.length && trust[end]! < TRUSTED) end++;
    // Single good frames in the middle of a bad stretch say little.
    for (let gap = end; gap < Math.min(steps.length, end + 6); gap++)
      if (trust[gap]! < TRUSTED) {
        end = gap + 1;
        while (end < steps.length && trust[end]! < TRUSTED) end++;
        gap = end;
      }
    const { followed, points } = steps[n]!;
    if (end - n <= CUT_FRAMES && followed < points * (1 - LOST)) cuts.push(n);
    else bad.push([n, end]);
    n = end;
  }
  return { cuts, bad };
}

/** Guesses the turning of an untrusted stretch: from what it was before to what it is after. */
function bridge(turns: { turn: Matrix3 }[], trust: number[], [from, to]: [number, number], cuts: Set<number>) {
  const mean = (first: number, step: 1 | -1): Vec3 | null => {
    const sum = [0, 0, 0];
    let count = 0;
    for (let n = first, i = 0; i < SIDE && n > 0 && n < turns.length && !cuts.has(n); n += step, i++) {
      if (trust[n]! < TRUSTED) continue;
      rotationVector(turns[n]!.turn).forEach((v, k) => (sum[k]! += v));
      count++;
    }
    return count ? vec3(sum.map((v) => v / count)) : null;
  };
  const after = mean(to, 1);
  const before = mean(from - 1, -1) ?? after ?? [0, 0, 0];
  const end = after ?? before;
  for (let n = from; n < to; n++) {
    const f = (n - from + 0.5) / (to - from);
    turns[n] = { turn: rotationAbout(vec3(before.map((v, k) => v * (1 - f) + end[k]! * f))) };
  }
}

/** The direction of travel in the first frame's axes, smoothed over neighbouring frames, and its confidence. */
function travels(steps: readonly Step[], orientations: Matrix3[], trust: number[], cuts: Set<number>) {
  const known = steps.map(({ fit }, n) => {
    if (!fit || n === 0 || trust[n]! < TRUSTED) return null;
    // Without a shift that stands out from the noise there is no direction.
    if (fit.parallax / (fit.residual / DEGREES + 2e-4) < CLEAR) return null;
    return {
      direction: apply(orientations[n - 1]!, fit.travel),
      variance: (TRAVEL_DOUBT * fit.travelError) ** 2 + TRAVEL_LEAST ** 2,
    };
  });
  const part = segments(cuts, steps.length);
  return steps.map((_, n) => {
    const near: Sight[] = [];
    for (let k = Math.max(0, n - TRAVEL_REACH); k <= Math.min(steps.length - 1, n + TRAVEL_REACH); k++) {
      const one = part[k] === part[n] ? known[k] : null;
      if (one) near.push({ ...one, variance: one.variance + (TRAVEL_CHANGE * (k - n)) ** 2 });
    }
    return meanDirection(near);
  });
}

/** A direction and its variance in degrees². */
interface Sight {
  direction: Vec3;
  variance: number;
}

/** Number of the part between cuts to which each frame belongs. */
export function segments(cuts: Set<number>, count: number): Int32Array {
  const parts = new Int32Array(count);
  for (let n = 1; n < count; n++) parts[n] = parts[n - 1]! + (cuts.has(n) ? 1 : 0);
  return parts;
}

/** A mean direction that single wild ones hardly move, and how sure it is. */
function meanDirection(list: Sight[]): { direction: Vec3; confidence: number } {
  if (list.length < 3) return { direction: [0, 0, 1], confidence: 0 };
  const mean = (weights: number[]): Vec3 =>
    unit(vec3([0, 1, 2].map((k) => list.reduce((s, d, i) => s + weights[i]! * d.direction[k]!, 0))));
  let weights = list.map((d) => 1 / d.variance);
  let direction = mean(weights);
  for (let round = 0; round < 4; round++) {
    weights = list.map((d) => 1 / (d.variance + (angleBetween(direction, d.direction) / 3) ** 2));
    direction = mean(weights);
  }
  const total = weights.reduce((a, b) => a + b, 0);
  // Where they differ by more than they should, each is as far off as that.
  const excess =
    list.reduce((s, d, i) => s + (weights[i]! * angleBetween(direction, d.direction) ** 2) / d.variance, 0) / total;
  const error = Math.sqrt(Math.max(1, excess) / total);
  return { direction, confidence: 1 / (1 + (error / SURE) ** 2) };
}
