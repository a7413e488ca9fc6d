/** Work on a footage that somebody waits for. */
import { unfinishedJobs } from '~/db/jobs';
import type { JobKindName } from '~/model/job';
import { queue } from '~/queue/queue';

/** Begins it now; what of its kind would have been done some time is not done besides. Gives the job's id. */
export async function beginNow(kind: JobKindName, footageId: string, params: object = {}): Promise<string> {
  for (const job of await unfinishedJobs(footageId)) if (job.kind === kind) await queue().cancel(job.id);
  return queue().add({ kind, params: { ...params }, footageId, takeId: null });
}
