/** Checks what comes in about a footage: remarks, and what is to be done with it. */
import {
  ArrayMaxSize,
  Equals,
  IsArray,
  IsBoolean,
  IsIn,
  IsNotEmpty,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Length,
  MaxLength,
  Min,
} from 'class-validator';
import { Nested, readShape, ShapeError } from '../boundary/shape.js';
import { LONGEST_NOTES, type RemarkChange } from './remarks.js';

const WHAT = 'Nothing was changed. The request cannot be used';

class MarkShape {
  @Length(1, 60) id!: string;
  @IsNumber() time!: number;
  @IsString() @MaxLength(120) name!: string;
}
class RangeShape {
  @Length(1, 60) id!: string;
  @IsNumber() @Min(0) in!: number;
  @IsNumber() @Min(0) out!: number;
}
class MarkChange {
  @Equals('mark') what!: 'mark';
  @IsObject() @Nested(() => MarkShape) mark!: MarkShape;
}
class RangeChange {
  @Equals('range') what!: 'range';
  @IsObject() @Nested(() => RangeShape) range!: RangeShape;
}
class RemoveChange {
  @IsIn(['unmark', 'unrange']) what!: 'unmark' | 'unrange';
  @Length(1, 60) id!: string;
}
class TagsChange {
  @Equals('tags') what!: 'tags';
  @IsArray() @ArrayMaxSize(40) @IsString({ each: true }) @MaxLength(40, { each: true }) add!: string[];
  @IsArray() @ArrayMaxSize(40) @IsString({ each: true }) remove!: string[];
}
class NotesChange {
  @Equals('notes') what!: 'notes';
  @IsString() @MaxLength(LONGEST_NOTES) notes!: string;
  @IsString() @MaxLength(2 * LONGEST_NOTES) was!: string;
}

const CHANGES: Record<string, new () => object> = {
  mark: MarkChange,
  range: RangeChange,
  unmark: RemoveChange,
  unrange: RemoveChange,
  tags: TagsChange,
  notes: NotesChange,
};

/** One change of what is said about a footage, from parsed JSON. Throws ShapeError. */
export function readRemarkChange(plain: unknown): RemarkChange {
  const Shape = CHANGES[String((plain as { what?: unknown } | null)?.what)];
  if (!Shape) throw new ShapeError(WHAT, ['what has to be changed is not known here']);
  return readShape(Shape, plain, WHAT) as RemarkChange;
}

class Stretch {
  @IsNumber() @Min(0) in!: number;
  @IsNumber() @Min(0) out!: number;
}

/** What is done with a footage as a whole. */
export class FootageOrder {
  @IsIn(['change', 'delete', 'restore', 'relink', 'take', 'remark']) intent!:
    'change' | 'delete' | 'restore' | 'relink' | 'take' | 'remark';
  @IsOptional() @IsString() @IsNotEmpty() @MaxLength(160) name?: string;
  @IsOptional() @IsBoolean() favourite?: boolean;
  @IsOptional() @IsString() @MaxLength(4096) path?: string;
  @IsOptional() @IsObject() @Nested(() => Stretch) range?: Stretch;
  @IsOptional() change?: unknown;
}
