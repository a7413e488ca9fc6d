/** Takes in a file that takes may name: a LUT or a picture. Kept by its content, so that the same one is there once. */
import { createHash, randomUUID } from 'node:crypto';
import { rename, rm, writeFile } from 'node:fs/promises';
import { LARGEST_PICTURE } from '@glimbo/core/overlay/picture-size';
import { MediaError } from '@glimbo/media/ffmpeg';
import { LONGEST_LUT } from '@glimbo/media/materials';
import { ask } from '~/queue/ask';
import { layout, onDisk } from '~/base/layout';
import { answered, Refusal } from '~/server/answer';

export const action = answered(async ({ request }) => {
  const name = new URL(request.url).searchParams.get('name') ?? '';
  const [, plain = '', ending = ''] = /^(.*)\.(cube|png|svg)$/i.exec(name) ?? [];
  if (!ending) throw new Refusal(`“${name}” is no .cube, .png or .svg file. Nothing was changed.`);
  const kind = ending.toLowerCase() as 'cube' | 'png' | 'svg';
  const most = kind === 'cube' ? LONGEST_LUT : LARGEST_PICTURE;
  if (Number(request.headers.get('content-length')) > most)
    throw new Refusal(`“${name}” is larger than it may be (${most / 1e6} MB). Nothing was changed.`);
  const bytes = Buffer.from(await request.arrayBuffer());
  const mark = createHash('sha256').update(bytes).digest('hex').slice(0, 12);
  const called =
    plain
      .replace(/[^\p{L}\p{N} _-]/gu, '')
      .trim()
      .slice(0, 60) || kind;
  const file = `${called}.${mark}.${kind}`;
  const place = layout.work(`material-${randomUUID()}`);
  const tried = onDisk(place);
  try {
    await writeFile(tried, bytes);
    // In a process of its own: whatever it holds, the server goes on answering.
    await ask({ kind: 'material', file: place, as: kind });
    await rename(tried, onDisk(layout.material(file)));
  } catch (error) {
    if (error instanceof MediaError) throw new Refusal(`“${name}” ${error.message} Nothing was changed.`);
    throw error;
  } finally {
    await rm(tried, { force: true });
  }
  return { file };
});
