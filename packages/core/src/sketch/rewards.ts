/** What each view is worth in each moment, and how that wears off where it was seen for long. */
import { wrapHeading } from '../geometry/rotation.js';
import type { Way } from './best-way.js';
import { headingOf, HEADINGS, type Moment, type Wanted } from './interest.js';
import { FOVS, halfAngles, inFrame, LEVEL_TILT, STATES, TILTS } from './views.js';

/** Activity below this is noise; small things count more than in proportion, and many less. */
const NOISE = 0.035;
const SMALL = 0.25;
/** How much closer views are liked. */
const CLOSER = 0.1;
const MUCH = 0.4;
/** What things that move by themselves add; of several at once the one that is worth the most counts most (a norm of this power). */
const THING = 1.5;
const SEVERAL = 2;
/** What marks, subjects and those that must be seen add. */
export const MARKED = 1.6;
export const SUBJECT = 1.2;
export const REQUIRED = 8;

/** How much of each cell's activity is in the frame, by how many cells it is off the frame's middle, for each field of view. */
const seenShares = (ratio: number): Float64Array[] =>
  halfAngles(ratio).map(({ across }) =>
    Float64Array.from({ length: HEADINGS }, (_, d) => inFrame(wrapHeading((d * 360) / HEADINGS), across)),
  );

/** What each view is worth in each moment. */
export function rewardsOf(
  moments: readonly Moment[],
  subjects: readonly Wanted[],
  ratio: number,
  fresh: readonly Fresh[],
): Float32Array[] {
  const angles = halfAngles(ratio);
  const shares = seenShares(ratio);
  return moments.map(({ activity, things, subjects: seen, mark }, k) => {
    const worth = activity.map((a, h) => (a > NOISE ? fresh[k]!.headings[h]! * a ** SMALL : 0));
    const level = shares.map((share) =>
      Float64Array.from({ length: HEADINGS }, (_, heading) => {
        let sum = 0;
        for (let h = 0; h < HEADINGS; h++) sum += worth[h]! * share[(h - heading + HEADINGS) % HEADINGS]!;
        return sum ** MUCH;
      }),
    );
    const row = new Float32Array(STATES.length);
    STATES.forEach(({ heading, tilt, fov }, s) => {
      const { across, up } = angles[fov]!;
      const pan = headingOf(heading);
      // Activity is known along the horizon only.
      let sum =
        level[fov]![heading]! * inFrame(TILTS[tilt]! - TILTS[LEVEL_TILT], up) * (FOVS[1] / FOVS[fov]!) ** CLOSER;
      const within = (s: { pan: number; tilt: number }) =>
        inFrame(wrapHeading(s.pan - pan), across) * inFrame(s.tilt - TILTS[tilt]!, up);
      const fillsOf = (size: number) => Math.min(1, size / (0.25 * up)) ** 0.5;
      let moving = 0;
      for (const thing of things)
        moving += (within(thing) * fillsOf(thing.size) * thing.worth * fresh[k]!.things[thing.of]!) ** SEVERAL;
      sum += THING * moving ** (1 / SEVERAL);
      for (const subject of seen) {
        const { of, size } = subject;
        const fills = fillsOf(size);
        sum += within(subject) * (subjects[of]!.want === 'must' ? REQUIRED : SUBJECT * fills * fresh[k]!.subjects[of]!);
      }
      row[s] = sum * (mark === null ? 1 : MARKED) - 0.15 * Math.abs(tilt - LEVEL_TILT);
    });
    return row;
  });
}

/** How fresh what could be seen still is, 0 to 1: activity by heading, and each subject. */
export interface Fresh {
  headings: Float32Array;
  things: number[];
  subjects: number[];
}

/**
 * How fresh each heading's activity still is in each moment, 0 to 1, where a way has been seen: the same thing, followed from moment to
 * moment as far as it may have gone, wears off the longer it was in the frame.
 */
export function freshness(
  way: Way,
  moments: readonly Moment[],
  { ratio, step, weary, count, things }: { ratio: number; step: number; weary: number; count: number; things: number },
): Fresh[] {
  const angles = halfAngles(ratio);
  const worn = (seconds: number) => 1 / (1 + (seconds / weary) ** 2);
  let seen = new Float32Array(HEADINGS);
  const met = Array.from({ length: count }, () => 0);
  const metThings = Array.from({ length: things }, () => 0);
  return moments.map(({ activity, subjects, things: there }, k): Fresh => {
    const { heading, fov } = STATES[way.states[k]!]!;
    const within = (pan: number) => inFrame(wrapHeading(pan - headingOf(heading)), angles[fov]!.across);
    const now = new Float32Array(HEADINGS);
    for (let h = 0; h < HEADINGS; h++) {
      for (let d = -GOES; d <= GOES; d++) now[h] = Math.max(now[h]!, seen[(h + d + HEADINGS) % HEADINGS]!);
      if (activity[h]! <= NOISE) now[h] = seen[h]! * 0.8;
    }
    const fresh = {
      headings: now.map(worn),
      things: metThings.map(worn),
      subjects: met.map(worn),
    };
    for (let h = 0; h < HEADINGS; h++) now[h]! += step * within(headingOf(h));
    for (const { of, pan } of subjects) met[of]! += step * within(pan);
    for (const { of, pan } of there) metThings[of]! += step * within(pan);
    seen = now;
    return fresh;
  });
}

/** Cells that a thing may go on in a step. */
const GOES = 3;
