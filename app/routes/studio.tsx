import { useEffect, useMemo, useState } from 'react';
import { data, useLoaderData, type LoaderFunctionArgs } from 'react-router';
import { findFootage } from '~/db/footage';
import { listJobs } from '~/db/jobs';
import { sizeRatios } from '~/db/sizes';
import { findTake } from '~/db/takes';
import { sidecarOf } from '~/server/sidecar';
import { Studio } from '~/studio/Studio';
import { createStudio, STATIONS, StudioContext, type Station } from '~/studio/store';
import { keepLast } from '~/ui/keep-last';
import type { Draft, Kept } from '~/studio/drafts';
import { meetDrafts } from '~/studio/saving';

export async function loader({ params }: LoaderFunctionArgs) {
  const found = await findTake(params.takeId!);
  const footage = found && (await findFootage(found.record.footageId));
  if (!found || !footage) throw data('There is no such take.', { status: 404 });
  const jobs = await listJobs();
  const ratios = await sizeRatios();
  return {
    ...found,
    footage,
    ratios,
    exports: jobs.filter((j) => j.kind === 'export' && j.takeId === found.record.id),
    analysing: jobs.find((j) => j.kind === 'motion' && j.footageId === footage.id) ?? null,
    sidecar: sidecarOf(footage) !== null,
    gathering: jobs.find((j) => j.kind === 'gather' && j.footageId === footage.id) ?? null,
  };
}

const last = keepLast<Awaited<ReturnType<typeof loader>>>();
export const clientLoader = last.clientLoader;

export const meta = ({ loaderData }: { loaderData?: Awaited<ReturnType<typeof loader>> }) => [
  { title: `${loaderData?.record.name ?? 'Studio'} - Glimbo` },
];

/** The take is edited in the browser's store; what the loader gives later refreshes the jobs alone. */
export default function StudioRoute() {
  const loaded = useLoaderData<typeof loader>();
  useEffect(() => last.remember(loaded), [loaded]);
  return <StudioOf key={loaded.record.id} loaded={loaded} />;
}

export type StudioData = Awaited<ReturnType<typeof loader>>;

function StudioOf({ loaded }: { loaded: StudioData }) {
  const [first] = useState(loaded);
  const store = useMemo(() => {
    const query = typeof location === 'undefined' ? null : new URLSearchParams(location.search);
    const time = Number(query?.get('t') ?? NaN);
    const station = query?.get('station') as Station;
    return createStudio(first.footage, first.history, {
      ...(Number.isFinite(time) ? { time } : {}),
      ...(STATIONS.includes(station) ? { station } : {}),
    });
  }, [first]);
  const kept = useMemo<Kept>(
    () => ({ history: first.history, revision: first.record.revision, lastSave: first.record.lastSave }),
    [first],
  );
  const [drafts, setDrafts] = useState<Draft[] | null>(null);
  useEffect(() => {
    void meetDrafts(first.record.id, kept).then(({ history, open, uncertain }) => {
      if (history) store.setState({ history });
      kept.uncertain = uncertain;
      setDrafts(open);
    });
  }, [store, first, kept]);
  useEffect(() => {
    // A new proxy has come; marks and ranges may have been changed here since and stay.
    const { footage, set } = store.getState();
    if (loaded.footage.motion?.file !== footage.motion?.file || loaded.footage.motion?.void !== footage.motion?.void)
      set({ footage: { ...store.getState().footage, motion: loaded.footage.motion } });
    if (loaded.footage.version !== footage.version)
      set({ footage: { ...loaded.footage, marks: footage.marks, ranges: footage.ranges } });
  }, [store, loaded.footage]);
  // Station and time come from the address, which the server does not follow: the Studio is drawn in the browser.
  if (!drafts) return <div className="h-screen" />;
  return (
    <StudioContext.Provider value={store}>
      <Studio loaded={loaded} kept={kept} drafts={drafts} />
    </StudioContext.Provider>
  );
}
