/** What jobs were asked for, as their rows keep it: read through a shape of each kind, whoever wrote it. Throws ShapeError. */
import 'reflect-metadata';
import { IsArray, IsIn, IsInt, IsNumber, IsObject, IsOptional, IsString, Max, Min } from 'class-validator';
import type { CopyItem } from '@glimbo/cli/task';
import { Checked, readShape, ShapeError } from '@glimbo/core/boundary/shape';
import { METHODS, type Method } from '@glimbo/core/motion/motion';
import { SKETCH_LIMITS } from '@glimbo/core/sketch/sketch';
import type { ClipSettings } from '@glimbo/core/export/settings';
import { readTake } from '@glimbo/core/take/validate';
import { readClipSettings } from '@glimbo/core/export/validate-settings';
import type { Job } from '~/model/job';
import { SIDECAR_USES, type SidecarUse } from '~/model/sidecar';

const WHAT = 'The work was not begun. What it was asked for cannot be read';

class ExportParams {
  @IsObject() take!: object;
  @IsObject() settings!: object;
}

/** The take as it was when the export was asked for, and the clip that is wanted. */
export function exportParams(job: Job) {
  const { take, settings } = readShape(ExportParams, job.params, WHAT);
  return { take: readTake(take), settings: readClipSettings(settings) };
}

/** The settings of an export alone. */
export const exportSettings = (job: Job): ClipSettings => readClipSettings(job.params.settings);

class MotionParams {
  @IsIn(METHODS) method!: Method;
  @IsIn(SIDECAR_USES) use!: SidecarUse;
}
export const motionParams = (job: Job): MotionParams => readShape(MotionParams, job.params, WHAT);

class FollowParams {
  @IsString() subject!: string;
  /** The frame of the key that was put right. */
  @IsOptional() @IsInt() @Min(0) around?: number;
}
export const followParams = (job: Job): FollowParams => readShape(FollowParams, job.params, WHAT);

const texts = (value: unknown): value is string[] =>
  Array.isArray(value) && value.length > 0 && value.every((v) => typeof v === 'string' && v !== '');

const isItem = (value: unknown): value is CopyItem => {
  const { id, name, files, companion } = (value ?? {}) as Partial<CopyItem>;
  return texts([id, name]) && texts(files) && (!companion || texts([companion]));
};

class CopyParams {
  @IsString() card!: string;
  @Checked((v) => (Array.isArray(v) && v.every(isItem) ? null : 'recordings have an id, a name and files'))
  recordings!: CopyItem[];
  @IsArray() tags!: string[];
}
export const copyParams = (job: Job): CopyParams => readShape(CopyParams, job.params, WHAT);

/** The recordings that a copy is about; none where that cannot be read, since clearing up must go on all the same. */
export function recordingsToCopy(job: Job): CopyItem[] {
  try {
    return copyParams(job).recordings;
  } catch (error) {
    if (!(error instanceof ShapeError)) throw error;
    return [];
  }
}

class ExamineParams {
  /** Recordings by their files' paths. */
  @Checked((v) => (Array.isArray(v) && v.every(texts) ? null : 'recordings are lists of paths'))
  recordings!: string[][];
  @IsString() prefix!: string;
}
export const examineParams = (job: Job): ExamineParams => readShape(ExamineParams, job.params, WHAT);

/** What first cuts are asked for. */
export class SketchParams {
  /** Footages by id. */
  @Checked((v) => (texts(v) ? null : 'footages are listed by their ids'))
  footage!: string[];
  @IsString() aspect!: string;
  @IsNumber() @Min(0) @Max(1) lively!: number;
  @IsInt() @Min(SKETCH_LIMITS.cuts.least) @Max(SKETCH_LIMITS.cuts.most) cuts!: number;
  @IsOptional() @IsNumber() @Min(SKETCH_LIMITS.length.least) @Max(SKETCH_LIMITS.length.most) length?: number;
}
export const sketchParams = (job: Job): SketchParams => readShape(SketchParams, job.params, WHAT);
