/** The turn from whole pictures, as long as nothing but the rig's turning changes them. */
import { angleBetween, apply, DEGREES, transpose, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { cellOf, type Grid } from './grid.js';
import type { MotionFit } from './motion-fit.js';
import { Panorama } from './panorama.js';
import type { RigParts } from './rig-parts.js';
import type { PatchTracker } from './tracker.js';

/**
 * How much farther points shift along the travel than across it, as a mean over some frames, from which on the rig is taken to travel:
 * without any it is 1 to 2.
 */
const TRAVELS = 2.3;
const TRAVELS_FOR = 10;
/** Degrees by which the whole picture may say otherwise than the points, and so many times what those are off among themselves. */
const APART = 0.05;
const APART_BY = 5;
/**
 * Radians of shift by travel from which on a place says little of turning (a quarter of a pixel of 1024 round), and so many times what
 * points are off anyhow.
 */
const NEAR = 0.0015;
const NEAR_BY = 8;
/** What counts of a cell in which a point goes its own way. */
const ASTRAY = 0.1;

/** A point that was followed: where it was in the last picture, and where it is. */
export interface Sighting {
  before: Vec3;
  direction: Vec3;
}

export class WholePictures {
  private readonly panorama: Panorama;
  /** Taken to travel until it is seen that it does not. */
  private travels = 1.5 * TRAVELS;

  constructor(
    tracker: PatchTracker,
    private readonly grid: Grid,
    private readonly rig: RigParts,
  ) {
    this.panorama = new Panorama(tracker);
  }

  /** Has it begin anew with the next picture. */
  forget() {
    this.panorama.forget();
  }

  /**
   * Takes the next picture, of which points say how it is turned: `fitted` those that were fitted, `points` all there are. Gives the
   * turn as the whole picture has it; null where the rig travels, or the picture says otherwise.
   */
  next(fit: MotionFit, fitted: readonly Sighting[], points: readonly Sighting[]): Matrix3 | null {
    this.travels += (fit.stretched - this.travels) / TRAVELS_FOR;
    if (this.travels <= TRAVELS)
      return this.panorama.next(fit.rotation, this.weights(fit, fitted, points), APART + APART_BY * fit.residual);
    this.forget();
    return null;
  }

  /** How much each cell of the grid counts: where nothing but the turn shifts what is seen. */
  private weights(fit: MotionFit, fitted: readonly Sighting[], points: readonly Sighting[]): Float32Array {
    const weights = new Float32Array(this.grid.cells).fill(1);
    const back = transpose(fit.rotation);
    const near = Math.max(NEAR, (NEAR_BY * fit.residual) / DEGREES);
    for (const { direction } of points) if (this.rig.has(direction)) weights[cellOf(this.grid, direction)] = 0;
    fitted.forEach(({ before, direction }, i) => {
      const cell = cellOf(this.grid, direction);
      const shift = angleBetween(apply(back, before), direction) / DEGREES;
      const counts = fit.inliers[i] ? 1 / (1 + (shift / near) ** 2) ** 2 : ASTRAY;
      weights[cell] = Math.min(weights[cell]!, counts);
    });
    return weights;
  }
}
