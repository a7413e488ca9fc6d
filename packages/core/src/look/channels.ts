/** The dials of a grade over time: each one number, or keyed like the path's channels. */
import { evaluate, type Channel } from '../curve/channel.js';
import { NEUTRAL, type Grade } from './settings.js';

export type GradeName = keyof Grade;
export const GRADE_NAMES = Object.keys(NEUTRAL) as GradeName[];

/** Dials that are not there do nothing. */
export type GradeCurves = Partial<Record<GradeName, Channel>>;

/** The grade at a time in seconds of the footage. */
export function gradeAt(curves: GradeCurves, time: number): Grade {
  const grade = { ...NEUTRAL };
  for (const name of GRADE_NAMES) grade[name] = evaluate(curves[name] ?? 0, time, 0);
  return grade;
}

export const isNeutral = (grade: Partial<Grade>) => GRADE_NAMES.every((name) => (grade[name] ?? 0) === 0);
