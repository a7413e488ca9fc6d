/**
 * One fit of the motion between two frames, from directions of the same points in both: rotation together with the direction of
 * travel, so that driving forwards is not taken for turning. A point at distance D seen while the rig goes by d along t
 * shifts by ρ = d/D against t; the part of its shift across t can only be rotation and noise, the part along t is also
 * how near it is. ρ is taken as spread about a mean that is fitted with the rest: with no travel both come out as 0, and
 * all of every shift counts for the rotation; with much travel, and for points far nearer than most, only the parts
 * across it count (the epipolar constraint).
 * Iteratively reweighted least squares with Geman and McClure's weight.
 */
import { DEGREES, multiply, rotationAbout, unit, type Matrix3, type Vec3, vec3 } from '../geometry/rotation.js';
import { inverseDiagonal, solveSymmetric } from '../geometry/solve.js';
import { COARSE } from './align.js';
import { tangents, travelOf } from './travel.js';
import { NOISE, type Pairs } from './pairs.js';

export interface MotionFit {
  /** Turns a direction of the later frame into the earlier frame's axes. */
  rotation: Matrix3;
  /** Direction of travel in the earlier frame's axes (unit). */
  travel: Vec3;
  /** How sure that direction is: standard error in degrees. */
  travelError: number;
  /** Standard error of the rotation in degrees (root of the sum over its axes). */
  error: number;
  /** Mean shift by travel in radians of a point at a right angle to it. */
  parallax: number;
  /** Share of points that agree, 0…1, and the median of what they are off, in degrees. */
  share: number;
  residual: number;
  /** 1 for every point that agrees. */
  inliers: Uint8Array;
}

const ROUNDS = 14;
/** A point that shifts far is found beside its place by this share of the shift: it would lead the direction of travel alone. */
const BESIDE = 0.01;
/** Mean shift by travel in radians from which on only the parts of shifts across it count. */
const PARALLAX = 2.5 * NOISE;
/** Where a fit begins. */
export interface Beginning {
  rotation: Matrix3;
  /** Direction of travel in the earlier frame's axes, if it is known about. */
  travel?: Vec3;
  /** Share of points that agreed in the last frame: if nearly as many agree again, no other beginning is tried. */
  share?: number;
}

/** State of the fit between rounds. */
interface Model {
  rotation: Matrix3;
  travel: Vec3;
  /** Mean and variance of ρ. */
  near: number;
  spread: number;
}

/** One fit on its way: each round measures what is left over, weighs the points and takes a step. */
export class Refinement {
  /** How much each point counts across the travel, and along it. */
  private readonly weights: Float64Array;
  private readonly along: Float64Array;
  /** Shifts left over after the rotation, three numbers a point. */
  private readonly flow: Float64Array;
  /** Unit directions on the sphere at each point, against the travel and across it, and the sine of the angle to it. */
  private readonly against: Float64Array;
  private readonly aside: Float64Array;
  private readonly sine: Float64Array;
  /** How far off each point is, in scales. */
  private readonly off: Float64Array;
  private readonly model: Model;
  private readonly normal = new Float64Array(25);
  private readonly right = new Float64Array(5);
  private readonly row = new Float64Array(5);
  private scale = COARSE;

  constructor(
    private readonly pairs: Pairs,
    private readonly start: Beginning,
    private readonly farFirst: number,
  ) {
    const { count } = pairs;
    this.weights = new Float64Array(count);
    this.along = new Float64Array(count);
    this.flow = new Float64Array(3 * count);
    this.against = new Float64Array(3 * count);
    this.aside = new Float64Array(3 * count);
    this.sine = new Float64Array(count);
    this.off = new Float64Array(count);
    this.model = { rotation: start.rotation, travel: [0, 0, 1], near: 0.004, spread: 0.01 ** 2 };
  }

  run(): MotionFit {
    const { before, count } = this.pairs;
    this.measure();
    const { travel } = this.start;
    this.head(travel ?? travelOf(this.flow, before, this.weights.fill(1), count));
    for (let round = 0; round < ROUNDS; round++) {
      this.weigh(round < this.farFirst);
      if (!travel && round < 4) this.head(travelOf(this.flow, before, this.weights, count));
      this.collect();
      const step = solveSymmetric(this.normal, this.right, 5);
      if (!step) break;
      this.turnBy(step);
      this.measure();
      this.spreadOf();
      this.scale = Math.max(2.5 * NOISE, this.scale * 0.65);
      if (round > 9 && Math.hypot(step[0]!, step[1]!, step[2]!) < 1e-7) break;
    }
    this.weigh(false);
    return this.outcome();
  }

