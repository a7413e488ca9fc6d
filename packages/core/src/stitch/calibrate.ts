/**
 * Calibrating two lenses on one picture: features that both see in their overlap are matched, and the lenses'
 * orientation, centres, fields of view and radial terms are changed until both put each feature in one direction.
 *
 * What the overlap cannot tell apart (a lens's centre from its tilt, its field of view from a radial term) is held
 * by a prior at what was assumed before: the seam fits all the same. Near things shift between the lenses by their
 * parallax, most of all the ground below: its share is solved for too, and single near things are outvoted.
 */
import { solveSymmetric } from '../geometry/solve.js';
import { angleBetween, DEGREES, RADIANS } from '../geometry/rotation.js';
import { matchFeatures, type FeaturePair } from './features.js';
import { lensDirection, type Lens } from './lens.js';
import { bandDirection, lensMapper, overlapHalf, type Picture } from './overlap.js';
import { ToldError } from '../boundary/told-error.js';

export interface Calibration {
  lenses: [Lens, Lens];
  /** How many features agreed, of how many that were matched. */
  used: number;
  matched: number;
  /** Median angle in degrees between the directions in which the two lenses put a feature. */
  before: number;
  after: number;
}

/**
 * The rounds of a calibration: how far apart in degrees the lenses may put the same detail, and how far off in degrees
 * a detail may be before it is thought to be a wrong match. Coarse first, so that lenses far off are caught too.
 */
const ROUNDS = [
  { reach: 6, noise: 0.8 },
  { reach: 2, noise: 0.2 },
  { reach: 0.8, noise: 0.04 },
];

/** Fewer features than this cannot hold the solution. */
const FEWEST = 24;

export class CalibrationError extends ToldError {}

/** What may change, with the deviation that is thought likely: degrees, pixels (times the circle's radius), plain numbers. */
const PARAMETERS: { of: 0 | 1; key: keyof Lens; spread: number; perRadius?: boolean }[] = [
  { of: 1, key: 'pan', spread: 2 },
  { of: 1, key: 'tilt', spread: 2 },
  { of: 1, key: 'roll', spread: 2 },
  ...([0, 1] as const).flatMap((of) => [
    { of, key: 'centreX' as const, spread: 0.006, perRadius: true },
    { of, key: 'centreY' as const, spread: 0.006, perRadius: true },
    { of, key: 'fov' as const, spread: 2 },
    { of, key: 'k1' as const, spread: 0.01 },
    { of, key: 'k2' as const, spread: 0.002 },
  ]),
];

/** Angle in degrees within which a detail counts as agreeing. */
const AGREES = 0.25;

/** Solves the lenses of a two-lens recording from one picture. Throws CalibrationError when too little was found. */
export function calibrate(picture: Picture, lenses: readonly [Lens, Lens]): Calibration {
  const half = Math.min(9, overlapHalf(lenses));
  if (half < 1.5)
    throw new CalibrationError(
      'The lenses overlap too little to compare them: their fields of view must add up to at least 366°. Check the field of view.',
    );
  let solved: [Lens, Lens] = [lenses[0], lenses[1]];
  let x: Float64Array = new Float64Array(PARAMETERS.length + 1);
  let pairs: FeaturePair[] = [];
  let first: FeaturePair[] = [];
  // With better lenses more of the overlap lines up, and patches are compared less askew: done again and again, nearer by.
  for (const { reach, noise } of ROUNDS) {
    pairs = matchFeatures(picture, solved, half, reach);
    if (pairs.length < FEWEST)
      throw new CalibrationError(
        `Only ${pairs.length} matching details were found where the lenses overlap; ${FEWEST} are needed. Choose a frame with more detail at the seam.`,
      );
    if (!first.length) first = pairs;
    x = solve(pairs, lenses, x, noise);
    solved = lensesAt(lenses, x);
  }
  const fits = errorsOf(pairs, solved);
  return {
    lenses: solved,
    matched: pairs.length,
    used: fits.filter((e) => e < AGREES).length,
    before: median(errorsOf(first, lenses)),
    after: median(fits),
  };
}

const errorsOf = (pairs: FeaturePair[], [a, b]: readonly [Lens, Lens]) =>
  pairs.map(({ first, second }) => angleBetween(lensDirection(a, ...first), lensDirection(b, ...second)));

