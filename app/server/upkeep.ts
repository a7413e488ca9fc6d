/** Looking after what the Library has: originals that went missing, and what was deleted long ago. */
import { analysisFiles } from '~/db/analyses';
import { stat, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { fingerprint } from '@glimbo/media/copy';
import { partnerNames } from '@glimbo/core/gather/recordings';
import { filesOf, findFootage, listFootage, purgeFootage, relink } from '~/db/footage';
import { subjectIds } from '~/db/subjects';
import { purgeTakes } from '~/db/takes';
import { subjectFile, subjectPicture } from '~/model/subject';
import { companionCopy } from '~/jobs/copy';
import { cancelOf } from '~/jobs/queue';
import { config } from '../base/config';
import { isFile } from '../base/files';
import { allowedPath } from './gathering';
import { handedIn } from './sidecar';
import type { Footage } from '~/model/footage';

/** What was deleted can be brought back for so long, in milliseconds. */
export const KEPT_FOR = 30 * 24 * 3600e3;

/** Ids of the footage whose original is not where it was. */
export async function missingOriginals(footage: Footage[]): Promise<string[]> {
  const there = await Promise.all(footage.map(async (f) => (await Promise.all(filesOf(f).map(isFile))).every(Boolean)));
  return footage.filter((_, i) => !there[i]).map((f) => f.id);
}

/** Takes a file as a footage's original if it has the same content. Gives a sentence if not. */
export async function relinkOriginal(id: string, path: string): Promise<string | null> {
  const footage = await findFootage(id);
  if (!footage) return 'That footage is gone from the Library.';
  const allowed = await allowedPath(path);
  if ('problem' in allowed) return allowed.problem.replace('Nothing was added.', 'Nothing was changed.');
  const folder = (await stat(allowed.path)).isDirectory();
  const file = folder ? join(allowed.path, basename(footage.file)) : allowed.path;
  if (!(await isFile(file))) return `${basename(file)} is not in that folder. Give the file itself.`;
  if (footage.fingerprint && (await fingerprint(file)) !== footage.fingerprint)
    return `${basename(file)} has other content than ${footage.name}. Nothing was changed.`;
  let second: string | null = null;
  if (footage.secondFile) {
    const names = [basename(footage.secondFile), ...partnerNames(basename(file))];
    for (const name of names) {
      const beside = await allowedPath(join(dirname(file), name));
      if ('path' in beside && (await isFile(beside.path))) second ??= beside.path;
    }
    if (!second) return `The second lens's file is not beside ${basename(file)}. Nothing was changed.`;
  }
  await relink(id, file, second);
  return null;
}

/** Forgets what was deleted before a time: entries, proxies and originals that were copied in; never originals used in place. */
export async function purge(before: number) {
  await purgeTakes(before);
  for (const footage of await listFootage(true)) {
    if (footage.deleted! >= before) continue;
    // What still works on it would make its files anew.
    await cancelOf(footage.id);
    const analyses = await analysisFiles(footage.id);
    const subjects = await subjectIds(footage.id);
    await purgeFootage(footage.id);
    await rm(join(config.footage, footage.id), { recursive: true, force: true });
    for (const file of analyses) await rm(join(config.motions, file), { force: true });
    for (const file of subjects.flatMap((id) => [subjectFile({ id }), subjectPicture({ id })]))
      await rm(join(config.subjects, file), { force: true });
    await rm(handedIn(footage.id), { force: true });
    if (!footage.inPlace)
      for (const file of [...filesOf(footage), companionCopy(footage.file)]) await rm(file, { force: true });
  }
}
