import { Film, Plus } from 'lucide-react';
import { redirect, useFetcher, useLoaderData, Link, type ActionFunctionArgs } from 'react-router';
import { listFootage } from '~/db/footage';
import { listJobs } from '~/db/jobs';
import { listProjects, listTakes } from '~/db/takes';
import { enqueue } from '~/jobs/queue';
import { AddFootage } from '~/library/AddFootage';
import { FootageCard } from '~/library/FootageCard';
import { startTake } from '~/server/gathering';
import { PageHeader } from '~/ui/Header';
import { useJobs } from '~/ui/useJobs';

export async function loader() {
  const [footage, takes, projects, jobs] = await Promise.all([listFootage(), listTakes(), listProjects(), listJobs()]);
  return { footage, takes, projects, gathering: jobs.filter((j) => j.kind === 'gather') };
}

export const meta = () => [{ title: 'Library - Glimbo' }];

export async function action({ request }: ActionFunctionArgs) {
  const form = await request.formData();
  const text = (name: string) => String(form.get(name) ?? '');
  switch (form.get('intent')) {
    case 'gather-again':
      await enqueue({ kind: 'gather', params: {}, footageId: text('footage'), takeId: null });
      return {};
    case 'new-take': {
      const id = await startTake(text('footage'));
      return id ? redirect(`/studio/${id}`) : { problem: 'That footage is gone.' };
    }
  }
  return {};
}

export default function Library() {
  const { footage, takes, projects, gathering } = useLoaderData<typeof loader>();
  const events = useJobs();
  const fetcher = useFetcher();
  return (
    <>
      <PageHeader />
      <main className="mx-auto max-w-[1400px] p-5">
        <AddFootage empty={footage.length === 0} />
        {footage.length > 0 && (
          <section className="mt-5" aria-label="Footage">
            <h1 className="mb-2 text-lg font-semibold">Footage</h1>
            <ul className="grid grid-cols-[repeat(auto-fill,minmax(540px,1fr))] gap-4">
              {footage.map((f) => {
                const job = gathering.find((j) => j.footageId === f.id) ?? null;
                return (
                  <FootageCard key={f.id} footage={f} job={job} event={job ? events.get(job.id) : undefined}>
                    <fetcher.Form method="post" action="/?index">
                      <input type="hidden" name="footage" value={f.id} />
                      <button className="button" name="intent" value="new-take">
                        <Plus size={14} /> New take
                      </button>
                    </fetcher.Form>
                  </FootageCard>
                );
              })}
            </ul>
          </section>
        )}
        {projects.length > 0 && (
          <section className="mt-6" aria-label="Projects">
            <h1 className="mb-2 text-lg font-semibold">Projects</h1>
            {projects.map((p) => (
              <div key={p.id} className="mb-4">
                <h2 className="label mb-1">{p.name}</h2>
                <ul className="grid grid-cols-[repeat(auto-fill,minmax(280px,1fr))] gap-2">
                  {takes.filter((t) => t.projectId === p.id).map((t) => (
                    <li key={t.id}>
                      <Link to={`/studio/${t.id}`} className="flex items-center gap-3 border border-rule bg-sheet p-2 hover:border-ink">
                        <Film size={16} className="shrink-0 text-muted" />
                        <span className="min-w-0">
                          <span className="block truncate font-medium">{t.name}</span>
                          <span className="block truncate text-muted">{footage.find((f) => f.id === t.footageId)?.name}</span>
                        </span>
                      </Link>
                    </li>
                  ))}
                </ul>
              </div>
            ))}
          </section>
        )}
      </main>
    </>
  ); // prettier-ignore
}
