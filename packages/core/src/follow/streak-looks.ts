/** Where a streak is at any frame, as a subject's look says it: between the frames that were looked at, on the way from one to the next. */
import { angleBetween, unit, vec3 } from '../geometry/rotation.js';
import { lookDirection, largerSide, type Moving, type MovingStreak } from '../moving/moving.js';
import { foundOf, isSeen, lookOf, type SubjectLook, type SubjectTrack } from './subject.js';

/** Seconds up to which something is on its way between two looks; where it was away for longer, nobody knows where. */
const BRIDGED = 1.5;

/** What a footage's streaks have in common. */
type Looked = Pick<Moving, 'rate' | 'every'>;
type Looks = Pick<MovingStreak, 'sure' | 'looks'>;

/** How a streak is seen in a frame; null where it is not. */
export function lookOfStreak({ rate, every }: Looked, { sure, looks }: Looks, frame: number): SubjectLook | null {
  const i = lastUpTo(looks, frame);
  const look = looks[i];
  if (!look) return null;
  const next = looks[i + 1];
  const goesOn = next && (next[0] - look[0]) / rate <= BRIDGED;
  if (!goesOn && frame >= look[0] + every) return null;
  const f = goesOn ? (frame - look[0]) / (next[0] - look[0]) : 0;
  const mix = (k: 1 | 2 | 3 | 4 | 5) => look[k] + (goesOn ? (next[k] - look[k]) * f : 0);
  return lookOf({ direction: unit(vec3([mix(1), mix(2), mix(3)])), width: mix(4), height: mix(5), trust: sure });
}

/** The place of the last look up to a frame; −1 where there is none. */
function lastUpTo(looks: MovingStreak['looks'], frame: number): number {
  let [low, high] = [0, looks.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (looks[middle]![0] <= frame) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** Share of a streak's looks at which a subject must be in it to be the same. */
const SAME = 0.5;

/** Whether a subject is what a streak shows, as far as both are seen. */
export function isSubject({ looks }: Pick<MovingStreak, 'looks'>, track: SubjectTrack): boolean {
  let met = 0;
  let both = 0;
  for (const look of looks) {
    const there = track.looks[look[0]];
    if (!isSeen(there)) continue;
    both++;
    if (angleBetween(lookDirection(look), foundOf(there).direction) < largerSide(look) / 2) met++;
  }
  return both > 0 && both >= SAME * looks.length && met >= SAME * both;
}
