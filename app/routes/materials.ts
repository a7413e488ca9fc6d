/** Takes in a file that takes may name: a LUT or a picture. Kept by its content, so that the same one is there once. */
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { CubeError, readCube } from '@glimbo/core/look/cube';
import { LARGEST_PICTURE, pictureFacts } from '@glimbo/core/overlay/picture-size';
import { LONGEST_LUT } from '@glimbo/media/materials';
import { writeWhole } from '@glimbo/media/write-whole';
import { config } from '~/base/config';
import { answered, Refusal } from '~/server/answer';

export const action = answered(async ({ request }) => {
  const name = new URL(request.url).searchParams.get('name') ?? '';
  const [, plain = '', ending = ''] = /^(.*)\.(cube|png|svg)$/i.exec(name) ?? [];
  if (!ending) throw new Refusal(`“${name}” is no .cube, .png or .svg file. Nothing was changed.`);
  const kind = ending.toLowerCase();
  const most = kind === 'cube' ? LONGEST_LUT : LARGEST_PICTURE;
  if (Number(request.headers.get('content-length')) > most)
    throw new Refusal(`“${name}” is larger than it may be (${most / 1e6} MB). Nothing was changed.`);
  const bytes = Buffer.from(await request.arrayBuffer());
  if (kind === 'cube') checkCube(name, bytes.toString());
  else if (pictureFacts(bytes)?.type !== (kind === 'png' ? 'image/png' : 'image/svg+xml'))
    throw new Refusal(`“${name}” is no ${kind.toUpperCase()} picture that can be read. Nothing was changed.`);
  const mark = createHash('sha256').update(bytes).digest('hex').slice(0, 12);
  const called =
    plain
      .replace(/[^\p{L}\p{N} _-]/gu, '')
      .trim()
      .slice(0, 60) || kind;
  const file = `${called}.${mark}.${kind}`;
  await writeWhole(join(config.materials, file), bytes);
  return { file };
});

function checkCube(name: string, text: string) {
  try {
    readCube(text);
  } catch (error) {
    if (!(error instanceof CubeError)) throw error;
    throw new Refusal(`“${name}” cannot be used: ${error.message} Nothing was changed.`);
  }
}
