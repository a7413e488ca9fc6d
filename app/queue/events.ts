/** What happens to jobs, for whoever listens: the stream to the browser, and what follows from a job's end. */
import { EventEmitter } from 'node:events';
import type { Job, JobEvent } from '~/model/job';

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
