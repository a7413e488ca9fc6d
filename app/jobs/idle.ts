/** Work that nobody asked for, done when nothing else waits: the motion of new footage is analysed by itself. */
import { findFootage } from '~/db/footage';
import { unfinishedJobs, WHEN_IDLE } from '~/db/jobs';
import { readSettings } from '~/db/settings';
import { sidecarOf } from '~/gathering/sidecar';
import { log } from '~/base/log';
import { onJob } from '~/queue/events';
import { queue } from '~/queue/queue';

/** Has a footage analysed when nothing else waits, unless it was or will be. */
async function analyseLater(footageId: string) {
  if (!(await readSettings()).analyseNew) return;
  const footage = await findFootage(footageId);
  if (!footage || footage.deleted || footage.motion) return;
  if ((await unfinishedJobs(footageId)).some((j) => j.kind === 'motion')) return;
  const params = { method: 'quick', use: sidecarOf(footage) ? 'replace' : 'no' };
  await queue().add({ kind: 'motion', params, footageId, takeId: null, priority: WHEN_IDLE });
}

/** From now on, footage whose proxy is made is analysed by itself. */
export function startIdleWork(): () => void {
  return onJob(({ kind, state, footageId }) => {
    if (kind !== 'gather' || state !== 'done' || !footageId) return;
    analyseLater(footageId).catch((error: unknown) => log.error({ err: error }, 'an analysis was not queued'));
  });
}
