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
import type { Beginning, MotionFit } from './motion-fit.js';
import { tangents, travelOf } from './travel.js';
import { NOISE, type Pairs } from './pairs.js';

const ROUNDS = 14;
/** Rounds after which it is looked at how noisy the points are, and the most that is believed: half a pixel of 1024 round. */
const LOOKED_AT = [4, 7];
const NOISIEST = 5 * NOISE;
/** A point that shifts far is found beside its place by this share of the shift: it would lead the direction of travel alone. */
const BESIDE = 0.01;
/** Mean shift by travel in radians from which on only the parts of shifts across it count. */
const PARALLAX = 2.5 * NOISE;
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
  private scale = COARSE;
  /** What points are off across the travel, as a standard deviation in radians. */
  private noise = NOISE;

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
      if (LOOKED_AT.includes(round)) this.noise = this.noiseOf();
      this.scale = Math.max(2.5 * this.noise, this.scale * 0.65);
      if (round > 6 && Math.hypot(step[0]!, step[1]!, step[2]!) < 1e-6) break;
    }
    this.weigh(false);
    return this.outcome();
  }

  /** Shifts left over after the rotation, tangent to the sphere at the earlier directions. */
  private measure() {
    const { before, after, count } = this.pairs;
    const r = this.model.rotation;
    for (let k = 0; k < 3 * count; k += 3) {
      const px = before[k]!;
      const py = before[k + 1]!;
      const pz = before[k + 2]!;
      const ax = after[k]!;
      const ay = after[k + 1]!;
      const az = after[k + 2]!;
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
      const px = before[k]!;
      const py = before[k + 1]!;
      const pz = before[k + 2]!;
      const d = tx * px + ty * py + tz * pz;
      const x = d * px - tx;
      const y = d * py - ty;
      const z = d * pz - tz;
      const sine = Math.sqrt(x * x + y * y + z * z);
      const s = sine > 1e-6 ? 1 / sine : 0;
      const mx = x * s;
      const my = y * s;
      const mz = z * s;
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
    const [[sx, sy, sz], [tx, ty, tz]] = tangents(travel);
    const { flow, aside, against, normal } = this;
    normal.fill(0);
    this.right.fill(0);
    for (let i = 0, k = 0; i < count; i++, k += 3) {
      const w = this.weights[i]!;
      const sine = this.sine[i]!;
      if (w < 1e-4 || sine < 0.02) continue;
      const px = before[k]!;
      const py = before[k + 1]!;
      const pz = before[k + 2]!;
      const fx = flow[k]!;
      const fy = flow[k + 1]!;
      const fz = flow[k + 2]!;
      const cx = fy * pz - fz * py;
      const cy = fz * px - fx * pz;
      const cz = fx * py - fy * px;
      // How a turn about each axis shifts the point across the travel, and then along it.
      const x = aside[k]!;
      const y = aside[k + 1]!;
      const z = aside[k + 2]!;
      const noise = NOISE ** 2 * variance[i]! + (BESIDE * this.shift(against, i)) ** 2;
      const s = -(cx * sx + cy * sy + cz * sz) / sine;
      const t = -(cx * tx + cy * ty + cz * tz) / sine;
      this.add(py * z - pz * y, pz * x - px * z, px * y - py * x, s, t, -this.shift(aside, i), w / noise);
      // With much travel the part along it says how near a point is, and nothing sure about turning.
      if (near > PARALLAX) continue;
      const u = against[k]!;
      const v = against[k + 1]!;
      const m = against[k + 2]!;
      const weight = this.along[i]! / (noise + spread * sine * sine);
      this.add(py * m - pz * v, pz * u - px * m, px * v - py * u, 0, 0, near * sine - this.shift(against, i), weight);
    }
    for (let i = 0; i < 5; i++) {
      for (let j = 0; j < i; j++) normal[i * 5 + j] = normal[j * 5 + i]!;
      normal[i * 6]! += i < 3 ? 1e-9 : 1e-6;
    }
  }

  /** Adds a row of five to the upper half of the normal equations. Written out, since most of a fit's time goes here. */
  private add(a: number, b: number, c: number, d: number, e: number, value: number, weight: number) {
    const { normal, right } = this;
    const wa = weight * a;
    const wb = weight * b;
    const wc = weight * c;
    const wd = weight * d;
    const we = weight * e;
    right[0]! += wa * value;
    right[1]! += wb * value;
    right[2]! += wc * value;
    right[3]! += wd * value;
    right[4]! += we * value;
    normal[0]! += wa * a;
    normal[1]! += wa * b;
    normal[2]! += wa * c;
    normal[3]! += wa * d;
    normal[4]! += wa * e;
    normal[6]! += wb * b;
    normal[7]! += wb * c;
    normal[8]! += wb * d;
    normal[9]! += wb * e;
    normal[12]! += wc * c;
    normal[13]! += wc * d;
    normal[14]! += wc * e;
    normal[18]! += wd * d;
    normal[19]! += wd * e;
    normal[24]! += we * e;
  }

  private turnBy(step: number[]) {
    const turn: Vec3 = [step[0]!, step[1]!, step[2]!];
    this.model.rotation = multiply(rotationAbout(turn), this.model.rotation);
    const [t1, t2] = tangents(this.model.travel);
    const limit = 0.5 / Math.max(0.5, Math.hypot(step[3]!, step[4]!));
    const t = [0, 1, 2].map((k) => this.model.travel[k]! + limit * (step[3]! * t1[k]! + step[4]! * t2[k]!));
    this.head(unit(vec3(t)));
  }

  /**
   * How far good points are off, from the median over all: in poor footage that is much, and to take only those for right that
   * agree to a tenth of a pixel would be to follow the few blocks that the encoder left where they were.
   */
  private noiseOf(): number {
    const { count, variance } = this.pairs;
    const off = new Float64Array(count);
    for (let i = 0; i < count; i++) off[i] = Math.abs(this.shift(this.aside, i)) / Math.sqrt(variance[i]!);
    return Math.max(NOISE, Math.min(NOISIEST, 1.48 * off.sort()[count >> 1]!));
  }

  /**
   * Mean and spread of ρ over the points that agree and are not far nearer than most; turns the travel round if points come from the
   * other side.
   */
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
    let [along, across] = [0, 1e-12];
    for (let i = 0; i < count; i++) {
      if (this.off[i]! >= 2) continue;
      inliers[i] = 1;
      const aside = this.shift(this.aside, i);
      left.push(Math.abs(aside));
      along += this.shift(this.against, i) ** 2;
      across += aside ** 2;
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
      stretched: Math.sqrt(along / across),
      share: left.length / count,
      residual,
      inliers,
    };
  }
}
