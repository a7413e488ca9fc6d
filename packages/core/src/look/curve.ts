/** The curve of tones that a grade draws, and turning its dials by dragging that curve. */
import { lumaOf } from '../colour/convert.js';
import { gradeOf } from './grade.js';
import { DIALS, type Grade, type Light } from './settings.js';

/** Points of the curve at which each dial of light is dragged: R'G'B' of a grey, 0…1, where it moves the curve well. */
export const HANDLES: Readonly<Record<keyof Light, number>> = {
  black: 0.02,
  shadows: 0.18,
  exposure: 0.41,
  contrast: 0.55,
  highlights: 0.72,
  white: 0.97,
};

/** Brightness of what a grade makes of greys. */
export function toneCurve(grade: Grade): (grey: number) => number {
  const map = gradeOf(grade);
  return (grey) => lumaOf(map([grey, grey, grey]));
}

const ROUNDS = 24;

/** The value of a dial with which the curve is at `wanted` where that dial's handle lies; the nearest there is. */
export function dialThrough(grade: Grade, dial: keyof Light, wanted: number): number {
  const { least, most } = DIALS[dial];
  const off = (value: number) => toneCurve({ ...grade, [dial]: value })(HANDLES[dial]) - wanted;
  const rising = off(most) > off(least);
  let [low, high] = [least, most];
  for (let i = 0; i < ROUNDS; i++) {
    const middle = (low + high) / 2;
    if (off(middle) > 0 === rising) high = middle;
    else low = middle;
  }
  return (low + high) / 2;
}
