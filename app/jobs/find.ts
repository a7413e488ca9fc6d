/** Finding subjects: what moves in a footage, or is recognised there. */
import { findFootage } from '~/db/footage';
import { layout } from '~/base/layout';
import { isWhole } from '~/model/footage';
import { motionFile } from './motion-first';
import type { JobKind } from '~/queue/kind';

export const findKind: JobKind = {
  lane: 'compute',
  async prepare(job) {
    const footage = job.footageId ? await findFootage(job.footageId) : null;
    if (!footage || footage.deleted || !isWhole(footage)) return null;
    const { rate, frames } = footage.facts;
    return {
      kind: 'find',
      proxy: layout.proxy(footage.id),
      rate,
      frames,
      motion: motionFile(footage),
      moving: layout.moving(footage.id),
      out: layout.found(footage.id),
    };
  },
  // It is written whole or not at all, and lies with what else was made of the footage.
  clean: async () => undefined,
};
