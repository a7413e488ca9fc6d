/** Making a footage's proxy, thumbnails and lanes. */
import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import type { Placed } from '@glimbo/cli/place';
import type { Task } from '@glimbo/cli/task';
import type { Gathered } from '@glimbo/media/gather';
import { findFootage, forgetGrown, recordingOf, setGathered, setGrown } from '~/db/footage';
import { readSettings } from '~/db/settings';
import { layout, onDisk } from '~/base/layout';
import type { JobKind } from '~/queue/kind';

export const gatherKind: JobKind = {
  lane: 'compute',
  async prepare({ footageId }) {
    const footage = footageId ? await findFootage(footageId) : null;
    if (!footage) return null;
    const { facts, variableRate, id } = footage;
    const { proxyWidth } = await readSettings();
    const folder = layout.gathered(id);
    // What was gathered before serves until all of it is made anew.
    const growing = !existsSync(onDisk(folder));
    return { kind: 'gather', recording: await recordingOf(footage), facts, folder, variableRate, proxyWidth, growing };
  },
  async take({ footageId }, part) {
    await setGrown(footageId!, part as Gathered);
    return null;
  },
  async accept({ footageId }, done, task) {
    const { recording } = task as Placed<Task> & { kind: 'gather' };
    await setGathered(footageId!, done as Gathered, recording.source);
  },
  // The source is kept with the footage.
  result: (done) => {
    const { source: _, ...rest } = done as Gathered;
    return rest;
  },
  owns: ({ footageId }) => [layout.gathering(footageId!)],
  async clean({ footageId }, why) {
    // What is there so far is shown meanwhile, and gone on with.
    if (why === 'again') return;
    await rm(onDisk(layout.gathering(footageId!)), { recursive: true, force: true });
    if (why === 'over') await forgetGrown(footageId!);
  },
};
