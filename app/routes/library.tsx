import { useEffect } from 'react';
import { useLoaderData, type ActionFunctionArgs, type LoaderFunctionArgs } from 'react-router';
import { findFootage } from '~/db/footage';
import { workForLibrary } from '~/db/jobs';
import { listTakes, listProjects } from '~/db/takes';
import { AddFootage } from '~/library/AddFootage';
import { FootageList } from '~/library/FootageList';
import { Projects } from '~/library/Projects';
import { haveGathered } from '~/gathering/enter';
import { unfinishedUploads } from '~/gathering/uploads';
import { handled, readForm, Refusal } from '~/server/answer';
import { libraryFootage } from '~/server/library';
import { deletedBefore, purge } from '~/server/upkeep';
import { PageHeader } from '~/ui/Header';
import { copyName, JobProgress } from '~/ui/JobProgress';
import { keepLast } from '~/ui/keep-last';
import { useJobEvents } from '~/ui/job-events';
import type { Job, JobEvent } from '~/model/job';

export async function loader({ request }: LoaderFunctionArgs) {
  const deleted = new URL(request.url).searchParams.has('deleted');
  const [footage, takes, projects, unfinished, work] = await Promise.all([
    libraryFootage(deleted),
    listTakes(),
    listProjects(),
    unfinishedUploads(),
    workForLibrary(),
  ]);
  return {
    footage,
    takes,
    projects,
    unfinished,
    deleted,
    work,
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
      if (await findFootage(text('footage'))) await haveGathered(text('footage'));
      return {};
    case 'purge':
      await purge(await deletedBefore(Infinity));
      return {};
  }
  throw new Refusal('That is not known here.', 400);
});

/** Exports show nothing here. */
const anyJob = ({ kind }: JobEvent) => kind !== 'export';

export default function Library() {
  const loaded = useLoaderData<typeof loader>();
  useEffect(() => last.remember(loaded), [loaded]);
  const { footage, takes, projects, unfinished, deleted, work } = loaded;
  useJobEvents(anyJob);
  const nameOf = (job: Job) =>
    job.kind === 'copy'
      ? copyName(job)
      : job.kind === 'examine'
        ? 'Looking through a folder'
        : job.kind === 'sketch'
          ? 'First cuts'
          : `Motion of ${footage.find((f) => f.id === job.footageId)?.name ?? 'deleted footage'}`;
  const empty = footage.length === 0 && !deleted;
  return (
    <div className="flex h-screen flex-col">
      <PageHeader />
      <main className="flex min-h-0 flex-1 flex-col px-5 pt-4">
        {!deleted && <AddFootage empty={empty} unfinished={unfinished} />}
        {work.map((job) => (
          <JobProgress key={job.id} job={job} name={nameOf(job)} />
        ))}
        {!empty && (
          <div className="mt-3 flex min-h-0 flex-1 gap-5">
            <FootageList footage={footage} takes={takes} deleted={deleted} />
            <Projects projects={projects} takes={takes} footage={footage} />
          </div>
        )}
      </main>
    </div>
  );
}
