/** What moves in a footage, as an open document (docs/formats/moving.md). */
import { DocumentError } from '../boundary/document-error.js';
import { apply, transpose, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import type { Streak } from './streaks.js';

/** Frame, unit direction in that frame's own picture, degrees across and up. */
export type MovingLook = readonly [frame: number, x: number, y: number, z: number, width: number, height: number];

/** What can be recognised. */
export const KINDS = ['person', 'animal', 'vehicle'] as const;
export type Kind = (typeof KINDS)[number];

export interface MovingStreak {
  /** How sure it is that something is there that moves by itself, or that was recognised, 0 to 1. */
  sure: number;
  /** What it was recognised as; absent where it was not. */
  kind?: Kind;
  looks: MovingLook[];
  /** What it looks like where it is seen well: a JPEG in base 64. */
  portrait?: string;
}

export interface Moving {
  format: 'glimbo-moving';
  version: 1;
  /** Frames a second, and every how many of them were looked at. */
  rate: number;
  every: number;
  frames: number;
  /** Frames from one still world to the next, and for each whether the world stood still enough to tell what moves. */
  stage: number;
  still: boolean[];
  /** For each stage whether it was told instead what fits neither the rig's travel nor any depth; absent where the rig never travels. */
  travels?: boolean[];
  /** Whether it was also looked for what can be recognised; absent where it was not. */
  recognised?: boolean;
  streaks: MovingStreak[];
}

export const lookDirection = ([, x, y, z]: MovingLook): Vec3 => [x, y, z];

/** Degrees across its larger side. */
export const largerSide = ([, , , , width, height]: MovingLook): number => Math.max(width, height);

/** Which still world stands beside a frame. */
export const stageOf = ({ still, stage }: Pick<Moving, 'still' | 'stage'>, frame: number): number =>
  Math.min(still.length - 1, Math.floor(frame / stage));

/** Share of the footage in which it can be told what moves: the world stands still, or it is known how the rig travels. */
export const toldShare = ({ still, travels }: Pick<Moving, 'still' | 'travels'>): number =>
  still.filter((stage, n) => stage || travels?.[n]).length / Math.max(1, still.length);

export const rounded = (v: number, digits: number) => Number(v.toFixed(digits));

/** A streak as the document has it; `toWorld`: from directions of a frame's picture to the world's. */
export const writtenStreak = (
  { sure, looks }: Streak,
  every: number,
  toWorld: (frame: number) => Matrix3,
): MovingStreak => ({
  sure: rounded(sure, 2),
  looks: looks.map(({ look, direction, width, height }): MovingLook => {
    const frame = look * every;
    const [x, y, z] = apply(transpose(toWorld(frame)), direction);
    return [frame, rounded(x, 4), rounded(y, 4), rounded(z, 4), rounded(width, 1), rounded(height, 1)];
  }),
});

const isCount = (v: unknown): v is number => typeof v === 'number' && Number.isInteger(v) && v >= 1;
const isShare = (v: unknown): v is number => typeof v === 'number' && v >= 0 && v <= 1;

const isAnswers = (list: unknown): list is boolean[] =>
  Array.isArray(list) && list.every((v) => typeof v === 'boolean');

const isLook = (look: unknown): look is MovingLook =>
  Array.isArray(look) &&
  look.length === 6 &&
  look.every((v) => typeof v === 'number' && Number.isFinite(v)) &&
  Number.isInteger(look[0]) &&
  look[0] >= 0 &&
  Math.abs(Math.hypot(look[1], look[2], look[3]) - 1) < 0.01 &&
  look[4] > 0 &&
  look[4] <= 180 &&
  look[5] > 0 &&
  look[5] <= 180;

/** What moves, in parsed JSON. Throws DocumentError. */
export function readMoving(plain: unknown): Moving {
  const m = plain as Partial<Moving> | null;
  if (!m || typeof m !== 'object' || m.format !== 'glimbo-moving' || m.version !== 1)
    throw new DocumentError('it does not say glimbo-moving, version 1');
  const { format, version, rate, every, frames, stage, still, travels, recognised, streaks } = m;
  if (typeof rate !== 'number' || !(rate > 0) || rate > 1000)
    throw new DocumentError('rate must be a number of frames a second');
  if (!isCount(every) || !isCount(frames) || !isCount(stage))
    throw new DocumentError('every, frames and stage must be whole numbers from 1 on');
  if (!isAnswers(still)) throw new DocumentError('still must be a list of yes and no');
  if (travels !== undefined && (!isAnswers(travels) || travels.length !== still.length))
    throw new DocumentError('travels must be a list of yes and no, as long as still');
  if (recognised !== undefined && typeof recognised !== 'boolean')
    throw new DocumentError('recognised must be yes or no');
  if (!Array.isArray(streaks)) throw new DocumentError('it has no streaks');
  for (const [n, streak] of streaks.entries()) {
    if (!isShare(streak?.sure) || !Array.isArray(streak.looks) || !streak.looks.every(isLook))
      throw new DocumentError(`streak ${n} is no streak`);
    if (streak.kind !== undefined && !KINDS.includes(streak.kind))
      throw new DocumentError(`the kind of streak ${n} is not ${KINDS.join(', ')}`);
    if (streak.portrait !== undefined && typeof streak.portrait !== 'string')
      throw new DocumentError(`the portrait of streak ${n} is no text`);
  }
  return {
    format,
    version,
    rate,
    every,
    frames,
    stage,
    still,
    ...(travels === undefined ? {} : { travels }),
    ...(recognised === undefined ? {} : { recognised }),
    streaks,
  };
}