  /** Shifts left over after the rotation, tangent to the sphere at the earlier directions. */
  private measure() {
    const { before, after, count } = this.pairs;
    const r = this.model.rotation;
    for (let k = 0; k < 3 * count; k += 3) {
      const [px, py, pz] = [before[k]!, before[k + 1]!, before[k + 2]!];
      const [ax, ay, az] = [after[k]!, after[k + 1]!, after[k + 2]!];
      const x = r[0] * ax + r[1] * ay + r[2] * az - px;
      const y = r[3] * ax + r[4] * ay + r[5] * az - py;
      const z = r[6] * ax + r[7] * ay + r[8] * az - pz;
      const radial = x * px + y * py + z * pz;
      this.flow[k] = x - radial * px;
      this.flow[k + 1] = y - radial * py;
      this.flow[k + 2] = z - radial * pz;
    }
  }

  /** Takes a direction of travel, and with it each point's directions against it and across it. */
  private head(travel: Vec3) {
    const { before, count } = this.pairs;
    const [tx, ty, tz] = travel;
    this.model.travel = travel;
    for (let i = 0, k = 0; i < count; i++, k += 3) {
      const [px, py, pz] = [before[k]!, before[k + 1]!, before[k + 2]!];
      const d = tx * px + ty * py + tz * pz;
      const [x, y, z] = [d * px - tx, d * py - ty, d * pz - tz];
      const sine = Math.sqrt(x * x + y * y + z * z);
      const s = sine > 1e-6 ? 1 / sine : 0;
      const [mx, my, mz] = [x * s, y * s, z * s];
      this.sine[i] = sine;
      this.against[k] = mx;
      this.against[k + 1] = my;
      this.against[k + 2] = mz;
      this.aside[k] = py * mz - pz * my;
      this.aside[k + 1] = pz * mx - px * mz;
      this.aside[k + 2] = px * my - py * mx;
    }
  }

  /** A point's shift along one of its directions. */
  private shift(directions: Float64Array, i: number): number {
    const k = 3 * i;
    return (
      this.flow[k]! * directions[k]! + this.flow[k + 1]! * directions[k + 1]! + this.flow[k + 2]! * directions[k + 2]!
    );
  }

  /** Weights after how far each point is off, as Geman and McClure's; with `farOnly` what is far nearer than most is off. */
  private weigh(farOnly: boolean) {
    const { count, variance } = this.pairs;
    const { near, spread } = this.model;
    for (let i = 0; i < count; i++) {
      const sine = this.sine[i]!;
      const along = this.shift(this.against, i);
      const scale2 = this.scale ** 2 * variance[i]! + (BESIDE * along) ** 2;
      const nearer = (along - near * sine) ** 2 / (scale2 + spread * sine * sine);
      // A point that comes towards us from behind agrees with nothing that stands still.
      const across = this.shift(this.aside, i) ** 2 / scale2 + (along < 0 ? along ** 2 / (4 * scale2) : 0);
      const squared = farOnly ? across + nearer : across;
      this.off[i] = Math.sqrt(squared);
      this.weights[i] = 1 / (1 + squared) ** 2;
      this.along[i] = 1 / (1 + across + nearer) ** 2;
    }
  }

