/** Why a Sketch looks where it does. */
import { wrapHeading } from '../geometry/rotation.js';
import type { Way } from './best-way.js';
import { headingOf, type Moment, type Wanted } from './interest.js';
import { halfAngles, inFrame, STATES, TILTS } from './views.js';

/** Why the camera looks where it does in a stretch, in seconds. */
export interface Reason {
  from: number;
  to: number;
  why: { kind: 'activity'; heading: number } | { kind: 'subject'; name: string } | { kind: 'calm' };
  /** Whether a mark lies in it. */
  mark: boolean;
}

/** Below this activity in the frame nothing in particular is its reason. */
const CALM = 0.25;
/** How much within the frame a subject is its reason; of several the one that is seen largest. */
const WITHIN = 0.3;

/** Why it looks where it does, step by step, what is the same joined. */
export function reasonsOf(
  way: Way,
  moments: readonly Moment[],
  subjects: readonly Wanted[],
  ratio: number,
  step: number,
): Reason[] {
  const angles = halfAngles(ratio);
  const reasons: Reason[] = [];
  moments.forEach(({ time, activity, things, subjects: seen, mark }, k) => {
    const { heading, tilt, fov } = STATES[way.states[k]!]!;
    const { across, up } = angles[fov]!;
    const pan = headingOf(heading);
    const [subject] = seen
      .map((s) => ({ ...s, within: inFrame(wrapHeading(s.pan - pan), across) * inFrame(s.tilt - TILTS[tilt]!, up) }))
      .filter(({ within }) => within > WITHIN)
      .sort((a, b) => b.within * b.size - a.within * a.size);
    let [liveliest, most] = [pan, 0];
    activity.forEach((a, h) => {
      const worth = a * inFrame(wrapHeading(headingOf(h) - pan), across);
      if (worth > most) [liveliest, most] = [headingOf(h), worth];
    });
    for (const thing of things) {
      const worth = thing.worth * inFrame(wrapHeading(thing.pan - pan), across);
      if (worth > most) [liveliest, most] = [thing.pan, worth];
    }
    const why: Reason['why'] = subject
      ? { kind: 'subject', name: subjects[subject.of]!.name }
      : most > CALM
        ? { kind: 'activity', heading: liveliest }
        : { kind: 'calm' };
    const last = reasons.at(-1);
    const same = last && !way.cutAt.includes(k) && sameWhy(last.why, why);
    if (same) Object.assign(last, { to: time + step / 2, mark: last.mark || mark !== null });
    else reasons.push({ from: time - step / 2, to: time + step / 2, why, mark: mark !== null });
  });
  return reasons;
}

/** Degrees within which activity counts as the same thing going on. */
const SAME_THING = 35;

function sameWhy(a: Reason['why'], b: Reason['why']): boolean {
  if (a.kind === 'activity' && b.kind === 'activity') return Math.abs(wrapHeading(a.heading - b.heading)) < SAME_THING;
  if (a.kind === 'subject' && b.kind === 'subject') return a.name === b.name;
  return a.kind === b.kind;
}
