/** All footage in brief: what a take's twin can be taken from. */
import { basename } from 'node:path';
import { listFootage } from '~/db/footage';
import { isWhole, proxyFile, type FootageChoice } from '~/model/footage';

export async function loader() {
  const footage = (await listFootage()).filter(isWhole).map((f): FootageChoice => {
    const { id, name, facts, gathered, version } = f;
    return {
      id,
      name,
      file: basename(f.file),
      rate: facts.rate,
      frames: facts.frames,
      proxy: `/media/footage/${id}/${proxyFile(gathered!)}?v=${version}`,
    };
  });
  return Response.json({ footage });
}
