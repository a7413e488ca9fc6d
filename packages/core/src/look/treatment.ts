/** What is done to the colours of one frame: plain settings, so that another thread can bake them. */
import type { Vec3 } from '../geometry/rotation.js';
import { gradeAt, isNeutral } from './channels.js';
import { mapOfCube, type Cube } from './cube.js';
import { gradeOf, type ColourMap } from './grade.js';
import type { Look } from './look.js';
import type { Grade } from './settings.js';

export interface Treatment {
  grade: Grade;
  /** A lookup table by its file, and how much of it, 0…1. */
  lut?: { file: string; amount: number };
  mood?: { grade: Grade; amount: number };
}

/** The LUTs that treatments name, as they were read. */
export type Cubes = ReadonlyMap<string, Cube>;
export const NO_CUBES: Cubes = new Map();

/** What is done at a time in seconds of the footage; null where nothing is. `metering`: what the Meter adds to the exposure. */
export function treatmentAt(
  { look }: { look?: Look },
  time: number,
  metering: ((time: number) => number) | null = null,
): Treatment | null {
  if (!look) return null;
  const grade = gradeAt(look.grade ?? {}, time);
  if (metering) grade.exposure += metering(time);
  const lut = look.lut && look.lut.amount > 0 ? { file: look.lut.file, amount: look.lut.amount / 100 } : undefined;
  const mood =
    look.mood && look.mood.amount > 0 && !isNeutral(look.mood.grade)
      ? { grade: gradeAt(look.mood.grade, 0), amount: look.mood.amount / 100 }
      : undefined;
  return isNeutral(grade) && !lut && !mood ? null : { grade, ...(lut ? { lut } : {}), ...(mood ? { mood } : {}) };
}

/** The whole chain of a treatment as one map: the grade, then the LUT if it is there, then the mood. */
export function mapOf({ grade, lut, mood }: Treatment, cubes: Cubes): ColourMap {
  const cube = lut && cubes.get(lut.file);
  const steps: ColourMap[] = [];
  if (!isNeutral(grade)) steps.push(gradeOf(grade));
  if (lut && cube) steps.push(mapOfCube(cube, lut.amount));
  if (mood) steps.push(partly(gradeOf(mood.grade), mood.amount));
  return (rgb) => steps.reduce<Vec3>((v, step) => step(v), rgb);
}

/** So much of a map, 0…1, and the rest as it was. */
function partly(map: ColourMap, amount: number): ColourMap {
  if (amount === 1) return map;
  return (rgb) => {
    const out = map(rgb);
    return [
      rgb[0] + (out[0] - rgb[0]) * amount,
      rgb[1] + (out[1] - rgb[1]) * amount,
      rgb[2] + (out[2] - rgb[2]) * amount,
    ];
  };
}
