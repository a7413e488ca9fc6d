/** Checks eases, values and keyframes that come from outside, each problem in words. */
import { EASES } from './ease.js';

export const MOST_KEYFRAMES = 20_000;

/** A number that can be calculated with. */
export const finite = (v: unknown): v is number => typeof v === 'number' && Number.isFinite(v) && Math.abs(v) < 1e7;

/** What is wrong with an ease; null when it is one, or absent. */
export function easeProblem(ease: unknown): string | null {
  if (ease === undefined || (EASES as readonly unknown[]).includes(ease)) return null;
  const [x1, , x2] = Array.isArray(ease) && ease.length === 4 && ease.every(finite) ? (ease as number[]) : [];
  if (x1 !== undefined && x2 !== undefined && x1 >= 0 && x1 <= 1 && x2 >= 0 && x2 <= 1) return null;
  return `an ease is one of ${EASES.join(', ')}, or [x1, y1, x2, y2] with x1 and x2 from 0 to 1`;
}

/** Seconds that any footage may last. */
export const LONGEST = 1e6;

/** What is wrong with a value or keyframes that should lie within limits; null when nothing is, or they are absent. */
export function valuesProblem(name: string, [least, most]: readonly [number, number], channel: unknown): string | null {
  const valued = (v: unknown) => finite(v) && v >= least && v <= most;
  if (channel === undefined || valued(channel)) return null;
  if (typeof channel === 'number') return `${name} lies from ${least} to ${most}`;
  if (!Array.isArray(channel)) return 'a channel is a number or a list of keyframes';
  if (channel.length > MOST_KEYFRAMES) return `a channel has at most ${MOST_KEYFRAMES} keyframes`;
  let before = -Infinity;
  for (const key of channel as Record<string, unknown>[]) {
    if (!key || !finite(key.time) || !finite(key.value))
      return 'each keyframe needs a time and a value that are numbers';
    if (key.time < 0 || key.time > LONGEST) return `the time of a keyframe lies from 0 to ${LONGEST} seconds`;
    if (!valued(key.value)) return `${name} lies from ${least} to ${most}`;
    if (key.time <= before) return 'keyframes must be in order of time, no two at the same time';
    before = key.time;
    if (key.turn !== undefined && key.turn !== 'dials' && key.turn !== 'arc')
      return "a keyframe's turn is dials or arc";
    const problem = easeProblem(key.ease);
    if (problem) return problem;
  }
  return null;
}
