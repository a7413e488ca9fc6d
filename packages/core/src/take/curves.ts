/** The curves of a take under one roof, so that whatever is keyed is edited alike. */
import { GRADE_NAMES } from '../look/channels.js';
import { CHANNELS, type Curves } from '../path/path.js';
import { withGrade } from './look.js';
import type { Take } from './take.js';

/** A take is never changed: its curves are gathered once. */
const found = new WeakMap<Take, Curves>();

export function curvesOf(take: Take): Curves {
  const known = found.get(take);
  if (known) return known;
  // Without a grade the path itself, so that what is known of it stays known.
  const curves = take.look?.grade ? { ...take.path, ...take.look.grade } : take.path;
  found.set(take, curves);
  return curves;
}

/** A take with other curves; its path stays the same object where none of its channels changed. */
export function withCurves(take: Take, curves: Curves): Take {
  const { path } = take;
  const same = path.turn === curves.turn && CHANNELS.every((name) => path[name] === curves[name]);
  const grade = Object.fromEntries(GRADE_NAMES.map((name) => [name, curves[name]]));
  const own = Object.fromEntries(Object.entries(curves).filter(([name]) => !(name in grade)));
  return withGrade(same ? take : { ...take, path: { ...path, ...own } }, grade);
}
