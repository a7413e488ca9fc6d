/** Takes files into the Library. Answers JSON, since the asking goes on while the page stays as it is. */
import type { ActionFunctionArgs } from 'react-router';
import { discardUpload, gatherPath, gatherUpload } from '~/server/gathering';

export async function action({ request }: ActionFunctionArgs) {
  const form = await request.formData();
  const text = (name: string) => String(form.get(name) ?? '');
  const accepted = form.get('accepted') === 'yes';
  switch (form.get('intent')) {
    case 'path':
      return Response.json(await gatherPath(text('path'), accepted));
    case 'upload':
      return Response.json(await gatherUpload(text('upload'), text('name'), accepted));
    case 'discard':
      await discardUpload(text('upload'));
      return Response.json({});
  }
  return Response.json({ problem: 'That is not known here.' }, { status: 400 });
}
