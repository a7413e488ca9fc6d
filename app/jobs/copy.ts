/** Copying recordings from a card. Each is taken into the Library as soon as it is there. */
import { rm } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import type { Place } from '@glimbo/cli/place';
import type { CopyItem } from '@glimbo/cli/task';
import { findFootageByFile } from '~/db/footage';
import { companionCopy } from '@glimbo/core/gather/recordings';
import { ended, layout, onDisk } from '~/base/layout';
import { enter, examine } from '~/gathering/enter';
import type { JobKind } from '~/queue/kind';
import { copyParams, recordingsToCopy } from './params';

/** Where the copies of a recording's files go, its companion's last: beside the first, and named as companions are. */
export function copiesOf({ id, files, companion }: CopyItem): Place[] {
  const originals = files.map((f, i) => `${id}${i ? `-${i + 1}` : ''}${extname(f).toLowerCase()}`);
  return (companion ? [...originals, companionCopy(originals[0]!)] : originals).map(layout.original);
}

const removeAll = (places: Place[]) => Promise.all(places.map((p) => rm(onDisk(p), { force: true })));

export const copyKind: JobKind = {
  lane: 'copy',
  async prepare(job) {
    const request = copyParams(job);
    return { ...request, kind: 'copy', targets: request.recordings.map(copiesOf), folder: layout.all('originals') };
  },
  /** A copy done twice after a crash is entered once. */
  async take(job, part) {
    const { item, files } = part as { item: CopyItem; files: string[] };
    if (await findFootageByFile(files[0]!)) return null;
    const names = item.files.map((f) => basename(f));
    const result = await examine(files, names, { name: item.name, accepted: true });
    if ('facts' in result) {
      await enter(files, { name: item.name, accepted: true, tags: copyParams(job).tags }, false, result);
      return null;
    }
    await removeAll(copiesOf(item));
    return 'problem' in result ? result.problem : null;
  },
  owns: (job) =>
    recordingsToCopy(job).flatMap((item) => copiesOf(item).flatMap((file) => [file, ended(file, '.part')])),
  /** Copies that belong to no footage go with the job, unless it goes on: the card still has what they were made of. */
  async clean(job, why) {
    for (const item of recordingsToCopy(job)) {
      const files = copiesOf(item);
      await removeAll(files.map((f) => ended(f, '.part')));
      if (why === 'over' && !(await findFootageByFile(onDisk(files[0]!)))) await removeAll(files);
    }
  },
};
