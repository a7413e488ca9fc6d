/** What happens to jobs, for whoever listens: the stream to the browser, and what follows from a job's end. */
import { EventEmitter } from 'node:events';
import type { Job, JobState } from '~/db/jobs';

export interface JobEvent {
  id: string;
  kind: Job['kind'];
  state: JobState | 'removed';
  progress: number;
  /** Seconds left, once that can be told. */
  left: number | null;
  error: string | null;
  footageId: string | null;
  /** Counts the pictures of the frame being written, where there are any. */
  picture?: number;
  /** How many recordings have been found so far. */
  found?: number;
}

const emitter = new EventEmitter().setMaxListeners(0);

export function announce(job: Job, change: Partial<JobEvent> = {}) {
  const { id, kind, state, progress, footageId } = job;
  emitter.emit('job', { id, kind, state, progress, left: null, error: null, footageId, ...change } satisfies JobEvent);
}

/** Calls a listener with every event; gives back what ends that. */
export function onJob(listener: (event: JobEvent) => void): () => void {
  emitter.on('job', listener);
  return () => void emitter.off('job', listener);
}
