/** What was found in a footage: of all streaks those that somebody may want to follow. */
import { largerSide, rounded, type Kind, type Moving, type MovingLook } from './moving.js';
import { isPartOf } from './part-of.js';

/** From which sureness on a streak is something that somebody may want to follow. */
const SURELY_MOVES = 0.5;

/** Something that was found: its place in the list of streaks, when and how large it is seen, and a look at which it is seen well. */
export interface FoundMoving {
  streak: number;
  kind: Kind | null;
  /** Seconds. */
  in: number;
  out: number;
  /** Degrees across its larger side, in the middle of its looks. */
  size: number;
  sure: number;
  look: MovingLook;
}

/** Which of its looks, by size, shows something well: a large one, but not the largest, where two may have met. */
const WELL = 0.75;

/** What was surely found and is no part of something else that was, by when it is first seen. */
export function foundIn({ streaks, rate, every, frames }: Moving): FoundMoving[] {
  const surely = streaks.map((streak, n) => ({ ...streak, n })).filter((s) => s.sure >= SURELY_MOVES && s.looks.length);
  return surely
    .filter((s) => !surely.some((other) => other !== s && isPartOf(s.looks, other.looks)))
    .map(({ sure, kind = null, looks, n }) => {
      const bySize = [...looks].sort((a, b) => largerSide(a) - largerSide(b));
      return {
        streak: n,
        kind,
        in: rounded(looks[0]![0] / rate, 3),
        out: rounded(Math.min(frames, looks.at(-1)![0] + every) / rate, 3),
        size: largerSide(bySize[looks.length >> 1]!),
        sure,
        look: bySize[Math.floor(looks.length * WELL)]!,
      };
    })
    .sort((a, b) => a.in - b.in);
}
