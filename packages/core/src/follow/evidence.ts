/** What a look at a subject comes to, and how far that is to be trusted against what is usual for it. */

/** From which share of its box on a subject is taken not to be part of the still world. */
export const APART = 0.2;
/** From which share of a box on what is told from the world is all of a subject. */
export const APART_WHOLE = 0.4;
/** Below this share of what is usual it counts against a subject that it is like the world. */
const GONE = 0.35;
/** From this share on all of it is told from the world. */
export const WHOLE = 0.85;
/** From which trust on what is seen is learned, and how much of what is usual gives way then. */
export const LEARNS_FROM = 0.8;
const LEARN_USUAL = 0.03;

/** What a look comes to: how high both filters answer, and how much of it has the subject's colours, or is not the world. */
export interface Evidence {
  peak: number;
  first: number;
  colour: number;
  /** Share of its box that is not the still world; 0 where that is not known. */
  apart: number;
}

/** And how far the answer stands out, and where in the look it is, in cells from its middle, right and down. */
export interface Answer extends Evidence {
  ratio: number;
  x: number;
  y: number;
}

/**
 * How far an answer is to be trusted, 0 to 1; `canBeGone`: whether the still world is known, and nothing was recognised there. Without
 * anything usual it is the first.
 */
export function trustOf({ peak, colour, apart, ratio }: Answer, usual: Evidence | null, canBeGone: boolean): number {
  if (!usual) return 1;
  // What was not the world and now is like it has gone, unless it is recognised: then it stands still for long.
  const byApart = canBeGone && usual.apart > APART ? Math.min(1, apart / usual.apart / GONE) : 1;
  const byPeak = Math.min(1, peak / usual.peak / 0.8);
  const byColour = Math.min(1, colour / usual.colour / 0.85);
  const byRatio = Math.max(0, Math.min(1, (ratio - 3) / 6));
  return Math.max(0, Math.min(byPeak, byColour, byApart)) * (0.4 + 0.6 * byRatio);
}

/** What is usual after an answer of some trust, so many frames after the one before. */
export function usualAfter(usual: Evidence | null, answer: Answer, trust: number, frames = 1): Evidence {
  const before = usual ?? answer;
  const k = trust > LEARNS_FROM ? 1 - (1 - LEARN_USUAL) ** frames : 0;
  const mean = (of: keyof Evidence) => before[of] + k * (answer[of] - before[of]);
  return { peak: mean('peak'), first: Math.max(0.05, mean('first')), colour: mean('colour'), apart: mean('apart') };
}
