/** Every fact of one footage, for its information sheet. */
import { data, type LoaderFunctionArgs } from 'react-router';
import { filesOf, findFootage, type Footage } from '~/db/footage';

export interface FootageInfo extends Pick<Footage, 'facts' | 'inPlace' | 'notes' | 'fingerprint'> {
  files: string[];
  proxy: { width: number; height: number } | null;
}

export async function loader({ params }: LoaderFunctionArgs) {
  const footage = await findFootage(params.footageId!);
  if (!footage) throw data('That footage is gone from the Library.', { status: 404 });
  const { facts, inPlace, notes, fingerprint, gathered } = footage;
  return Response.json({
    facts,
    inPlace,
    notes,
    fingerprint,
    files: filesOf(footage),
    proxy: gathered?.proxy ?? null,
  } satisfies FootageInfo);
}
