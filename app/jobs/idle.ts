/** Work that nobody asked for, done when nothing else waits: new footage is analysed, and subjects are found in it, by themselves. */
import { findFootage } from '~/db/footage';
import { unfinishedJobs, WHEN_IDLE } from '~/db/jobs';
import { readSettings } from '~/db/settings';
import { log } from '~/base/log';
import { onJob } from '~/queue/events';
import { queue } from '~/queue/queue';
import { usualMotion } from './motion-first';

/** Has a footage analysed, and looked through, when nothing else waits, unless it was or will be. */
async function analyseLater(footageId: string) {
  const { analyseNew, findNew } = await readSettings();
  const footage = await findFootage(footageId);
  if (!footage || footage.deleted) return;
  const waiting = (await unfinishedJobs(footageId)).map(({ kind }) => kind);
  const later = { footageId, takeId: null, priority: WHEN_IDLE };
  // What moves is told from how the rig moved.
  if ((analyseNew || findNew) && !footage.motion && !waiting.includes('motion'))
    await queue().add({ kind: 'motion', params: usualMotion(footage), ...later });
  if (findNew && !waiting.includes('find')) await queue().add({ kind: 'find', params: {}, ...later });
}

/** From now on, footage whose proxy is made is looked through by itself. */
export function startIdleWork(): () => void {
  return onJob(({ kind, state, footageId }) => {
    if (kind !== 'gather' || state !== 'done' || !footageId) return;
    analyseLater(footageId).catch((error: unknown) => log.error({ err: error }, 'an analysis was not queued'));
  });
}