  /** The normal equations of three turns and two tilts of the travel. */
  private collect() {
    const { before, variance, count } = this.pairs;
    const { near, spread, travel } = this.model;
    const [t1, t2] = tangents(travel);
    const { row, flow, normal } = this;
    normal.fill(0);
    this.right.fill(0);
    for (let i = 0, k = 0; i < count; i++, k += 3) {
      const w = this.weights[i]!;
      const sine = this.sine[i]!;
      if (w < 1e-4 || sine < 0.02) continue;
      const [px, py, pz] = [before[k]!, before[k + 1]!, before[k + 2]!];
      const [fx, fy, fz] = [flow[k]!, flow[k + 1]!, flow[k + 2]!];
      const [cx, cy, cz] = [fy * pz - fz * py, fz * px - fx * pz, fx * py - fy * px];
      this.turnRow(this.aside, i);
      row[3] = -(cx * t1[0] + cy * t1[1] + cz * t1[2]) / sine;
      row[4] = -(cx * t2[0] + cy * t2[1] + cz * t2[2]) / sine;
      const noise = NOISE ** 2 * variance[i]! + (BESIDE * this.shift(this.against, i)) ** 2;
      this.add(-this.shift(this.aside, i), w / noise, 5);
      // With much travel the part along it says how near a point is, and nothing sure about turning.
      if (near > PARALLAX) continue;
      this.turnRow(this.against, i);
      this.add(near * sine - this.shift(this.against, i), this.along[i]! / (noise + spread * sine * sine), 3);
    }
    for (let i = 0; i < 5; i++) {
      for (let j = 0; j < i; j++) normal[i * 5 + j] = normal[j * 5 + i]!;
      normal[i * 6]! += i < 3 ? 1e-9 : 1e-6;
    }
  }

  /** How a turn about each axis shifts a point along one of its directions. */
  private turnRow(directions: Float64Array, i: number) {
    const { before } = this.pairs;
    const k = 3 * i;
    const [px, py, pz] = [before[k]!, before[k + 1]!, before[k + 2]!];
    const [x, y, z] = [directions[k]!, directions[k + 1]!, directions[k + 2]!];
    this.row[0] = py * z - pz * y;
    this.row[1] = pz * x - px * z;
    this.row[2] = px * y - py * x;
  }

  /** Adds the first `length` of the row to the upper half of the normal equations. */
  private add(value: number, weight: number, length: number) {
    const { row, normal, right } = this;
    for (let i = 0; i < length; i++) {
      const v = weight * row[i]!;
      right[i]! += v * value;
      for (let j = i; j < length; j++) normal[i * 5 + j]! += v * row[j]!;
    }
  }

  private turnBy(step: number[]) {
    const turn: Vec3 = [step[0]!, step[1]!, step[2]!];
    this.model.rotation = multiply(rotationAbout(turn), this.model.rotation);
    const [t1, t2] = tangents(this.model.travel);
    const limit = 0.5 / Math.max(0.5, Math.hypot(step[3]!, step[4]!));
    const t = [0, 1, 2].map((k) => this.model.travel[k]! + limit * (step[3]! * t1[k]! + step[4]! * t2[k]!));
    this.head(unit(vec3(t)));
  }

  /** Mean and spread of ρ over the points that agree and are not far nearer than most; turns the travel round if points come from the other side. */
  private spreadOf() {
    const { count } = this.pairs;
    let [sum, squares, total] = [0, 0, 0];
    for (let i = 0; i < count; i++) {
      const sine = this.sine[i]!;
      if (sine < 0.3) continue;
      const rho = this.shift(this.against, i) / sine;
      const w = this.along[i]!;
      sum += w * rho;
      squares += w * rho * rho;
      total += w;
    }
    if (total < 1e-6) return;
    const mean = sum / total;
    const [x, y, z] = this.model.travel;
    if (mean < 0) this.head([-x, -y, -z]);
    this.model.near = Math.abs(mean);
    this.model.spread = Math.max(0, squares / total - mean * mean - NOISE ** 2);
  }

  private outcome(): MotionFit {
    const { count } = this.pairs;
    const inliers = new Uint8Array(count);
    const left: number[] = [];
    for (let i = 0; i < count; i++)
      if (this.off[i]! < 2) {
        inliers[i] = 1;
        left.push(Math.abs(this.shift(this.aside, i)));
      }
    left.sort((a, b) => a - b);
    const residual = (left[left.length >> 1] ?? Math.PI) * DEGREES;
    // The equations were weighted with NOISE; what is truly left over scales the errors.
    const k = Math.max(0.3, residual / DEGREES / (0.67 * NOISE));
    const variances = inverseDiagonal(this.normal, 5);
    const root = (from: number, to: number) =>
      variances ? k * DEGREES * Math.sqrt(variances.slice(from, to).reduce((a, b) => a + b, 0)) : 180;
    return {
      rotation: this.model.rotation,
      travel: this.model.travel,
      travelError: Math.min(180, root(3, 5)),
      error: Math.min(180, root(0, 3)),
      parallax: this.model.near,
      share: left.length / count,
      residual,
      inliers,
    };
  }
}
