/** Checks the look of a take at every boundary. */
import {
  IsBoolean,
  IsIn,
  IsNotEmpty,
  Matches,
  IsNumber,
  IsObject,
  IsString,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { Checked, Nested, Optional } from '../boundary/shape.js';
import { overlaysProblem } from '../overlay/validate.js';
import { LONGEST, valuesProblem } from '../curve/values.js';
import { SHUTTER } from './look.js';
import { GRADE_NAMES } from './channels.js';
import { DETAIL_LIMITS } from './detail.js';
import { METER_LIMITS } from './meter.js';
import { PATCH_LIMITS } from './patch.js';
import { SECTOR_LIMITS, TWIN_LIMITS } from './sector.js';
import { DIALS } from './settings.js';
import { SHAKE_LIMITS } from './shake.js';

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What is wrong with a grade: dials of its own, each a number or keyframes; null when nothing is. */
function gradeProblem(value: unknown): string | null {
  if (!isObject(value)) return 'a grade is an object of dials';
  for (const name of GRADE_NAMES) {
    const problem = valuesProblem(name, [DIALS[name].least, DIALS[name].most], value[name]);
    if (problem) return problem;
  }
  return null;
}

/** The same for one that never changes: numbers alone. */
export function fixedGradeProblem(value: unknown): string | null {
  if (isObject(value) && GRADE_NAMES.some((name) => Array.isArray(value[name]))) return 'a mood’s dials are numbers';
  return gradeProblem(value);
}

class LutShape {
  @IsString() @IsNotEmpty() @MaxLength(4096) file!: string;
  @IsNumber() @Min(0) @Max(100) amount!: number;
}
class MoodShape {
  @IsString() @IsNotEmpty() @MaxLength(200) name!: string;
  @Checked(fixedGradeProblem) grade!: unknown;
  @IsNumber() @Min(0) @Max(100) amount!: number;
}
class SharpenShape {
  @IsNumber() @Min(DETAIL_LIMITS.amount.least) @Max(DETAIL_LIMITS.amount.most) amount!: number;
  @IsNumber() @Min(DETAIL_LIMITS.radius.least) @Max(DETAIL_LIMITS.radius.most) radius!: number;
  @IsNumber() @Min(DETAIL_LIMITS.threshold.least) @Max(DETAIL_LIMITS.threshold.most) threshold!: number;
}
class DetailShape {
  @Optional() @IsNumber() @Min(DETAIL_LIMITS.clarity.least) @Max(DETAIL_LIMITS.clarity.most) clarity?: number;
  @Optional() @IsObject() @Nested(() => SharpenShape) sharpen?: SharpenShape;
}
class ShakeShape {
  @IsNumber() @Min(SHAKE_LIMITS.position.least) @Max(SHAKE_LIMITS.position.most) position!: number;
  @IsNumber() @Min(SHAKE_LIMITS.roll.least) @Max(SHAKE_LIMITS.roll.most) roll!: number;
  @IsNumber() @Min(SHAKE_LIMITS.roughness.least) @Max(SHAKE_LIMITS.roughness.most) roughness!: number;
  @IsNumber() @Min(SHAKE_LIMITS.seed.least) @Max(SHAKE_LIMITS.seed.most) seed!: number;
}
class MeterShape {
  @IsNumber() @Min(METER_LIMITS.target.least) @Max(METER_LIMITS.target.most) target!: number;
  @IsNumber() @Min(METER_LIMITS.limit.least) @Max(METER_LIMITS.limit.most) limit!: number;
  @IsNumber() @Min(METER_LIMITS.smooth.least) @Max(METER_LIMITS.smooth.most) smooth!: number;
  @Optional() @IsNumber() @Min(0) @Max(LONGEST) lock?: number;
}
class PatchShape {
  @IsIn(['colour', 'image', 'fill']) kind!: string;
  @IsNumber() @Min(PATCH_LIMITS.pan.least) @Max(PATCH_LIMITS.pan.most) pan!: number;
  @IsNumber() @Min(PATCH_LIMITS.tilt.least) @Max(PATCH_LIMITS.tilt.most) tilt!: number;
  @IsIn(['rig', 'world']) to!: string;
  @IsNumber() @Min(PATCH_LIMITS.size.least) @Max(PATCH_LIMITS.size.most) size!: number;
  @IsNumber() @Min(PATCH_LIMITS.feather.least) @Max(PATCH_LIMITS.feather.most) feather!: number;
  @Matches(/^#[0-9a-f]{6}$/i) colour!: string;
  @Optional() @IsString() @IsNotEmpty() @MaxLength(4096) file?: string;
}
class TwinShape {
  @Optional() @IsString() @IsNotEmpty() @MaxLength(4096) footage?: string;
  @IsIn(['along', 'still']) runs!: string;
  @IsNumber() @Min(TWIN_LIMITS.time.least) @Max(TWIN_LIMITS.time.most) time!: number;
  @IsNumber() @Min(TWIN_LIMITS.pan.least) @Max(TWIN_LIMITS.pan.most) pan!: number;
  @IsNumber() @Min(TWIN_LIMITS.tilt.least) @Max(TWIN_LIMITS.tilt.most) tilt!: number;
  @IsNumber() @Min(TWIN_LIMITS.roll.least) @Max(TWIN_LIMITS.roll.most) roll!: number;
  @IsBoolean() match!: boolean;
}
class SectorShape {
  @IsNumber() @Min(SECTOR_LIMITS.from.least) @Max(SECTOR_LIMITS.from.most) from!: number;
  @IsNumber() @Min(SECTOR_LIMITS.to.least) @Max(SECTOR_LIMITS.to.most) to!: number;
  @IsNumber() @Min(SECTOR_LIMITS.bottom.least) @Max(SECTOR_LIMITS.bottom.most) bottom!: number;
  @IsNumber() @Min(SECTOR_LIMITS.top.least) @Max(SECTOR_LIMITS.top.most) top!: number;
  @IsNumber() @Min(SECTOR_LIMITS.feather.least) @Max(SECTOR_LIMITS.feather.most) feather!: number;
  @Matches(/^#[0-9a-f]{6}$/i) colour!: string;
  @Optional() @IsObject() @Nested(() => TwinShape) twin?: TwinShape;
}
/** What class-validator cannot say of one member alone. */
const sectorProblem = (value: unknown): string | null => {
  const { bottom, top } = isObject(value) ? value : {};
  return Number(bottom) >= Number(top) ? 'the bottom of a sector lies below its top' : null;
};
export class LookShape {
  @Optional() @Checked(gradeProblem) grade?: unknown;
  @Optional() @IsObject() @Nested(() => LutShape) lut?: LutShape;
  @Optional() @IsObject() @Nested(() => MoodShape) mood?: MoodShape;
  @Optional() @IsObject() @Nested(() => DetailShape) detail?: DetailShape;
  @Optional() @IsObject() @Nested(() => ShakeShape) shake?: ShakeShape;
  @Optional() @IsObject() @Nested(() => MeterShape) meter?: MeterShape;
  @Optional() @IsObject() @Nested(() => PatchShape) patch?: PatchShape;
  @Optional() @IsObject() @Checked(sectorProblem) @Nested(() => SectorShape) sector?: SectorShape;
  @Checked(overlaysProblem) overlays?: unknown;
  @Optional() @IsNumber() @Min(SHUTTER.least) @Max(SHUTTER.most) shutter?: number;
}
