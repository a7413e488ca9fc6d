/** Tracks of subjects while they are being followed: they are seen as far as they have come. */
import { useEffect, useMemo, useRef } from 'react';
import { readSubject, type SubjectTrack } from '@glimbo/core/follow/subject';
import { useJob } from '~/ui/job-events';
import type { Job } from '~/model/job';
import { useStudio, useStudioStore } from '../state/store';
import { useWork } from '../state/work';

/** How often a growing track is asked for, in shares of the work. */
const STEPS = 60;

/** Where each subject is shown: as it is known, and as far as it has come where that is being found out. */
export function useShownTracks(): ReadonlyMap<string, SubjectTrack> {
  const tracks = useStudio((s) => s.tracks);
  const growing = useStudio((s) => s.growing);
  return useMemo(() => {
    const shown = new Map(growing);
    for (const [id, { track }] of tracks) if (!shown.has(id)) shown.set(id, track);
    return shown;
  }, [tracks, growing]);
}

/** Fetches the track that a piece of work has found so far, whenever there is more of it. */
export function useGrowingTrack(job: Job, subject: string) {
  const store = useStudioStore();
  const { footage } = useWork();
  const live = useJob(job);
  const going = live?.going ?? false;
  const step = Math.floor((live?.progress ?? 0) * STEPS);
  const asking = useRef(false);
  const wanted = useRef(false);
  useEffect(() => {
    if (!going || step === 0 || asking.current) return;
    asking.current = true;
    void fetch(`/footage/${footage.id}/subjects/${subject}?job=${job.id}`)
      .then(async (answer) => {
        const track = answer.ok && readSubject(await answer.json());
        if (track && wanted.current) store.getState().growTrack(subject, track);
      })
      // It comes whole when it is ready.
      .catch(() => undefined)
      .finally(() => (asking.current = false));
  }, [going, step, footage.id, subject, job.id, store]);
  useEffect(() => {
    if (!going) return;
    wanted.current = true;
    return () => {
      wanted.current = false;
      store.getState().growTrack(subject, null);
    };
  }, [going, subject, store]);
}
