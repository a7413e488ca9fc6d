/**
 * The motion between two frames, from directions of the same points in both: a refinement, seeded by RANSAC over pairs of
 * points and tried from several beginnings.
 */
import { apply, transpose, type Vec3 } from '../geometry/rotation.js';
import { aligned, seed } from './align.js';
import type { Pairs } from './pairs.js';
import type { Beginning, MotionFit } from './motion-fit.js';
import { Refinement } from './refine.js';

/** Fewest points that a motion is fitted to. */
export const FEWEST = 12;
/** Share of agreeing points from which on no other beginning is tried. */
const AGREED = 0.95;
/** Of what agreed in the last frame, so much has to agree again. */
const NEARLY = 0.97;
/**
 * Rounds in which a point far nearer than most counts for nothing, if far ones come first. From a rotation that is well
 * off far ones lead the right way; where what is near is most of what is seen, they may miss it.
 */
const FAR_FIRST = 5;
/** Standard error in degrees of a direction of travel from which the next fit may begin. */
const CLEAR = 4;

/**
 * Fits the motion; `start` is what to try first, such as the last frame's. A refinement may end where turning and travel
 * stand in for each other: of several beginnings the one on which most points agree is taken. Null with too few points.
 */
export const fitMotion = (pairs: Pairs, start: Beginning): MotionFit | null =>
  bestOf(pairs, Math.min(AGREED, NEARLY * (start.share ?? 1)), [
    () => new Refinement(pairs, { ...start, rotation: aligned(pairs, start.rotation) }, FAR_FIRST),
    () => new Refinement(pairs, { rotation: start.rotation }, 0),
    () => new Refinement(pairs, { rotation: aligned(pairs, seed(pairs, start.rotation)) }, FAR_FIRST),
  ]);

/** The same from a rotation known to within a degree: with much travel chance rotations may carry more along. */
export const refineMotion = (pairs: Pairs, start: Beginning): MotionFit | null =>
  bestOf(pairs, AGREED, [() => new Refinement(pairs, start, FAR_FIRST), () => new Refinement(pairs, start, 0)]);

/** The direction of travel in the later frame's axes, if it is clear enough for the next fit to begin from. */
export const clearTravel = ({ rotation, travel, travelError }: MotionFit): Vec3 | undefined =>
  travelError < CLEAR ? apply(transpose(rotation), travel) : undefined;

function bestOf(pairs: Pairs, enough: number, beginnings: (() => Refinement)[]): MotionFit | null {
  let best: MotionFit | null = null;
  if (pairs.count < FEWEST) return best;
  for (const begin of beginnings) {
    const fit = begin().run();
    if (!best || fit.share > best.share) best = fit;
    if (best.share >= enough) break;
  }
  return best;
}
