/** What was found in a footage, and having it looked for. */
import { readFile } from 'node:fs/promises';
import type { LoaderFunctionArgs } from 'react-router';
import { layout, onDisk } from '~/base/layout';
import { findFootage } from '~/db/footage';
import { beginNow } from '~/jobs/begin-now';
import { motionFirst } from '~/jobs/motion-first';
import { isWhole } from '~/model/footage';
import { answered, Refusal } from '~/server/answer';

export async function loader({ params }: LoaderFunctionArgs) {
  const footage = await findFootage(params.footageId!);
  const text = footage && (await readFile(onDisk(layout.found(footage.id))).catch(() => null));
  if (!text) return Response.json({ problem: 'Nothing was looked for in this footage yet.' }, { status: 404 });
  return new Response(text, {
    headers: { 'content-type': 'application/json', 'cache-control': 'private, max-age=86400' },
  });
}

export const action = answered(async ({ params }) => {
  const footage = await findFootage(params.footageId!);
  if (!footage) throw new Refusal('That footage is gone from the Library.', 404);
  if (!isWhole(footage)) throw new Refusal('The proxy is not made yet. Find subjects when it is.');
  await motionFirst(footage);
  return { id: await beginNow('find', footage.id) };
});
