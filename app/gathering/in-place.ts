/** Taking recordings into the Library where they lie on this machine: one file, a pair, or all of a folder. */
import { readdir, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Examined } from '@glimbo/cli/task';
import { groupRecordings, partnerNames } from '@glimbo/core/gather/recordings';
import { listVideos } from '@glimbo/media/card';
import { findFootageByFile } from '~/db/footage';
import type { GatherResult, PathResult } from '~/model/gathering';
import { queue } from '~/queue/queue';
import { allowedPath } from './allowed-path';
import { enter, examine, knownAs, stem, type Wish } from './enter';

/** Gathers a file where it lies, with its second lens's file if that is beside it; or all recordings of a folder. */
export async function gatherPath(path: string, wish: Omit<Wish, 'name'>, prefix: string): Promise<PathResult> {
  const allowed = await allowedPath(path);
  if ('problem' in allowed) return [{ ...allowed, path }];
  const file = allowed.path;
  if (!(await stat(file)).isDirectory()) {
    const partner = await partnerOf(file);
    if (!partner) return [{ ...(await gatherInPlace([file], wish, prefix)), path }];
    if (wish.pair !== 'apart') return [{ ...(await gatherInPlace([file, partner], wish, prefix)), path }];
    const apart: (GatherResult & { path: string })[] = [];
    for (const one of [file, partner]) apart.push({ ...(await gatherInPlace([one], wish, prefix)), path: one });
    return apart;
  }
  // A link may lead out of the folders that may be read, each of them by itself.
  const recordings: string[][] = [];
  for (const { files } of groupRecordings(await listVideos(file))) {
    const inside = await Promise.all(files.map((f) => allowedPath(join(file, f))));
    const paths = inside.flatMap((i) => ('path' in i ? [i.path] : []));
    if (paths.length === files.length) recordings.push(paths);
  }
  if (!recordings.length) return [{ problem: `${basename(file)} has no video files in it. Nothing was added.`, path }];
  const job = await queue().add({ kind: 'examine', params: { recordings, prefix }, footageId: null, takeId: null });
  return { job, recordings: recordings.length };
}

/** The second lens's file beside a file, if it is there and may be read. */
async function partnerOf(file: string): Promise<string | null> {
  const beside = new Set(await readdir(join(file, '..')));
  const partner = partnerNames(basename(file)).find((n) => beside.has(n));
  const allowed = partner ? await allowedPath(join(file, '..', partner)) : null;
  return allowed && 'path' in allowed ? allowed.path : null;
}

async function gatherInPlace(files: string[], wish: Omit<Wish, 'name'>, prefix: string): Promise<GatherResult> {
  const before = await findFootageByFile(files[0]!);
  if (before && !before.deleted) return { known: before.name };
  const named = { ...wish, name: prefix + stem(files) };
  const result = await examine(
    files,
    files.map((f) => basename(f)),
    named,
  );
  return 'facts' in result ? enter(files, named, true, result) : result;
}

/** Takes in what was found in a folder. */
export async function takeInPlace(found: Examined, prefix: string): Promise<GatherResult> {
  const { files, mark } = found;
  const name = prefix + stem(files);
  if ('problem' in found) return { problem: `${found.problem} Nothing was added.` };
  if ('pair' in found) return { pair: found.pair, name };
  const known = await knownAs(mark);
  if (known) return { known };
  if ('known' in found)
    return {
      problem: `${basename(files[0]!)} was not looked at, since it was in the Library a moment ago. Add it again.`,
    };
  return found.doubts.length
    ? { doubts: found.doubts, name: basename(files[0]!) }
    : enter(files, { name, accepted: false }, true, { ...found, fingerprint: mark });
}
