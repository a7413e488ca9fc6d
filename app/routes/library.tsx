import { useEffect } from 'react';
import { redirect, useLoaderData, type ActionFunctionArgs, type LoaderFunctionArgs } from 'react-router';
import { findFootage } from '~/db/footage';
import { listJobs, WHEN_IDLE } from '~/db/jobs';
import { listTakes, listProjects } from '~/db/takes';
import { enqueue } from '~/jobs/queue';
import { AddFootage } from '~/library/AddFootage';
import { FootageList } from '~/library/FootageList';
import { Projects } from '~/library/Projects';
import { startTake, unfinishedUploads } from '~/server/gathering';
import { handled, readForm, Refusal } from '~/server/answer';
import { libraryFootage } from '~/server/library';
import { missingOriginals, purge } from '~/server/upkeep';
import { PageHeader } from '~/ui/Header';
import type { Job } from '~/db/jobs';
import { copyName, JobProgress } from '~/ui/JobProgress';
import { keepLast } from '~/ui/keep-last';
import { useJobs } from '~/ui/useJobs';

export async function loader({ request }: LoaderFunctionArgs) {
  const deleted = new URL(request.url).searchParams.has('deleted');
  const [{ footage, all }, takes, projects, unfinished, jobs] = await Promise.all([
    libraryFootage(deleted),
    listTakes(),
    listProjects(),
    unfinishedUploads(),
    listJobs(),
  ]);
  const missing = new Set(deleted ? [] : await missingOriginals(all));
  return {
    footage: footage.map((f) => ({ ...f, missing: missing.has(f.id) })),
    takes,
    projects,
    unfinished,
    deleted,
    work: jobs.filter(
      (j) =>
        ['copy', 'motion', 'examine'].includes(j.kind) &&
        j.state !== 'done' &&
        j.state !== 'cancelled' &&
        // What waits for an idle moment needs no telling until it runs.
        !(j.priority >= WHEN_IDLE && j.state === 'queued'),
    ),
  };
}

const last = keepLast<Awaited<ReturnType<typeof loader>>>();
export const clientLoader = last.clientLoader;

export const meta = () => [{ title: 'Library - Glimbo' }];

export const action = handled(async ({ request }: ActionFunctionArgs) => {
  const form = await readForm(request);
  const text = (name: string) => String(form.get(name) ?? '');
  switch (form.get('intent')) {
    case 'gather-again':
      if (await findFootage(text('footage')))
        await enqueue({ kind: 'gather', params: {}, footageId: text('footage'), takeId: null });
      return {};
    case 'new-take': {
      const id = await startTake(text('footage'));
      return id ? redirect(`/studio/${id}`) : { problem: 'That footage is gone.' };
    }
    case 'purge':
      await purge(Infinity);
      return {};
  }
  throw new Refusal('That is not known here.', 400);
});

export default function Library() {
  const loaded = useLoaderData<typeof loader>();
  useEffect(() => last.remember(loaded), [loaded]);
  const { footage, takes, projects, unfinished, deleted, work } = loaded;
  const events = useJobs();
  const nameOf = (job: Job) =>
    job.kind === 'copy'
      ? copyName(job)
      : job.kind === 'examine'
        ? 'Looking through a folder'
        : `Motion of ${footage.find((f) => f.id === job.footageId)?.name ?? 'deleted footage'}`;
  const empty = footage.length === 0 && !deleted;
  return (
    <div className="flex h-screen flex-col">
      <PageHeader />
      <main className="flex min-h-0 flex-1 flex-col px-5 pt-4">
        {!deleted && <AddFootage empty={empty} unfinished={unfinished} />}
        {work.map((job) => (
          <JobProgress key={job.id} job={job} event={events.get(job.id)} name={nameOf(job)} />
        ))}
        {!empty && (
          <div className="mt-3 flex min-h-0 flex-1 gap-5">
            <FootageList footage={footage} takes={takes} events={events} deleted={deleted} />
            <Projects projects={projects} takes={takes} footage={footage} />
          </div>
        )}
      </main>
    </div>
  );
}
