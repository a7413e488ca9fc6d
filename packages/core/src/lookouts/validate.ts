/** Checks the Lookouts of a take, and kept sets of them, at every boundary. */
import { IsArray, IsHexColor, IsNotEmpty, IsNumber, IsObject, IsString, Max, MaxLength, Min } from 'class-validator';
import { DocumentError } from '../boundary/document-error.js';
import { Nested, Optional, problemsOf } from '../boundary/shape.js';
import { RuleShape } from '../follow/validate.js';
import { withEveryChannel } from '../path/path.js';
import { PathShape } from '../path/validate-path.js';
import { finite, LONGEST, MOST_KEYFRAMES } from '../curve/values.js';
import {
  JOINS,
  LAYOUTS,
  LONGEST_JOIN,
  MOST_LOOKOUTS,
  SHOWN,
  type Cut,
  type Lookouts,
  withoutSubjects,
} from './lookouts.js';

class LookoutShape {
  @IsString() @IsNotEmpty() @MaxLength(80) name!: string;
  @IsObject() @Nested(() => PathShape) path!: PathShape;
  @Optional() @IsObject() @Nested(() => RuleShape) follow?: RuleShape;
}
class LineShape {
  @IsNumber() @Min(0) @Max(10) width!: number;
  @IsHexColor() colour!: string;
}
export class LookoutsShape {
  @IsArray() @Nested(() => LookoutShape) views!: LookoutShape[];
  @IsArray() cuts!: unknown[];
  @Optional() @IsObject() @Nested(() => LineShape) line?: LineShape;
}

const among = (list: readonly unknown[], value: unknown) => list.includes(value);

function cutProblem({ time, shows, join, over }: Cut, views: number): string | null {
  if (!finite(time) || time < 0 || time > LONGEST) return `the time of a cut lies from 0 to ${LONGEST} seconds`;
  if (join !== undefined && !among(JOINS, join)) return `a cut's join is one of ${JOINS.join(', ')}`;
  if (over !== undefined && !(finite(over) && over >= 0 && over <= LONGEST_JOIN))
    return `a join takes 0 to ${LONGEST_JOIN} seconds`;
  if (shows === null) return null;
  if (!shows || !among(LAYOUTS, shows.layout)) return `a cut shows a layout: ${LAYOUTS.join(', ')}`;
  const right =
    Array.isArray(shows.views) &&
    shows.views.length === SHOWN[shows.layout] &&
    shows.views.every((v) => Number.isInteger(v) && v >= 0 && v < views);
  return right ? null : `a cut of layout ${shows.layout} shows ${SHOWN[shows.layout]} of the take's Lookouts`;
}

/** What is wrong with the cuts of Lookouts; null where nothing is. */
function cutsProblem(cuts: unknown, views: number): string | null {
  if (!Array.isArray(cuts) || cuts.length > MOST_KEYFRAMES) return `cuts are a list of at most ${MOST_KEYFRAMES}`;
  let before = -Infinity;
  for (const cut of cuts as Cut[]) {
    if (!cut || typeof cut !== 'object') return 'each cut has a time and what it shows';
    const problem = cutProblem(cut, views);
    if (problem) return problem;
    if (cut.time <= before) return 'cuts must be in order of time, no two at the same time';
    before = cut.time;
  }
  return null;
}

/** What is wrong with Lookouts beside the shape of each; null where nothing is. */
export function lookoutsProblem({ views, cuts }: Lookouts): string | null {
  if (views.length === 0 || views.length > MOST_LOOKOUTS) return `there are 1 to ${MOST_LOOKOUTS} Lookouts`;
  return cutsProblem(cuts, views.length);
}

/** Lookouts from a document: channels that are absent are empty. */
export const readLookouts = (lookouts: Lookouts): Lookouts => ({
  ...lookouts,
  views: lookouts.views.map((v) => ({ ...v, path: withEveryChannel(v.path) })),
});

/** A kept set of Lookouts from a document: views without subjects, and the line between them. Throws DocumentError. */
export function readLookoutSet(plain: Record<string, unknown>): Pick<Lookouts, 'views' | 'line'> {
  const set = { views: plain.views, cuts: [], ...(plain.line ? { line: plain.line } : {}) } as Lookouts;
  const [wrong] = problemsOf(LookoutsShape, set);
  const problem = wrong ?? lookoutsProblem(set);
  if (problem) throw new DocumentError(problem);
  const { views, line } = readLookouts(set);
  return { views: withoutSubjects(views), ...(line ? { line } : {}) };
}
