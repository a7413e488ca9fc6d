/** What was lost and may be found again somewhere else: in which sizes it is looked at there, and how sure that must be. */

/** It must be trusted as much as this at so many radians, more the farther away, within these bounds. */
const FOUND = { trust: 0.7, at: 0.3, more: 0.15, least: 0.5, most: 0.75 };
/** Radians that are no distance. */
const NEARLY = 0.02;
/** How many of the places are looked at in several sizes, and how far those lie apart: the more the longer it is lost. */
const CLOSELY = 3;
const SPREAD = { least: 1.4, more: 0.008, most: 2 };
/** Sizes in which the best place is looked at again, if it is no less sure than this. */
export const FINER = [0.84, 1.2];
export const NEAR_ENOUGH = -0.3;

/** How much something must be trusted (0 to 1) that is so many radians from where it was expected. */
export function needed(far: number): number {
  const { trust, at, more, least, most } = FOUND;
  return Math.max(least, Math.min(most, trust + more * Math.log((far + NEARLY) / (at + NEARLY))));
}

/** In which sizes, against the last one, the place of a rank (0 the best) is looked at after so many frames without it. */
export function sizesFor(rank: number, missing: number): number[] {
  if (rank >= CLOSELY) return [1];
  const spread = Math.min(SPREAD.most, SPREAD.least + SPREAD.more * missing);
  return [1 / spread, 1, spread];
}
