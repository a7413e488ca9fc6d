/** What a subject looks like where it was pointed out. */
import { readFile } from 'node:fs/promises';
import type { LoaderFunctionArgs } from 'react-router';
import { layout, onDisk } from '~/base/layout';
import { findSubject } from '~/db/subjects';
import { subjectPicture } from '~/model/subject';

export async function loader({ params }: LoaderFunctionArgs) {
  const subject = await findSubject(params.subjectId!);
  const jpeg = subject && (await readFile(onDisk(layout.subject(subjectPicture(subject)))).catch(() => null));
  if (!jpeg) return new Response('There is no picture of that subject.', { status: 404 });
  return new Response(jpeg, {
    headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, max-age=86400' },
  });
}
