/** Checks what is asked of a footage's motion: analysing it, correcting what was found, handing in a sidecar. */
import { ArrayMaxSize, IsArray, IsIn, IsNumber, IsOptional, IsString, Min } from 'class-validator';
import { Nested } from '../boundary/shape.js';

/** Corrections by hand that one footage may have. */
const MOST = 5000;

class StretchShape {
  @IsNumber() @Min(0) in!: number;
  @IsNumber() @Min(0) out!: number;
}

export class MotionOrder {
  @IsIn(['analyse', 'correct', 'sidecar']) intent!: 'analyse' | 'correct' | 'sidecar';
  @IsOptional() @IsString() method?: string;
  @IsOptional() @IsString() use?: string;
  @IsOptional() @IsArray() @ArrayMaxSize(MOST) @IsNumber({}, { each: true }) cuts?: number[];
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MOST)
  @Nested(() => StretchShape)
  bad?: StretchShape[];
  @IsOptional() @IsString() text?: string;
}
