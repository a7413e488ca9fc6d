/** Checks what a tab sends to have kept: the save of a document, a whole history, and what else is asked of one. */
import { IsBoolean, IsIn, IsInt, IsObject, IsOptional, IsString, Length, Max, MaxLength, Min } from 'class-validator';
import { Checked, Nested, readShape, ShapeError } from '../boundary/shape.js';
import { unpackHistory, type Change, type PackedHistory } from './change.js';
import { HISTORY_LIMIT, HISTORY_SLACK, type History } from './history.js';
import type { Patch } from './patch.js';

const WHAT = 'Nothing was saved. The request cannot be used';
const MOST_STEPS = HISTORY_LIMIT + HISTORY_SLACK;
/** Steps that a document may have had in all its life. */
const MOST_EVER = 1e9;

/** What is asked of a document, with what that needs. */
export class DocumentOrder {
  @IsIn(['save', 'fork', 'put', 'duplicate', 'rename', 'favourite', 'delete', 'restore'])
  intent!: 'save' | 'fork' | 'put' | 'duplicate' | 'rename' | 'favourite' | 'delete' | 'restore';
  @IsOptional() @IsString() @MaxLength(160) name?: string;
  @IsOptional() @IsBoolean() favourite?: boolean;
}

/** Operations that one step may consist of. */
const MOST_OPERATIONS = 100_000;

function patchProblem(patch: unknown): string | null {
  if (!Array.isArray(patch) || patch.length > MOST_OPERATIONS)
    return `a patch is a list of at most ${MOST_OPERATIONS} operations`;
  for (const operation of patch as { op?: unknown; path?: unknown }[]) {
    if (!['add', 'remove', 'replace'].includes(operation?.op as string))
      return 'an operation is add, remove or replace';
    if (typeof operation.path !== 'string' || operation.path.length > 1000) return 'an operation has a path';
  }
  return null;
}

const patchesProblem = (patches: unknown): string | null => {
  if (!Array.isArray(patches) || patches.length > MOST_STEPS) return `there are at most ${MOST_STEPS} patches`;
  for (const patch of patches) {
    const problem = patchProblem(patch);
    if (problem) return problem;
  }
  return null;
};

class HistoryShape {
  @IsInt() @Min(0) @Max(MOST_EVER) first!: number;
  @IsInt() @Min(0) @Max(MOST_EVER) at!: number;
  @Checked(patchesProblem) patches!: Patch[];
}
class ChangeShape extends HistoryShape {
  @IsInt() @Min(0) @Max(MOST_EVER) keep!: number;
}
class SaveShape {
  @Length(8, 60) id!: string;
  @IsInt() @Min(1) revision!: number;
  @IsObject() @Nested(() => ChangeShape) change!: ChangeShape;
}

/** What a tab wants kept. */
export interface Save {
  /** The save's own identity: one that comes again, since its answer was lost, is known. */
  id: string;
  /** The revision that the tab has. */
  revision: number;
  change: Change;
}

/** A save from parsed JSON: at least one step is kept or sent, and the present one is one of them. Throws ShapeError. */
export function readSave(plain: unknown): Save {
  const { id, revision, change } = readShape(SaveShape, plain, WHAT);
  const { first, keep, at, patches } = change;
  const end = keep + patches.length;
  if (keep < first || end === first) throw new ShapeError(WHAT, ['it leaves no step']);
  if (end - first > MOST_STEPS) throw new ShapeError(WHAT, [`it leaves more than ${MOST_STEPS} steps`]);
  if (at < first || at >= end) throw new ShapeError(WHAT, ['its present step is not among its steps']);
  return { id, revision, change: { first, keep, at, patches } };
}

class MineShape {
  @IsObject() @Nested(() => HistoryShape) history!: HistoryShape;
}

/** A whole history from parsed JSON, each step read by `read`. Throws ShapeError, DocumentError, or what `read` throws. */
export function readHistory<T extends object>(plain: unknown, read: (step: unknown) => unknown): History<T> {
  const { history } = readShape(MineShape, plain, WHAT);
  const unpacked = unpackHistory<T>(history satisfies PackedHistory);
  for (const step of unpacked.steps) read(step);
  return unpacked;
}
