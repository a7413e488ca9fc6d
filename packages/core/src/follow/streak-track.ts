/** Streaks as if they were subjects: drawn, and weighed in a Sketch, by the same means. */
import { angleBetween, unit, vec3, type Vec3 } from '../geometry/rotation.js';
import { foundIn, type Moving, type MovingLook, type MovingStreak } from '../moving/moving.js';
import { foundOf, isSeen, lookOf, type SubjectLook, type SubjectTrack } from './subject.js';

/** Seconds up to which something is where it must have been between two looks. */
const BRIDGED = 1.5;

const directionOf = ([, x, y, z]: MovingLook): Vec3 => [x, y, z];

/** Where a streak is in every frame: as it was looked at, and between looks on the way from one to the next. */
export function trackOfStreak(
  { rate, every, frames }: Pick<Moving, 'rate' | 'every' | 'frames'>,
  { sure, looks }: Pick<MovingStreak, 'sure' | 'looks'>,
): SubjectTrack {
  const track: (SubjectLook | null)[] = Array.from({ length: frames }, () => null);
  looks.forEach((look, i) => {
    const next = looks[i + 1];
    const goesOn = next && (next[0] - look[0]) / rate <= BRIDGED;
    const until = goesOn ? next[0] : Math.min(frames, look[0] + every);
    for (let n = look[0]; n < until; n++) {
      const f = goesOn ? (n - look[0]) / (until - look[0]) : 0;
      const mix = (k: 1 | 2 | 3 | 4 | 5) => look[k] + (goesOn ? (next[k] - look[k]) * f : 0);
      const direction = unit(vec3([mix(1), mix(2), mix(3)]));
      track[n] = lookOf({ direction, width: mix(4), height: mix(5), trust: sure });
    }
  });
  return { format: 'glimbo-subject', version: 2, rate, looks: track };
}

/** What was surely found, each as a track. */
export const foundTracks = (moving: Moving): SubjectTrack[] =>
  foundIn(moving).map(({ streak }) => trackOfStreak(moving, moving.streaks[streak]!));

/** Share of a streak's looks at which a subject must be in it to be the same. */
const SAME = 0.5;

/** Whether a subject is what a streak shows, as far as both are seen. */
export function isSubject({ looks }: Pick<MovingStreak, 'looks'>, track: SubjectTrack): boolean {
  let [both, met] = [0, 0];
  for (const look of looks) {
    const there = track.looks[look[0]];
    if (!isSeen(there)) continue;
    both++;
    if (angleBetween(directionOf(look), foundOf(there).direction) < Math.max(look[4], look[5]) / 2) met++;
  }
  return both > 0 && met >= SAME * both && both >= SAME * looks.length;
}
