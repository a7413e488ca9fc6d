/** Takes recordings into the Library. Answers JSON, since the asking goes on while the page stays as it is. */
import { findFootageByContent } from '~/db/footage';
import { answered, readForm, Refusal } from '~/server/answer';
import { gatherPath } from '~/gathering/in-place';
import { discardUpload, gatherUploads } from '~/gathering/uploads';
import type { PairChoice } from '~/model/gathering';

export const action = answered(async ({ request }) => {
  const form = await readForm(request);
  const text = (name: string) => String(form.get(name) ?? '');
  const accepted = form.get('accepted') === 'yes';
  const pair = (['lenses', 'apart'] as const).find((p) => p === form.get('pair')) ?? (null as PairChoice);
  switch (form.get('intent')) {
    case 'known': {
      const known = await findFootageByContent(text('fingerprint'));
      return { known: known && !known.deleted ? known.name : null };
    }
    case 'path':
      return gatherPath(text('path'), { accepted, pair }, text('prefix').slice(0, 60));
    case 'upload': {
      let names: string[] = [];
      try {
        names = (JSON.parse(text('names')) as unknown[]).map(String);
      } catch {
        throw new Refusal('The names of the files could not be read. Nothing was added.', 400);
      }
      const name = text('name').trim().slice(0, 160) || 'Recording';
      return gatherUploads(text('uploads').split(','), names, { name, accepted, pair });
    }
    case 'discard':
      await discardUpload(text('upload'));
      return {};
  }
  throw new Refusal('That is not known here.', 400);
});
