/** Every fact of one footage, for its information sheet. */
import { data, type LoaderFunctionArgs } from 'react-router';
import { filesOf, findFootage } from '~/db/footage';
import type { FootageInfo } from '~/model/footage';

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
