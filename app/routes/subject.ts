/** Where one subject is, frame by frame; with `job` what the work of that id has found so far. */
import { readFile } from 'node:fs/promises';
import type { LoaderFunctionArgs } from 'react-router';
import { layout, onDisk } from '~/base/layout';
import { findJob } from '~/db/jobs';
import { findSubject } from '~/db/subjects';
import { followParams } from '~/jobs/params';
import { subjectFile } from '~/model/subject';

export async function loader({ params, request }: LoaderFunctionArgs) {
  const subject = await findSubject(params.subjectId!);
  const asked = new URL(request.url).searchParams.get('job');
  const job = asked ? await findJob(asked) : null;
  if (asked && (job?.kind !== 'follow' || followParams(job).subject !== subject?.id)) return unknown();
  const file = subject && (job ? layout.growingTrack(job.id) : layout.subject(subjectFile(subject)));
  const text = file && (await readFile(onDisk(file)).catch(() => null));
  if (!text) return unknown();
  const keep = job ? 'no-store' : 'private, max-age=86400';
  return new Response(text, { headers: { 'content-type': 'application/json', 'cache-control': keep } });
}

const unknown = () => Response.json({ problem: 'That subject was not followed yet.' }, { status: 404 });
