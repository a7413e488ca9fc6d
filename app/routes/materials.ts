/** Takes in a file that takes may name: a LUT. Kept by its content, so that the same one is there once. */
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { CubeError, readCube } from '@glimbo/core/look/cube';
import { LONGEST_LUT } from '@glimbo/media/materials';
import { writeWhole } from '@glimbo/media/write-whole';
import { config } from '~/base/config';
import { answered, Refusal } from '~/server/answer';

export const action = answered(async ({ request }) => {
  const name = new URL(request.url).searchParams.get('name') ?? '';
  if (!name.toLowerCase().endsWith('.cube')) throw new Refusal(`“${name}” is no .cube file. Nothing was changed.`);
  if (Number(request.headers.get('content-length')) > LONGEST_LUT)
    throw new Refusal(`“${name}” is longer than any LUT. Nothing was changed.`);
  const text = await request.text();
  try {
    readCube(text);
  } catch (error) {
    if (!(error instanceof CubeError)) throw error;
    throw new Refusal(`“${name}” cannot be used: ${error.message} Nothing was changed.`);
  }
  const mark = createHash('sha256').update(text).digest('hex').slice(0, 12);
  const plain =
    name
      .slice(0, -5)
      .replace(/[^\p{L}\p{N} _-]/gu, '')
      .trim()
      .slice(0, 60) || 'lut';
  const file = `${plain}.${mark}.cube`;
  await writeWhole(join(config.materials, file), text);
  return { file };
});
