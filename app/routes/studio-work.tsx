/** The Studio with the work on its take and footage, which is asked for again whenever something becomes of it. */
import { stat } from 'node:fs/promises';
import { useCallback, useEffect } from 'react';
import { data, useLoaderData, useOutletContext, type LoaderFunctionArgs } from 'react-router';
import { layout, onDisk } from '~/base/layout';
import { seenAs } from '~/db/analyses';
import { findFootage, sourceOf } from '~/db/footage';
import { jobsOf, lastJob } from '~/db/jobs';
import { sizeRatios } from '~/db/sizes';
import { listSubjects } from '~/db/subjects';
import { findTakeRecord } from '~/db/takes';
import type { JobEvent } from '~/model/job';
import type { StudioWork } from '~/model/studio';
import { sidecarOf } from '~/gathering/sidecar';
import type { StudioOpened } from '~/studio/saving/opened';
import { Studio } from '~/studio/Studio';
import { useStudioStore } from '~/studio/state/store';
import { WorkContext } from '~/studio/state/work';
import { useJobEvents } from '~/ui/job-events';
import { keepLast } from '~/ui/keep-last';

export async function loader({ params }: LoaderFunctionArgs): Promise<StudioWork> {
  const takeId = params.takeId!;
  const record = await findTakeRecord(takeId);
  const footage = record && (await findFootage(record.footageId));
  if (!footage) throw data('There is no such take.', { status: 404 });
  const footageId = footage.id;
  const [exports, ratios, gathering, analysing, finding, found, subjects, following] = await Promise.all([
    jobsOf({ kind: 'export', takeId }),
    sizeRatios(),
    lastJob({ kind: 'gather', footageId }),
    lastJob({ kind: 'motion', footageId }),
    lastJob({ kind: 'find', footageId }),
    stat(onDisk(layout.found(footageId))).then(
      ({ mtimeMs }) => mtimeMs,
      () => null,
    ),
    sourceOf(footageId).then((source) => listSubjects(footageId, seenAs(footage.fingerprint, source))),
    jobsOf({ kind: 'follow', footageId }),
  ]);
  const sidecar = sidecarOf(footage) !== null;
  return { footage, exports, ratios, gathering, analysing, found, finding, subjects, following, sidecar };
}

const last = keepLast<StudioWork>();
export const clientLoader = last.clientLoader;

export default function StudioWorkRoute() {
  const work = useLoaderData<typeof loader>();
  const opened = useOutletContext<StudioOpened>();
  const store = useStudioStore();
  useEffect(() => last.remember(work), [work]);
  useEffect(() => store.getState().meetFootage(work.footage), [store, work.footage]);
  const { id } = work.footage;
  useJobEvents(useCallback((event: JobEvent) => event.footageId === id, [id]));
  return (
    <WorkContext.Provider value={work}>
      <Studio {...opened} />
    </WorkContext.Provider>
  );
}
