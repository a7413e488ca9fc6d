/** Taking recordings into the Library: from uploads that are done, from paths on this machine, from copies of a card. */
import { constants } from 'node:fs';
import { access, readdir, readFile, realpath, rename, rm, stat } from 'node:fs/promises';
import { basename, extname, join, sep } from 'node:path';
import { groupRecordings, partnerNames } from '@glimbo/core/gather/recordings';
import { newTake } from '@glimbo/core/take/take';
import type { Source } from '@glimbo/core/stitch/source';
import { listVideos } from '@glimbo/media/card';
import { fingerprint } from '@glimbo/media/copy';
import { MediaError } from '@glimbo/media/ffmpeg';
import { probe, type Doubt, type MediaFacts } from '@glimbo/media/probe';
import { readRecording, saidSource } from '@glimbo/media/recording';
import { addFootage, findFootage, findFootageByContent, findFootageByFile, remark } from '~/db/footage';
import { addTake, projectNamed } from '~/db/takes';
import { ask } from '~/jobs/ask';
import { enqueue, onCopied } from '~/jobs/queue';
import { config } from './config';

export type GatherResult =
  { footageId: string; name: string } | { problem: string } | { known: string } | { doubts: Doubt[]; name: string };

interface Wish {
  name: string;
  /** The user has seen the doubts and wants it all the same. */
  accepted: boolean;
  tags?: string[];
}

const UPLOAD = /^[\w-]{8,80}$/;

/** Gathers uploads by their ids: one file, or the two of a two-lens recording. */
export async function gatherUploads(ids: string[], names: string[], wish: Wish): Promise<GatherResult> {
  if (!ids.length || ids.length > 2 || !ids.every((id) => UPLOAD.test(id)))
    return { problem: 'That upload is not known.' };
  const files = ids.map((id) => join(config.uploads, id));
  const result = await examine(files, names, wish);
  if ('problem' in result || 'known' in result) await Promise.all(ids.map(discardUpload));
  if (!('facts' in result)) return result;
  const kept = await Promise.all(
    files.map(async (file, i) => {
      const place = join(config.originals, `${ids[i]}${extname(names[i] ?? '').replace(/[^.\w]/g, '')}`);
      await rename(file, place);
      await rm(`${file}.json`, { force: true });
      return place;
    }),
  );
  return enter(kept, wish, false, result);
}

export async function discardUpload(id: string) {
  if (!UPLOAD.test(id)) return;
  await rm(join(config.uploads, id), { force: true });
  await rm(join(config.uploads, `${id}.json`), { force: true });
}

export interface Unfinished {
  id: string;
  name: string;
  size: number;
  sent: number;
}

/** Uploads that were broken off, or were never answered for. */
export async function unfinishedUploads(): Promise<Unfinished[]> {
  const found: Unfinished[] = [];
  for (const file of await readdir(config.uploads)) {
    if (!file.endsWith('.json')) continue;
    const id = file.slice(0, -5);
    try {
      const { size, metadata } = JSON.parse(await readFile(join(config.uploads, file), 'utf8')) as { size: number; metadata?: { filename?: string } }; // prettier-ignore
      found.push({ id, name: metadata?.filename ?? id, size, sent: (await stat(join(config.uploads, id))).size });
    } catch {
      // It is being finished or discarded this moment.
    }
  }
  return found;
}

/** A path as the user gave it, if it lies inside a folder that the owner allowed. */
export async function allowedPath(path: string): Promise<{ path: string } | { problem: string }> {
  const file = await realpath(path.trim()).catch(() => null);
  if (!file) return { problem: `${path.trim() || 'That path'} was not found on this machine. Nothing was added.` };
  const allowed = await Promise.all(config.folders.map((f) => realpath(f).catch(() => f)));
  if (!allowed.some((folder) => file === folder || file.startsWith(folder + sep))) {
    return {
      problem: `${basename(file)} lies outside the folders that Glimbo may read (${config.folders.join(', ')}). See Settings.`,
    };
  }
  if (await access(file, constants.R_OK).then(() => false, () => true)) return { problem: `${basename(file)} may not be read. Change its permissions and try again.` }; // prettier-ignore
  return { path: file };
}

/** Gathers a file where it lies, with its second lens's file if that is beside it; or all recordings of a folder. */
export async function gatherPath(
  path: string,
  accepted: boolean,
  prefix: string,
): Promise<(GatherResult & { path: string })[]> {
  const allowed = await allowedPath(path);
  if ('problem' in allowed) return [{ ...allowed, path }];
  const file = allowed.path;
  const folder = (await stat(file)).isDirectory();
  if (!folder) {
    const beside = new Set(await readdir(join(file, '..')));
    const partner = partnerNames(basename(file)).find((n) => beside.has(n));
    return [{ ...(await gatherInPlace(partner ? [file, join(file, '..', partner)] : [file], accepted, prefix)), path }];
  }
  const recordings = groupRecordings(await listVideos(file));
  if (!recordings.length) return [{ problem: `${basename(file)} has no video files in it. Nothing was added.`, path }];
  const results: (GatherResult & { path: string })[] = [];
  for (const { files } of recordings) {
    const paths = files.map((f) => join(file, f));
    results.push({ ...(await gatherInPlace(paths, accepted, prefix)), path: paths[0]! });
  }
  return results;
}

