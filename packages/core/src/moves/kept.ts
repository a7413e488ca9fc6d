/**
 * What somebody keeps for later: moves, lenses, curves, moods and sets of Lookouts of their own, each a small open document
 * (docs/formats/kept.md). A move's keyframes have times from its first one on.
 */
import { DocumentError } from '../boundary/document-error.js';
import { unwrapNear } from '../geometry/rotation.js';
import { BEND_RANGE, FOV_MIN, maxFov } from '../lens/projection.js';
import type { View } from '../lens/view.js';
import { GRADE_NAMES } from '../look/channels.js';
import type { Grade } from '../look/settings.js';
import { fixedGradeProblem } from '../look/validate.js';
import type { Line, Lookout } from '../lookouts/lookouts.js';
import { readLookoutSet } from '../lookouts/validate.js';
import type { Clipping } from '../path/clipping.js';
import type { Bezier } from '../curve/ease.js';
import { readClipping } from '../path/validate-clipping.js';
import { easeProblem } from '../curve/values.js';

export type Kept =
  | { format: 'glimbo-move'; version: 1; name: string; keys: Clipping }
  | { format: 'glimbo-lens'; version: 1; name: string; fov: number; bend: number; tilt?: number }
  | { format: 'glimbo-curve'; version: 1; name: string; ease: Bezier }
  | { format: 'glimbo-mood'; version: 1; name: string; grade: Partial<Grade> }
  | { format: 'glimbo-lookouts'; version: 1; name: string; views: Lookout[]; line?: Line };

const KEPT_FORMATS = ['glimbo-move', 'glimbo-lens', 'glimbo-curve', 'glimbo-mood', 'glimbo-lookouts'] as const;

const number = (v: unknown, least: number, most: number, what: string): number => {
  if (typeof v !== 'number' || !(v >= least && v <= most))
    throw new DocumentError(`${what} lies from ${least} to ${most}`);
  return v;
};

/** A kept document from parsed JSON. Throws DocumentError. */
export function readKept(plain: unknown): Kept {
  const { format, version, name, ...rest } = (plain ?? {}) as Record<string, unknown>;
  if (!(KEPT_FORMATS as readonly unknown[]).includes(format) || version !== 1)
    throw new DocumentError('it is no move, curve, lens, mood or set of Lookouts of Glimbo’s');
  if (typeof name !== 'string' || !name.trim() || name.length > 80)
    throw new DocumentError('its name has 1 to 80 characters');
  const head = { version: 1 as const, name: name.trim() };
  if (format === 'glimbo-move') return { format, ...head, keys: readClipping(rest.keys) };
  if (format === 'glimbo-mood') {
    const problem = fixedGradeProblem(rest.grade);
    if (problem) throw new DocumentError(problem);
    return { format, ...head, grade: dialsOf(rest.grade as Partial<Grade>) };
  }
  if (format === 'glimbo-lookouts') return { format, ...head, ...readLookoutSet(rest) };
  if (format === 'glimbo-curve') {
    const problem = Array.isArray(rest.ease) ? easeProblem(rest.ease) : 'a curve is [x1, y1, x2, y2]';
    if (problem) throw new DocumentError(problem);
    return { format, ...head, ease: rest.ease as Bezier };
  }
  const bend = number(rest.bend, BEND_RANGE.min, BEND_RANGE.max, 'a bend');
  const fov = number(rest.fov, FOV_MIN, maxFov(bend), 'its field of view');
  const tilt = rest.tilt === undefined ? {} : { tilt: number(rest.tilt, -90, 90, 'a tilt') };
  return { format: 'glimbo-lens', ...head, fov, bend, ...tilt };
}

/** The dials of a grade that do something, and nothing else. */
const dialsOf = (grade: Partial<Grade>): Partial<Grade> =>
  Object.fromEntries(GRADE_NAMES.flatMap((name) => (grade[name] ? [[name, grade[name]]] : [])));

/** A move of one's own on a framed view: it begins at the heading that is framed; everything else is as it was kept. */
export function onView(keys: Clipping, view: Pick<View, 'pan'>): Clipping {
  const first = keys.pan?.[0];
  if (!first) return keys;
  const by = unwrapNear(view.pan, first.value) - first.value;
  return { ...keys, pan: keys.pan!.map((k) => ({ ...k, value: k.value + by })) };
}
