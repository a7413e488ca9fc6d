/** Copying recordings from a card. Each is taken into the Library as soon as it is there. */
import { rm } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import type { CopyItem } from '@glimbo/cli/task';
import { findFootageByFile } from '~/db/footage';
import { config } from '~/base/config';
import { enter, examine } from '~/gathering/gathering';
import type { JobKind } from '~/queue/kind';
import { copyParams, recordingsToCopy } from './params';

/** Where the copies of a recording's files go, its companion's last: beside the first, and named as companions are. */
export function copiesOf({ id, files, companion }: CopyItem): string[] {
  const originals = files.map((f, i) =>
    join(config.originals, `${id}${i ? `-${i + 1}` : ''}${extname(f).toLowerCase()}`),
  );
  return companion ? [...originals, companionCopy(originals[0]!)] : originals;
}

/** Where the companion of a copied original is, if it has one. */
export const companionCopy = (original: string) => original.replace(/(\.[^.]+)$/, '.low$1');

export const copyKind: JobKind = {
  lane: 'copy',
  async prepare(job) {
    const request = copyParams(job);
    return { ...request, kind: 'copy', targets: request.recordings.map(copiesOf), folder: config.originals };
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
    await Promise.all(copiesOf(item).map((f) => rm(f, { force: true })));
    return 'problem' in result ? result.problem : null;
  },
  owns: (job) => recordingsToCopy(job).flatMap((item) => copiesOf(item).flatMap((file) => [file, `${file}.part`])),
  /** Copies that belong to no footage go with the job, unless it goes on: the card still has what they were made of. */
  async clean(job, why) {
    for (const item of recordingsToCopy(job)) {
      const files = copiesOf(item);
      await Promise.all(files.map((f) => rm(`${f}.part`, { force: true })));
      if (why === 'over' && !(await findFootageByFile(files[0]!)))
        await Promise.all(files.map((f) => rm(f, { force: true })));
    }
  },
};