async function gatherInPlace(files: string[], accepted: boolean, prefix: string): Promise<GatherResult> {
  const before = await findFootageByFile(files[0]!);
  if (before && !before.deleted) return { known: before.name };
  const wish = { name: prefix + stem(files), accepted };
  const result = await examine(files, files.map((f) => basename(f)), wish); // prettier-ignore
  return 'facts' in result ? enter(files, wish, true, result) : result;
}

/** The name of a recording after its files: without ending, and without the lens's mark if there are two. */
export function stem(files: string[]): string {
  const name = basename(files[0]!).replace(/\.[^.]+$/, '');
  return files.length > 1 ? name.replace(/[-_ ][^-_ ]+$/, '') : name;
}

type Examined =
  | Exclude<GatherResult, { footageId: string }>
  | { facts: MediaFacts; variableRate: boolean; source: Source; fingerprint: string };

/** Reads a recording's facts, recognises what it shows, and looks whether it is there already. */
async function examine(files: string[], names: string[], { accepted }: Wish): Promise<Examined> {
  const rename = (sentence: string) => files.reduce((s, f, i) => s.replaceAll(basename(f), names[i] ?? basename(f)), sentence); // prettier-ignore
  try {
    const mark = await fingerprint(files[0]!);
    const known = await findFootageByContent(mark);
    if (known?.deleted) {
      await remark(known.id, { deleted: null });
      return { known: `${known.name}, which was deleted and is back now` };
    }
    if (known) return { known: known.name };
    const first = await probe(files[0]!);
    const source = await sourceFor(files, first.facts);
    const { facts, doubts } = await readRecording({ files, source });
    if (source.kind === 'one-lens' && /[-_ ][ab]$/i.test(names[0]!.replace(/\.[^.]+$/, '')))
      doubts.push({ kind: 'one-lens', sentence: `${names[0]} comes from one lens of two, and the other lens's file is not here. Glimbo can take it as half a sphere.` }); // prettier-ignore
    if (doubts.length && !accepted)
      return { doubts: doubts.map((d) => ({ ...d, sentence: rename(d.sentence) })), name: names[0]! };
    return { facts, source, fingerprint: mark, variableRate: doubts.some((d) => d.kind === 'variable-rate') };
  } catch (error) {
    if (error instanceof MediaError) return { problem: `${rename(error.message)} Nothing was added.` };
    throw error;
  }
}

/** What the files say of themselves goes first; else the picture is looked at. */
async function sourceFor(files: string[], facts: MediaFacts): Promise<Source> {
  return saidSource(facts) ?? ask<Source>({ kind: 'recognise', files, streams: facts.videoStreams });
}

async function enter(files: string[], wish: Wish, inPlace: boolean, found: Extract<Examined, { facts: MediaFacts }>): Promise<GatherResult> {
  const footageId = await addFootage({ ...found, name: wish.name, file: files[0]!, secondFile: files[1] ?? null, inPlace, tags: wish.tags });
  await enqueue({ kind: 'gather', params: {}, footageId, takeId: null });
  return { footageId, name: wish.name };
} // prettier-ignore

/** Enters what a card's copy brought over; a copy done twice after a crash is entered once. */
onCopied(async ({ item, files }, tags) => {
  const before = await findFootageByFile(files[0]!);
  if (before) return null;
  const result = await examine(files, item.files.map((f) => basename(f)), { name: item.name, accepted: true }); // prettier-ignore
  if ('facts' in result) {
    await enter(files, { name: item.name, accepted: true, tags }, false, result);
    return null;
  }
  await Promise.all(files.map((f) => rm(f, { force: true })));
  if ('known' in result) return null;
  return 'problem' in result ? result.problem : null;
});

/** Starts a new take of a footage; gives its id, or null when the footage is gone. */
export async function startTake(
  footageId: string,
  change: { name?: string; range?: { in: number; out: number } } = {},
): Promise<string | null> {
  const footage = await findFootage(footageId);
  if (!footage) return null;
  const projectId = await projectNamed('First project');
  const document = newTake(basename(footage.file), footage.facts.duration);
  return addTake({
    projectId,
    footageId,
    name: change.name ?? `${footage.name}, new take`,
    document: change.range ? { ...document, range: change.range } : document,
  });
}
