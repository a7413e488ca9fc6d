/** What has to know how the rig moved has that found out before it. */
import { layout } from '~/base/layout';
import { unfinishedJobs, WHEN_IDLE } from '~/db/jobs';
import { sidecarOf } from '~/gathering/sidecar';
import type { Footage } from '~/model/footage';
import { beginNow } from './begin-now';

/** How motion is analysed where nobody says how. */
export const usualMotion = (footage: Footage) => ({
  method: 'quick',
  use: sidecarOf(footage) ? 'replace' : 'no',
});

/** Where the motion of a footage's present picture lies; null where that is not known. */
export const motionFile = ({ motion }: Footage) => (motion && !motion.void ? layout.motion(motion.file) : null);

/** Has a footage's motion analysed before whatever is added next, unless it was or is about to be. */
export async function motionFirst(footage: Footage): Promise<void> {
  if (footage.motion) return;
  const isComing = (await unfinishedJobs(footage.id)).some(
    ({ kind, state, priority }) => kind === 'motion' && (state === 'running' || priority < WHEN_IDLE),
  );
  if (!isComing) await beginNow('motion', footage.id, usualMotion(footage));
}
