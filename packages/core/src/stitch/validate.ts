/** Checks source documents at every boundary: forms, files beside footage, the database. */
import 'reflect-metadata';
import { ArrayMaxSize, ArrayMinSize, IsArray, IsIn, IsNumber, IsObject, IsOptional, Max, Min } from 'class-validator';
import { Nested, problemsOf } from '../boundary/shape.js';
import { LENS_FOV } from './lens.js';
import { HOUSINGS, MOST_FEATHER, SEAM_POINTS, SECTORS, type Source } from './source.js';
import { ToldError } from '../boundary/told-error.js';

class LensShape {
  @IsNumber() centreX!: number;
  @IsNumber() centreY!: number;
  @IsNumber() @Min(8) @Max(1e5) radius!: number;
  @IsNumber() @Min(LENS_FOV.min) @Max(LENS_FOV.max) fov!: number;
  @IsNumber() @Min(-0.2) @Max(0.2) k1!: number;
  @IsNumber() @Min(-0.1) @Max(0.1) k2!: number;
  @IsNumber() @Min(-720) @Max(720) pan!: number;
  @IsNumber() @Min(-720) @Max(720) tilt!: number;
  @IsNumber() @Min(-720) @Max(720) roll!: number;
}
class StereoShape {
  @IsIn(['over-under', 'side-by-side']) layout!: string;
  @IsIn(['first', 'second']) eye!: string;
}
class TrackShape {
  @IsNumber() @Min(0.01) @Max(60) every!: number;
  @IsArray() @ArrayMaxSize(200_000) ratios!: number[][];
  @IsArray() @ArrayMaxSize(200_000) seam!: number[][];
}
class JoiningShape {
  @IsOptional() @IsIn(['files', 'streams']) join?: string;
  @IsOptional() @IsObject() @Nested(() => StereoShape) stereo?: StereoShape;
}
class SphereShape extends JoiningShape {}
class PartShape extends JoiningShape {
  @IsNumber() @Min(-360) @Max(360) left!: number;
  @IsNumber() @Min(-360) @Max(360) right!: number;
  @IsNumber() @Min(-90) @Max(90) top!: number;
  @IsNumber() @Min(-90) @Max(90) bottom!: number;
}
class OneLensShape extends JoiningShape {
  @IsObject() @Nested(() => LensShape) lens!: LensShape;
  @IsOptional() @IsIn(Object.keys(HOUSINGS)) housing?: string;
}
class TwoLensesShape extends JoiningShape {
  @IsArray()
  @ArrayMinSize(2)
  @ArrayMaxSize(2)
  @Nested(() => LensShape)
  lenses!: LensShape[];
  @IsNumber() @Min(0) @Max(MOST_FEATHER) feather!: number;
  @IsIn(['off', 'gentle', 'full']) match!: string;
  @IsIn(['straight', 'moving']) seam!: string;
  @IsOptional() @IsIn(Object.keys(HOUSINGS)) housing?: string;
  @IsOptional() @IsObject() @Nested(() => TrackShape) track?: TrackShape;
}

const SHAPES = { sphere: SphereShape, part: PartShape, 'one-lens': OneLensShape, 'two-lenses': TwoLensesShape };

/** A document that does not describe a source, with every problem in words. */
export class SourceError extends ToldError {
  constructor(readonly problems: string[]) {
    super(`This does not describe a picture that Glimbo can read: ${problems.join('; ')}.`);
  }
}

/** Reads a source from parsed JSON. Throws SourceError. */
export function readSource(plain: unknown): Source {
  const kind = (plain as { kind?: unknown } | null)?.kind;
  const shape = typeof kind === 'string' && Object.hasOwn(SHAPES, kind) ? SHAPES[kind as keyof typeof SHAPES] : null;
  if (!shape) throw new SourceError([`kind must be one of ${Object.keys(SHAPES).join(', ')}`]);
  const problems = problemsOf(shape, plain);
  const source = plain as Source;
  if (
    !problems.length &&
    source.kind === 'part' &&
    !(source.right > source.left && source.right - source.left <= 360 && source.top > source.bottom)
  )
    problems.push('the edges must enclose a part of the sphere: right beyond left by at most 360, top above bottom');
  if (!problems.length && source.kind === 'two-lenses' && source.track && !trackFits(source.track))
    problems.push(`track: each moment needs ${SECTORS * 3} ratios and ${SEAM_POINTS} places of the seam, all numbers`);
  if (problems.length) throw new SourceError(problems);
  return source;
}

const numbers = (list: unknown, length: number) =>
  Array.isArray(list) && list.length === length && list.every((v) => typeof v === 'number' && Math.abs(v) <= 90);
const trackFits = (t: { ratios: unknown[]; seam: unknown[] }) =>
  t.ratios.every((r) => numbers(r, SECTORS * 3)) && t.seam.every((s) => numbers(s, SEAM_POINTS));
