/** Takes recordings into the Library. Answers JSON, since the asking goes on while the page stays as it is. */
import type { ActionFunctionArgs } from 'react-router';
import { findFootageByContent } from '~/db/footage';
import { discardUpload, gatherPath, gatherUploads } from '~/server/gathering';

export async function action({ request }: ActionFunctionArgs) {
  const form = await request.formData();
  const text = (name: string) => String(form.get(name) ?? '');
  const accepted = form.get('accepted') === 'yes';
  switch (form.get('intent')) {
    case 'known': {
      const known = await findFootageByContent(text('fingerprint'));
      return Response.json({ known: known && !known.deleted ? known.name : null });
    }
    case 'path':
      return Response.json(await gatherPath(text('path'), accepted, text('prefix').slice(0, 60)));
    case 'upload': {
      let names: string[] = [];
      try {
        names = (JSON.parse(text('names')) as unknown[]).map(String);
      } catch {
        return Response.json({ problem: 'The names of the files could not be read. Nothing was added.' });
      }
      const name = text('name').trim().slice(0, 160) || 'Recording';
      return Response.json(await gatherUploads(text('uploads').split(','), names, { name, accepted }));
    }
    case 'discard':
      await discardUpload(text('upload'));
      return Response.json({});
  }
  return Response.json({ problem: 'That is not known here.' }, { status: 400 });
}
