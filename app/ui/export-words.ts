/** How exports stand, in words: the same on every page. */
import type { JobState } from '~/model/job';

export const EXPORT_STATES: Record<JobState, string> = {
  queued: 'waiting',
  running: 'exporting',
  done: 'finished',
  failed: 'failed',
  cancelled: 'cancelled',
};

/** When one that waits is begun, by how many are begun before it. */
export const waitingWords = (before: number): string =>
  before === 0 ? 'waiting, next' : `waiting, after ${before} ${before === 1 ? 'other' : 'others'}`;
