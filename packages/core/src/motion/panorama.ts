/**
 * A panorama of what was seen in the last frames, and the turn of each new frame against it: every pixel says a little, also where
 * there is no corner to follow, and what is noise in single frames, or was left where it was by the encoder, is not in their mean.
 * That holds where nothing but turning changes the picture; what is near a rig that travels has to be left out.
 * Least squares on grey levels (Lucas and Kanade 1981). No weight falls with the difference: that would be to follow the blocks that
 * an encoder left where they were.
 */
import { angleOf, IDENTITY, multiply, rotationAbout, transpose, type Matrix3, vec3 } from '../geometry/rotation.js';
import { solveSymmetric } from '../geometry/solve.js';
import type { PatchTracker, WholeModel } from './tracker.js';

const ROUNDS = 5;
/**
 * How steep the picture must be to count, in grey levels a radian for each grey level by which panorama and picture still differ: where
 * an encoder had to save, what is faint was left where it was, and what is steep was not.
 */
const STEEP = 1000;
/** Grey levels by which they differ, before that is known. */
const DIFFERENT = 6;
/** Radians from which on a step is the last. */
const STILL = 2e-5;
/** Share of the panorama that a new frame becomes. */
const SHARE = 0.05;
const UNKNOWNS = 5;

export class Panorama {
  /** How it is seen in the last picture; null before there is one. */
  private model: WholeModel | null = null;

  constructor(private readonly tracker: PatchTracker) {}

  /** Has it begin anew with the next picture. */
  forget() {
    this.model = null;
  }

  /**
   * Takes the next picture; `turn`, which turns a direction of it into the last one's axes, is right to `within` degrees. Gives that
   * turn as the panorama has it; null where there is none, or where it says otherwise.
   */
  next(turn: Matrix3, weights: Float32Array, within: number): Matrix3 | null {
    const last = this.model;
    if (!last) return this.begin();
    const guess = multiply(transpose(turn), last.rotation);
    const found = this.align({ ...last, rotation: guess, steep: STEEP * DIFFERENT }, weights);
    if (!found || angleOf(multiply(transpose(guess), found.rotation)) > within) return this.begin();
    this.model = found;
    this.tracker.mixIn(found, SHARE);
    return multiply(last.rotation, transpose(found.rotation));
  }

  private begin(): null {
    this.model = { rotation: IDENTITY, gain: 1, lift: 0, steep: STEEP * DIFFERENT };
    this.tracker.mixIn(this.model, 1);
    return null;
  }

  private align(model: WholeModel, weights: Float32Array): WholeModel | null {
    for (let round = 0; round < ROUNDS; round++) {
      const sums = this.tracker.compare(model, weights);
      const step = stepOf(sums);
      if (!step) return null;
      model.rotation = multiply(model.rotation, rotationAbout(vec3(step.slice(0, 3).map((v) => -v))));
      model.gain += step[3]!;
      model.lift += step[4]!;
      model.steep = STEEP * Math.sqrt(sums[21]! / sums[20]!);
      if (Math.hypot(step[0]!, step[1]!, step[2]!) < STILL) break;
    }
    return model;
  }
}

/** Solves what was summed up. */
function stepOf(sums: Float64Array): number[] | null {
  const matrix = new Float64Array(UNKNOWNS * UNKNOWNS);
  for (let i = 0, k = 0; i < UNKNOWNS; i++)
    for (let j = i; j < UNKNOWNS; j++, k++) matrix[i * UNKNOWNS + j] = matrix[j * UNKNOWNS + i] = sums[k]!;
  return solveSymmetric(matrix, sums.subarray(15, 20), UNKNOWNS);
}
