/** Checks what an exported clip is to be like: the same shape for the form and the command line. */
import { IsBoolean, IsIn, IsInt, IsNumber, IsOptional, Max, Min } from 'class-validator';
import { readShape, ShapeError } from '../boundary/shape.js';
import { codecFacts, CODECS, type Codec, type QualityScale } from './codecs.js';
import { COMPARISONS, type ClipSettings, type Comparison } from './settings.js';

class ClipShape {
  @IsInt() @Min(16) @Max(8192) width!: number;
  @IsInt() @Min(16) @Max(8192) height!: number;
  @IsOptional() @IsNumber() @Min(1) @Max(240) rate?: number;
  @IsIn(CODECS) codec!: Codec;
  @IsOptional() @IsNumber() quality?: number;
  @IsOptional() @IsNumber() @Min(1e5) @Max(5e8) bitRate?: number;
  @IsOptional() @IsBoolean() sphere?: boolean;
  @IsOptional() @IsIn(COMPARISONS) compare?: Comparison;
}

/** Settings of a clip from parsed JSON. Throws ShapeError. */
export function readClipSettings(plain: unknown): ClipSettings {
  const what = 'Nothing was exported. These settings cannot be used';
  const settings = readShape(ClipShape, plain, what);
  const problems: string[] = [];
  if (settings.width % 2 || settings.height % 2) problems.push('both sides of the picture must be even');
  const scale = codecFacts(settings.codec).quality;
  if (scale && settings.quality !== undefined && !onScale(scale, settings.quality))
    problems.push(`quality must lie between ${scale.best} and ${scale.least}`);
  if (settings.sphere && settings.compare) problems.push('the whole sphere cannot be compared with itself');
  if (problems.length) throw new ShapeError(what, problems);
  const known = Object.entries({ ...settings }).filter(([name, v]) => v !== undefined && KNOWN.has(name));
  return Object.fromEntries(known) as unknown as ClipSettings;
}

const onScale = ({ best, least }: QualityScale, quality: number) =>
  quality >= Math.min(best, least) && quality <= Math.max(best, least);

const KNOWN = new Set(['width', 'height', 'rate', 'codec', 'quality', 'bitRate', 'sphere', 'compare']);