/** Levenberg–Marquardt over the parameters in units of their spread, with Cauchy's loss on the features. */
function solve(pairs: FeaturePair[], start: readonly [Lens, Lens], from: Float64Array, noise: number): Float64Array {
  const count = PARAMETERS.length + 1;
  let x = from;
  const residuals = (p: Float64Array) => residualsOf(pairs, lensesAt(start, p), p[count - 1]!, noise);
  let r = residuals(x);
  let cost = costOf(r, x);
  let damping = 1e-3;
  for (let step = 0; step < 60 && damping < 1e8; step++) {
    const jacobian = Array.from({ length: count }, (_, i) => {
      const moved = x.slice();
      moved[i]! += 1e-4;
      return residuals(moved).map((v, k) => (v - r[k]!) / 1e-4);
    });
    const weights = r.map((v) => 1 / (1 + v * v));
    const normal = new Float64Array(count * count);
    for (let i = 0; i < count; i++)
      for (let j = 0; j < count; j++) {
        let sum = i === j ? 1 : 0;
        for (let k = 0; k < r.length; k++) sum += weights[k]! * jacobian[i]![k]! * jacobian[j]![k]!;
        normal[i * count + j] = i === j ? sum * (1 + damping) : sum;
      }
    const slope = jacobian.map((row, i) => row.reduce((sum, v, k) => sum + weights[k]! * v * r[k]!, x[i]!));
    const change = solveSymmetric(normal, slope, count);
    if (!change) break;
    const tried = x.map((v, i) => v - change[i]!);
    const triedResiduals = residuals(tried);
    const triedCost = costOf(triedResiduals, tried);
    if (triedCost < cost) {
      const gained = cost - triedCost;
      [x, r, cost] = [tried, triedResiduals, triedCost];
      damping /= 4;
      if (gained < 1e-6 * cost) break;
    } else damping *= 5;
  }
  return x;
}

const costOf = (r: number[], x: Float64Array) =>
  r.reduce((sum, v) => sum + Math.log1p(v * v), 0) + x.reduce((sum, v) => sum + v * v, 0);

function lensesAt(start: readonly [Lens, Lens], x: Float64Array): [Lens, Lens] {
  const lenses: [Lens, Lens] = [{ ...start[0] }, { ...start[1] }];
  PARAMETERS.forEach(({ of, key, spread, perRadius }, i) => {
    lenses[of][key] += x[i]! * spread * (perRadius ? start[of].radius : 1);
  });
  return lenses;
}

/** Expected parallax of the ground straight below in degrees, as the spread of its parameter. */
const GROUND = 0.5;

/** How much more a detail may be off to the side to which nearness shifts it. */
const NEARNESS = 2;

/** Two residuals a feature, in units of the expected error: along the seam and across it, less the ground's parallax. */
function residualsOf(pairs: FeaturePair[], [a, b]: [Lens, Lens], ground: number, noise: number): number[] {
  return pairs.flatMap(({ first, second }) => {
    const p = lensDirection(a, ...first);
    const q = lensDirection(b, ...second);
    const n = Math.hypot(p[0], p[1]) || 1;
    // Unit vectors at p: along the seam (azimuth grows), and across it (offset grows).
    const along = ((p[0] - q[0]) * p[1] - (p[1] - q[1]) * p[0]) / n;
    const across = -(p[2] - q[2]) * n + ((p[0] - q[0]) * p[0] + (p[1] - q[1]) * p[1]) * (p[2] / n);
    const parallax = ground * GROUND * Math.max(0, -p[1]) * RADIANS;
    // What is nearer than thought is off to one side alone, and weighs less there.
    const off = across - parallax;
    return [along, off > 0 ? off / NEARNESS : off].map((v) => (v * DEGREES) / noise);
  });
}

export function median(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted.length ? sorted[sorted.length >> 1]! : NaN;
}

/**
 * Angle in degrees by which the lenses as assumed tear apart what the true lenses draw, along the seam's middle:
 * the mean over azimuths. For far things; known only where the true lenses are.
 */
export function seamError(
  assumed: readonly [Lens, Lens],
  truth: readonly [Lens, Lens],
): { mean: number; worst: number } {
  const maps = truth.map(lensMapper);
  const errors = Array.from({ length: 144 }, (_, i) => {
    const d = bandDirection(i * 2.5, 0);
    const [p, q] = [0, 1].map((n) => lensDirection(assumed[n]!, ...maps[n]!(d)));
    return angleBetween(p!, q!);
  });
  return { mean: errors.reduce((s, e) => s + e / errors.length, 0), worst: Math.max(...errors) };
}
