/** Checks take documents at every boundary. Members it does not know are kept. */
import 'reflect-metadata';
import {
  ArrayMaxSize,
  Equals,
  IsArray,
  IsIn,
  IsNotEmpty,
  IsNumber,
  IsObject,
  IsString,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { Checked, Nested, Optional, problemsOf } from '../boundary/shape.js';
import { FollowShape } from '../follow/validate.js';
import { MOST_FOLLOWS } from '../follow/rule.js';
import { aspectRatio } from '../lens/format.js';
import { LookShape } from '../look/validate.js';
import { lookoutsProblem, LookoutsShape, readLookouts } from '../lookouts/validate.js';
import { keepsSpeed, PACE_LIMITS, type PaceKey } from '../pace/pace.js';
import { withEveryChannel } from '../path/path.js';
import { channelProblem } from '../path/limits.js';
import { PathShape } from '../path/validate-path.js';
import { easeProblem, finite, LONGEST, MOST_KEYFRAMES, valuesProblem } from '../curve/values.js';
import { HEADINGS, LONGEST_WINDOW, noSteady, PIN_KINDS, STEADY_MODES } from '../steady/settings.js';
import { CORRECTED, CORRECTION_LIMITS } from './format-correction.js';
import { formatsOf } from './formats.js';
import type { Take } from './take.js';
import { ToldError } from '../boundary/told-error.js';

/** Things in a list in order of time, no two at once, each passing a test of its own. */
function listProblem(value: unknown, what: string, test: (item: Record<string, unknown>) => string | null) {
  if (!Array.isArray(value)) return `${what}s are a list`;
  if (value.length > MOST_KEYFRAMES) return `there are at most ${MOST_KEYFRAMES} ${what}s`;
  let before = -Infinity;
  for (const item of value as Record<string, unknown>[]) {
    if (!item || !finite(item.time)) return `each ${what} needs a time that is a number`;
    if (item.time < 0 || item.time > LONGEST) return `the time of a ${what} lies from 0 to ${LONGEST} seconds`;
    if (item.time <= before) return `${what}s must be in order of time, no two at the same time`;
    before = item.time;
    const problem = test(item);
    if (problem) return problem;
  }
  return null;
}

const pinsProblem = (value: unknown) =>
  listProblem(value, 'pin', ({ kind }) =>
    (PIN_KINDS as readonly unknown[]).includes(kind) ? null : `a pin's kind is one of ${PIN_KINDS.join(', ')}`,
  );

const levelsProblem = (value: unknown) =>
  listProblem(value, 'level key', ({ up }) =>
    Array.isArray(up) && up.length === 3 && up.every(finite) && Math.abs(Math.hypot(...(up as number[])) - 1) < 1e-3
      ? null
      : "a level key's up is a direction of length 1: [x, y, z]",
  );

const finiteIn = (v: unknown, least: number, most: number) => finite(v) && v >= least && v <= most;

function paceKeysProblem(value: unknown): string | null {
  const { slowest, fastest, longestHeld } = PACE_LIMITS;
  const problem = listProblem(value, 'pace key', (key) => {
    if (!finiteIn(key.speed, slowest, fastest)) return `a pace key's speed lies from ${slowest} to ${fastest}`;
    if (key.held !== undefined && !finiteIn(key.held, 0, longestHeld))
      return `a frame is held for 0 to ${longestHeld} seconds`;
    return easeProblem(key.ease);
  });
  if (problem) return problem;
  const keys = value as PaceKey[];
  const kept = keys.every((k, i) => !keys[i + 1] || keepsSpeed(k.ease, k.speed, keys[i + 1]!.speed));
  return kept ? null : 'a pace never stands still or goes back between two keys; hold a frame instead';
}

const MOST_FORMATS = 12;

const isAspect = (value: unknown): boolean => {
  try {
    return typeof value === 'string' && aspectRatio(value) > 0;
  } catch {
    return false;
  }
};

function correctionProblem(value: unknown): string | null {
  if (value === undefined) return null;
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return "a format's correction is an object";
  for (const name of CORRECTED) {
    const problem = valuesProblem(name, CORRECTION_LIMITS[name], (value as Record<string, unknown>)[name]);
    if (problem) return `correction: ${problem}`;
  }
  return null;
}

function formatsProblem(value: unknown): string | null {
  if (!Array.isArray(value) || value.length === 0 || value.length > MOST_FORMATS)
    return `formats are a list of 1 to ${MOST_FORMATS}`;
  const aspects = (value as { aspect?: unknown }[]).map((f) => f?.aspect);
  if (!aspects.every(isAspect)) return "a format's aspect is a picture format such as 16:9";
  for (const { correction } of value as { correction?: unknown }[]) {
    const problem = correctionProblem(correction);
    if (problem) return problem;
  }
  return new Set(aspects).size === aspects.length ? null : 'no two formats have the same aspect';
}

class RangeShape {
  @IsNumber() @Min(0) @Max(LONGEST) in!: number;
  @IsNumber() @Min(0) @Max(LONGEST) out!: number;
}
class AnglesShape {
  @IsNumber() @Min(-36000) @Max(36000) pan!: number;
  @IsNumber() @Min(-36000) @Max(36000) tilt!: number;
  @Optional() @IsNumber() @Min(-36000) @Max(36000) roll?: number;
}
class TurnShape {
  @Checked(channelProblem('pan')) pan?: unknown;
  @Checked(channelProblem('tilt')) tilt?: unknown;
  @Checked(channelProblem('roll')) roll?: unknown;
}
class OrientationShape {
  @Optional() @IsObject() @Nested(() => AnglesShape) mount?: AnglesShape;
  @Optional() @IsObject() @Nested(() => AnglesShape) centre?: AnglesShape;
  @Optional() @IsObject() @Nested(() => TurnShape) turn?: TurnShape;
}
class FrameShape {
  @Checked((v) => (isAspect(v) ? null : 'aspect must be a picture format such as 16:9'))
  aspect!: string;
  @Optional() @Checked(formatsProblem) formats?: unknown;
}
class HeadingShape {
  @IsIn(HEADINGS) follows!: string;
  @IsNumber() @Min(0) @Max(LONGEST_WINDOW) window!: number;
}
class SteadyShape {
  @IsIn(STEADY_MODES) mode!: string;
  @Optional() @IsNumber() @Min(0) @Max(100) strength?: number;
  @Optional() @IsNumber() @Min(0) @Max(LONGEST_WINDOW) window?: number;
  @Optional() @Checked(pinsProblem) pins?: unknown;
  @Optional() @IsNumber() @Min(0) frame?: number;
  @Optional() @IsObject() @Nested(() => HeadingShape) heading?: HeadingShape;
}
class PaceShape {
  @Checked(paceKeysProblem) keys!: unknown;
  @Optional() @IsIn(['nearest', 'mean']) blend?: string;
  @Optional() @IsIn(['follow', 'off']) sound?: string;
  @Optional() @IsNumber() @Min(0) @Max(16) quietBelow?: number;
  @Optional() @IsNumber() @Min(0) @Max(1000) quietAbove?: number;
}
class LevelShape {
  @Checked(levelsProblem) keys!: unknown;
}
class TakeShape {
  @Equals('glimbo-take') format!: string;
  @IsIn([1, 2]) version!: number;
  @IsString() @IsNotEmpty() @MaxLength(4096) footage!: string;
  @IsObject() @Nested(() => RangeShape) range!: RangeShape;
  @Optional() @IsNumber() @Min(1) @Max(240) reading?: number;
  @Optional() @IsObject() @Nested(() => PaceShape) pace?: PaceShape;
  @Optional() @IsObject() @Nested(() => LookShape) look?: LookShape;
  @Optional() @IsObject() @Nested(() => OrientationShape) orientation?: OrientationShape;
  @Optional() @IsObject() @Nested(() => SteadyShape) steady?: SteadyShape;
  @Optional() @IsObject() @Nested(() => LevelShape) level?: LevelShape;
  @IsObject() @Nested(() => FrameShape) frame!: FrameShape;
  @Optional() @IsObject() @Nested(() => PathShape) path?: PathShape;
  @Optional()
  @IsArray()
  @ArrayMaxSize(MOST_FOLLOWS)
  @Nested(() => FollowShape)
  follows?: FollowShape[];
  @Optional() @IsObject() @Nested(() => LookoutsShape) lookouts?: LookoutsShape;
}

/** A document that is not a take, with every problem in words. */
export class TakeError extends ToldError {
  constructor(readonly problems: string[]) {
    super(`This is not a take that Glimbo can read: ${problems.join('; ')}.`);
  }
}

/**
 * Reads a take from parsed JSON, filling in channels and settings that are absent. Documents of version 1 are those of version 2
 * without pace, corrections and turning of single segments: they are read for ever. Throws TakeError.
 */
export function readTake(plain: unknown): Take {
  const problems = problemsOf(TakeShape, plain);
  const take = plain as Take;
  if (problems.length === 0 && take.range.out <= take.range.in)
    problems.push('range: the out point must come after the in point');
  if (problems.length === 0 && !formatsOf(take).some((f) => f.aspect === take.frame.aspect))
    problems.push('frame: its aspect must be that of one of its formats');
  if (problems.length === 0 && take.follows?.some((f) => f.out <= f.in))
    problems.push('follows: each must end after it begins');
  if (problems.length > 0) throw new TakeError(problems);
  const wrong = take.lookouts && problems.length === 0 ? lookoutsProblem(take.lookouts) : null;
  if (wrong) throw new TakeError([`lookouts: ${wrong}`]);
  const steady = take.steady && { ...noSteady(), ...take.steady };
  return {
    ...take,
    version: 2,
    ...(steady ? { steady } : {}),
    path: withEveryChannel(take.path),
    ...(take.lookouts ? { lookouts: readLookouts(take.lookouts) } : {}),
  };
}
