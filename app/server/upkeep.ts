/** Looking after what the Library has: originals that went missing, and what was deleted long ago. */
import { analysisFiles } from '~/db/analyses';
import { stat, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import type { Place } from '@glimbo/cli/place';
import { companionCopy } from '@glimbo/core/gather/recordings';
import { fingerprint } from '@glimbo/media/copy';
import { partnerNames } from '@glimbo/core/gather/recordings';
import { filesOf, findFootage, listFootage, purgeFootage, relink } from '~/db/footage';
import { subjectIds } from '~/db/subjects';
import { readDue, writeDue } from '~/db/due';
import { deletedTakes, purgeTakes } from '~/db/takes';
import { subjectFile, subjectPicture } from '~/model/subject';
import { queue } from '~/queue/queue';
import { layout, onDisk } from '../base/layout';
import { isFile } from '../base/files';
import { allowedPath } from '~/gathering/allowed-path';
import type { Footage } from '~/model/footage';

const DAY = 24 * 3600e3;
/** What was deleted can be brought back for so long, in milliseconds. */
const KEPT_FOR = 30 * DAY;
/** So long something must have been found due, start after start, before it goes: one start with a clock ahead costs nothing. */
const DUE_FOR = 7 * DAY;

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

/** At a start: notes what was deleted long enough ago, and forgets what was due a while ago already and still is. */
export async function purgeDue(now: number) {
  const ids = await deletedBefore(now - KEPT_FOR);
  const before = await readDue();
  const noted = Object.fromEntries(ids.map((id) => [id, Math.min(before[id] ?? now, now)]));
  const gone = ids.filter((id) => now - noted[id]! >= DUE_FOR);
  await purge(gone);
  for (const id of gone) delete noted[id];
  await writeDue(noted);
}

/** Ids of the footage and takes that were deleted before a time (milliseconds since 1970). */
export const deletedBefore = async (time: number): Promise<string[]> => [
  ...(await deletedTakes(time)),
  ...(await listFootage(true)).filter((f) => f.deleted! < time).map((f) => f.id),
];

/** Forgets deleted footage and takes: entries, proxies and originals that were copied in; never originals used in place. */
export async function purge(ids: readonly string[]) {
  await purgeTakes(ids);
  for (const footage of await listFootage(true)) {
    if (!ids.includes(footage.id)) continue;
    // What still works on it would make its files anew.
    await queue().cancelOf(footage.id);
    const analyses = await analysisFiles(footage.id);
    const subjects = await subjectIds(footage.id);
    await purgeFootage(footage.id);
    const places: Place[] = [
      layout.gathered(footage.id),
      layout.sidecar(footage.id),
      ...analyses.map(layout.motion),
      ...subjects.flatMap((id) => [subjectFile({ id }), subjectPicture({ id })]).map(layout.subject),
      ...(footage.inPlace ? [] : [...filesOf(footage), companionCopy(footage.file)].map(layout.disk)),
    ];
    for (const place of places) await rm(onDisk(place), { recursive: true, force: true });
  }
}
