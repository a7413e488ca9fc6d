/** Files that takes name besides their footage: LUTs. */
import { readFile, stat } from 'node:fs/promises';
import { basename, resolve } from 'node:path';
import { CubeError, readCube } from '@glimbo/core/look/cube';
import { NO_CUBES, type Cubes } from '@glimbo/core/look/treatment';
import type { Take } from '@glimbo/core/take/take';
import { MediaError } from './ffmpeg.js';
import type { Recording } from './recording.js';

/** Longest LUT that is read, in bytes. */
export const LONGEST_LUT = 100_000_000;

/** The LUTs that a take's look names, from the recording's folder of materials. Throws MediaError with what is missing or broken. */
export async function cubesFor(
  { look }: Pick<Take, 'look'>,
  { materials = '.' }: Pick<Recording, 'materials'>,
): Promise<Cubes> {
  if (!look?.lut || look.lut.amount === 0) return NO_CUBES;
  const { file } = look.lut;
  const path = resolve(materials, file);
  const name = basename(file);
  const advice = 'Give the look another LUT, or take it out.';
  const size = await stat(path).then(
    (s) => s.size,
    () => null,
  );
  if (size === null)
    throw new MediaError(`The LUT “${name}” of this take is missing. Put it back in its place. ${advice}`);
  if (size > LONGEST_LUT) throw new MediaError(`The LUT “${name}” of this take is too long to be one. ${advice}`);
  try {
    return new Map([[file, readCube(await readFile(path, 'utf8'))]]);
  } catch (error) {
    if (!(error instanceof CubeError)) throw error;
    throw new MediaError(`The LUT “${name}” of this take cannot be used: ${error.message} ${advice}`);
  }
}
