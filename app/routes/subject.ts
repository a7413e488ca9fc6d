/** Where one subject is, frame by frame. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { LoaderFunctionArgs } from 'react-router';
import { config } from '~/base/config';
import { findSubject } from '~/db/subjects';
import { subjectFile } from '~/model/subject';

export async function loader({ params }: LoaderFunctionArgs) {
  const subject = await findSubject(params.subjectId!);
  const text = subject && (await readFile(join(config.subjects, subjectFile(subject))).catch(() => null));
  if (!text) return Response.json({ problem: 'That subject was not followed yet.' }, { status: 404 });
  return new Response(text, {
    headers: { 'content-type': 'application/json', 'cache-control': 'private, max-age=86400' },
  });
}
