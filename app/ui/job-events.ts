/**
 * What happens to jobs, as the server tells it: one stream and one store for the whole page. A component that shows a job
 * asks for that job alone, and is drawn anew only when something happens to it.
 */
import { useEffect } from 'react';
import { useRevalidator } from 'react-router';
import { createStore, useStore } from 'zustand';
import type { Job, JobEvent } from '~/model/job';

interface Events {
  /** The last event of each job. */
  byId: Record<string, JobEvent>;
}

export const jobEvents = createStore<Events>()(() => ({ byId: {} }));

/** Takes an event in, as the stream does. */
export const happened = (event: JobEvent) =>
  jobEvents.setState(({ byId }) => ({ byId: { ...byId, [event.id]: event } }));

/** A job as a page was loaded with it. */
export type LoadedJob = Pick<Job, 'id' | 'state' | 'progress' | 'error'>;

/** A job as it is now. */
export interface LiveJob {
  state: JobEvent['state'];
  /** Share done, 0…1. */
  progress: number;
  /** Seconds left, once that can be told. */
  left: number | null;
  error: string | null;
  /** Counts the pictures of the frame being written, where there are any. */
  picture: number | null;
  /** Whether it waits or runs. */
  going: boolean;
}

/**
 * What was loaded with what was heard since; null without a job. A job that was loaded as ended stays so: what was heard of it
 * is older, from before the connection was lost.
 */
export function liveJob(job: LoadedJob | null, heard: JobEvent | undefined): LiveJob | null {
  if (!job) return null;
  const ended = job.state !== 'queued' && job.state !== 'running';
  const event = ended && heard?.state !== 'removed' ? undefined : heard;
  const { state, progress, error } = { ...job, ...event, error: event?.error ?? job.error };
  const going = state === 'queued' || state === 'running';
  return { state, progress, error, going, left: event?.left ?? null, picture: event?.picture ?? null };
}

/** A job as it is now; null without one. */
export function useJob(job: LoadedJob | null): LiveJob | null {
  const event = useStore(jobEvents, ({ byId }) => (job ? byId[job.id] : undefined));
  return liveJob(job, event);
}

/** Listeners of the stream, which is open as long as there are any. */
let listeners = 0;
let stream: EventSource | null = null;
const again = new Set<() => void>();

function open() {
  stream = new EventSource('/events');
  stream.onmessage = (message) => happened(JSON.parse(message.data as string) as JobEvent);
  stream.onopen = () => {
    for (const tell of again) tell();
  };
}

/** Whether an event may have changed what a page is loaded with: work that came, began, brought something, ended or went. */
export const isTurn = (event: JobEvent, before: JobEvent | undefined) =>
  event.state !== 'running' || before?.state !== 'running' || (event.parts ?? 0) > (before.parts ?? 0);

/**
 * Keeps the stream open, and has the page's data loaded again when something became of a job that concerns it, or when
 * something may have been missed: before the page listened, too.
 */
export function useJobEvents(concerns: (event: JobEvent) => boolean) {
  const { revalidate } = useRevalidator();
  useEffect(() => {
    if (listeners++ === 0) open();
    const load = () => void revalidate();
    again.add(load);
    if (stream?.readyState === EventSource.OPEN) load();
    const forget = jobEvents.subscribe(({ byId }, { byId: before }) => {
      const changed = Object.values(byId).filter((e) => e !== before[e.id]);
      if (changed.some((e) => isTurn(e, before[e.id]) && concerns(e))) load();
    });
    return () => {
      forget();
      again.delete(load);
      if (--listeners > 0) return;
      stream?.close();
      stream = null;
    };
  }, [revalidate, concerns]);
}
