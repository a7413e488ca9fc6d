/** Checks the Follows of a take at every boundary. */
import { IsNotEmpty, IsNumber, IsString, Max, MaxLength, Min } from 'class-validator';
import { Optional } from '../boundary/shape.js';
import { LONGEST } from '../curve/values.js';
import { FOLLOW_LIMITS } from './rule.js';

/** Where a subject stands in the frame, and how softly it is kept there. */
export class RuleShape {
  @IsString() @IsNotEmpty() @MaxLength(4096) subject!: string;
  @IsNumber() @Min(FOLLOW_LIMITS.x.least) @Max(FOLLOW_LIMITS.x.most) x!: number;
  @IsNumber() @Min(FOLLOW_LIMITS.y.least) @Max(FOLLOW_LIMITS.y.most) y!: number;
  @IsNumber() @Min(FOLLOW_LIMITS.ahead.least) @Max(FOLLOW_LIMITS.ahead.most) ahead!: number;
  @Optional() @IsNumber() @Min(FOLLOW_LIMITS.size.least) @Max(FOLLOW_LIMITS.size.most) size?: number;
  @IsNumber() @Min(FOLLOW_LIMITS.soft.least) @Max(FOLLOW_LIMITS.soft.most) soft!: number;
  @IsNumber() @Min(FOLLOW_LIMITS.dead.least) @Max(FOLLOW_LIMITS.dead.most) dead!: number;
}

export class FollowShape extends RuleShape {
  @IsNumber() @Min(0) @Max(LONGEST) in!: number;
  @IsNumber() @Min(0) @Max(LONGEST) out!: number;
  @IsNumber() @Min(FOLLOW_LIMITS.blend.least) @Max(FOLLOW_LIMITS.blend.most) blend!: number;
}
