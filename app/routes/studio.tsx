import { useEffect, useMemo, useState } from 'react';
import { data, Outlet, useLoaderData, type LoaderFunctionArgs, type ShouldRevalidateFunctionArgs } from 'react-router';
import { packHistory, unpackHistory } from '@glimbo/core/document/change';
import type { Take } from '@glimbo/core/take/take';
import { findFootage } from '~/db/footage';
import { findTake } from '~/db/takes';
import type { StudioData } from '~/model/studio';
import type { StudioOpened } from '~/studio/saving/opened';
import { meetDrafts } from '~/studio/saving/useSaving';
import type { Draft, Kept } from '~/studio/saving/drafts';
import { STATION_IDS, type Station } from '~/studio/state/stations';
import { createStudio, StudioContext } from '~/studio/state/store';
import { keepLast } from '~/ui/keep-last';

export async function loader({ params }: LoaderFunctionArgs): Promise<StudioData> {
  const found = await findTake(params.takeId!);
  const footage = found && (await findFootage(found.record.footageId));
  if (!found || !footage) throw data('There is no such take.', { status: 404 });
  return { record: found.record, history: packHistory(found.history), footage };
}

const last = keepLast<StudioData>();
export const clientLoader = last.clientLoader;

/** The take is edited here and saved from here: it is not asked for again as long as it is the same one. */
export const shouldRevalidate = ({ currentParams, nextParams }: ShouldRevalidateFunctionArgs) =>
  currentParams.takeId !== nextParams.takeId;

export const meta = ({ loaderData }: { loaderData?: StudioData }) => [
  { title: `${loaderData?.record.name ?? 'Studio'} - Glimbo` },
];

export default function StudioRoute() {
  const loaded = useLoaderData<typeof loader>();
  useEffect(() => last.remember(loaded), [loaded]);
  return <StudioOf key={loaded.record.id} loaded={loaded} />;
}

/** Station and time that the address names. */
function placeInAddress() {
  const query = typeof location === 'undefined' ? null : new URLSearchParams(location.search);
  const time = Number(query?.get('t') ?? NaN);
  const station = query?.get('station') as Station;
  return {
    ...(Number.isFinite(time) ? { time } : {}),
    ...(STATION_IDS.includes(station) ? { station } : {}),
  };
}

function StudioOf({ loaded }: { loaded: StudioData }) {
  const [first] = useState(loaded);
  const history = useMemo(() => unpackHistory<Take>(first.history), [first]);
  const store = useMemo(
    () => createStudio(first.footage, history, { takeId: first.record.id, ...placeInAddress() }),
    [first, history],
  );
  const kept = useMemo<Kept<Take>>(
    () => ({ history, revision: first.record.revision, lastSave: first.record.lastSave }),
    [first, history],
  );
  const [drafts, setDrafts] = useState<Draft<Take>[] | null>(null);
  useEffect(() => {
    void meetDrafts(first.record.id, kept).then(({ history: mine, open, uncertain }) => {
      if (mine) store.getState().goOnWith(mine);
      kept.uncertain = uncertain;
      setDrafts(open);
    });
  }, [store, first, kept]);
  // Station and time come from the address, which the server does not follow: the Studio is drawn in the browser.
  if (!drafts) return <div className="h-screen" />;
  return (
    <StudioContext.Provider value={store}>
      <Outlet context={{ record: first.record, kept, drafts } satisfies StudioOpened} />
    </StudioContext.Provider>
  );
}
