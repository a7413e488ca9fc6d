/**
 * The kinds of long work: in which lane each waits, what has to be done, and what follows. To add one, name it in
 * `model/job.ts`, give it a task in `cli/task.ts` and `cli/run-task.ts`, and a file here.
 */
import type { JobKindName } from '~/model/job';
import { copyKind } from './copy';
import { examineKind } from './examine';
import { exportKind } from './export';
import { gatherKind } from './gather';
import type { JobKind } from '~/queue/kind';
import { findKind } from './find';
import { followKind } from './follow';
import { sketchKind } from './sketch';
import { motionKind } from './motion';

export const KINDS: Record<JobKindName, JobKind> = {
  gather: gatherKind,
  export: exportKind,
  copy: copyKind,
  motion: motionKind,
  find: findKind,
  follow: followKind,
  examine: examineKind,
  sketch: sketchKind,
};
