/** Making a footage's proxy, thumbnails and lanes. */
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Task } from '@glimbo/cli/task';
import type { Gathered } from '@glimbo/media/gather';
import { findFootage, recordingOf, setGathered } from '~/db/footage';
import { readSettings } from '~/db/settings';
import { config } from '~/base/config';
import type { JobKind } from './kind';

export const gatherKind: JobKind = {
  lane: 'compute',
  async prepare({ footageId }) {
    const footage = footageId ? await findFootage(footageId) : null;
    if (!footage) return null;
    const { facts, variableRate, id } = footage;
    const { proxyWidth } = await readSettings();
    const folder = join(config.footage, id);
    return { kind: 'gather', recording: await recordingOf(footage), facts, folder, variableRate, proxyWidth };
  },
  async accept({ footageId }, done, task) {
    const { recording } = task as Task & { kind: 'gather' };
    await setGathered(footageId!, done as Gathered, recording.source);
  },
  // The source is kept with the footage.
  result: (done) => {
    const { source: _, ...rest } = done as Gathered;
    return rest;
  },
  clean: ({ footageId }) => rm(join(config.footage, `${footageId}.part`), { recursive: true, force: true }),
};
