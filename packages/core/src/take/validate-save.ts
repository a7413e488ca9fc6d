/** Checks what a tab sends to have kept: the save of a take, and what else is asked of one. */
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { readShape, ShapeError } from '../boundary/shape.js';
import { HISTORY_LIMIT, type History } from './history.js';
import type { Take } from './take.js';
import { readTake } from './validate.js';

const WHAT = 'Nothing was saved. The request cannot be used';

/** What is asked of a take, with what that needs. */
export class TakeOrder {
  @IsIn(['save', 'fork', 'put', 'duplicate', 'rename', 'favourite', 'delete', 'restore'])
  intent!: 'save' | 'fork' | 'put' | 'duplicate' | 'rename' | 'favourite' | 'delete' | 'restore';
  @IsOptional() @IsString() @MaxLength(160) name?: string;
  @IsOptional() @IsBoolean() favourite?: boolean;
}

class SaveShape {
  @Length(8, 60) id!: string;
  @IsInt() @Min(1) revision!: number;
  @IsInt() @Min(0) @Max(HISTORY_LIMIT) keep!: number;
  @IsInt() @Min(0) @Max(HISTORY_LIMIT) at!: number;
  @IsArray() @ArrayMaxSize(HISTORY_LIMIT) steps!: unknown[];
}

/** A save from parsed JSON: at least one step is kept or sent, and the present one is one of them. Throws ShapeError or TakeError. */
export function readSave(plain: unknown) {
  const { id, revision, keep, at, steps } = readShape(SaveShape, plain, WHAT);
  if (keep + steps.length === 0) throw new ShapeError(WHAT, ['it leaves no step of the take']);
  if (at >= keep + steps.length) throw new ShapeError(WHAT, ['its present step is not among its steps']);
  return { id, revision, keep, at, steps: (plain as { steps: unknown[] }).steps.map(readTake) };
}

class HistoryShape {
  @IsArray() @ArrayMaxSize(HISTORY_LIMIT) steps!: unknown[];
  @IsInt() @Min(0) at!: number;
}

/** A whole history from parsed JSON. Throws ShapeError or TakeError. */
export function readHistory(plain: unknown): History<Take> {
  const { at } = readShape(HistoryShape, plain, WHAT);
  const steps = (plain as { steps: unknown[] }).steps.map(readTake);
  if (at >= steps.length) throw new ShapeError(WHAT, ['its present step is not among its steps']);
  return { steps, at };
}
