/** Taking recordings into the Library: from uploads that are done, from paths on this machine, from copies of a card. */
import { constants } from 'node:fs';
import { access, readdir, readFile, realpath, rename, rm, stat } from 'node:fs/promises';
import { basename, extname, join, sep } from 'node:path';
import type { Examined } from '@glimbo/cli/task';
import { groupRecordings, partnerNames } from '@glimbo/core/gather/recordings';
import type { Source } from '@glimbo/core/stitch/source';
import { listVideos } from '@glimbo/media/card';
import { calledBy, lookAtFiles, markOf, type Look } from '@glimbo/media/examine';
import { MediaError } from '@glimbo/media/ffmpeg';
import { addFootage, findFootageByContent, findFootageByFile, purgeFootage, remark } from '~/db/footage';
import { ask, PairQuestion } from '~/queue/ask';
import { queue } from '~/queue/queue';
import { config } from '~/base/config';
import { layout, onDisk, placeOf } from '~/base/layout';
import { isFile } from '~/base/files';
import type { GatherResult, PairChoice, PathResult, Unfinished } from '~/model/gathering';

export interface Wish {
  name: string;
  /** The user has seen the doubts and wants it all the same. */
  accepted: boolean;
  tags?: string[];
  pair?: PairChoice;
}

const UPLOAD = /^[\w-]{8,80}$/;

/** Gathers uploads by their ids: one file, or the two of a two-lens recording. */
export async function gatherUploads(ids: string[], names: string[], wish: Wish): Promise<GatherResult> {
  if (!ids.length || ids.length > 2 || !ids.every((id) => UPLOAD.test(id)))
    return { problem: 'That upload is not known.' };
  const files = ids.map((id) => onDisk(layout.upload(id)));
  const result = await examine(files, names, wish);
  if ('problem' in result || 'known' in result) await Promise.all(ids.map(discardUpload));
  if (!('facts' in result)) return result;
  // Entered first and moved then: what is killed in between is found by its entry and finished at the next start.
  const places = ids.map((id, i) => onDisk(layout.original(`${id}${extname(names[i] ?? '').replace(/[^.\w]/g, '')}`)));
  const footageId = await add(places, wish, false, result);
  try {
    for (const id of ids) await moveIn(id, places[ids.indexOf(id)]!);
  } catch (error) {
    await purgeFootage(footageId);
    throw error;
  }
  await queue().add({ kind: 'gather', params: {}, footageId, takeId: null });
  return { footageId, name: wish.name };
}

/** Moves an upload to where its footage has it. */
export async function moveIn(id: string, place: string) {
  await rename(onDisk(layout.upload(id)), place);
  await rm(onDisk(layout.uploadAbout(id)), { force: true });
}

export async function discardUpload(id: string) {
  if (!UPLOAD.test(id)) return;
  for (const place of [layout.upload(id), layout.uploadAbout(id)]) await rm(onDisk(place), { force: true });
}

/** Uploads that were broken off, or were never answered for. What is in the Library already is thrown away. */
export async function unfinishedUploads(): Promise<Unfinished[]> {
  const found: Unfinished[] = [];
  for (const file of await readdir(onDisk(layout.all('uploads')))) {
    if (!file.endsWith('.json')) continue;
    const id = file.slice(0, -5);
    try {
      const { size, metadata } = JSON.parse(await readFile(onDisk(layout.uploadAbout(id)), 'utf8')) as {
        size: number;
        metadata?: { filename?: string };
      };
      const sent = (await stat(onDisk(layout.upload(id)))).size;
      if (sent === size && (await isInLibrary(id))) await discardUpload(id);
      else found.push({ id, name: metadata?.filename ?? id, size, sent });
    } catch {
      // It is being finished or discarded this moment.
    }
  }
  return found;
}

/** Marks by content of uploads that were looked at: they do not change any more. */
const marks = new Map<string, string>();

/** Whether footage with an upload's content is in the Library, with its own original in its place. */
async function isInLibrary(id: string): Promise<boolean> {
  const mark = marks.get(id) ?? (await markOf([onDisk(layout.upload(id))]));
  marks.set(id, mark);
  const known = await findFootageByContent(mark);
  return !!known && !known.deleted && (await isFile(known.file));
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
  if (
    await access(file, constants.R_OK).then(
      () => false,
      () => true,
    )
  )
    return { problem: `${basename(file)} may not be read. Change its permissions and try again.` };
  return { path: file };
}

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

/** The name of a recording after its files: without ending, and without the lens's mark if there are two. */
export function stem(files: string[]): string {
  const name = basename(files[0]!).replace(/\.[^.]+$/, '');
  return files.length > 1 ? name.replace(/[-_ ][^-_ ]+$/, '') : name;
}

type Ready = Look & { fingerprint: string };

/** The name under which content is in the Library, brought back if it was deleted; null if it is not there. */
async function knownAs(mark: string): Promise<string | null> {
  const known = await findFootageByContent(mark);
  if (!known?.deleted) return known?.name ?? null;
  await remark(known.id, { deleted: null });
  return `${known.name}, which was deleted and is back now`;
}

/** Reads a recording's facts, recognises what it shows, and looks whether it is there already. */
export async function examine(
  files: string[],
  names: string[],
  { accepted, pair }: Wish,
): Promise<Exclude<GatherResult, { footageId: string }> | Ready> {
  const recognise = (videoStreams: number) =>
    ask<Source>({ kind: 'recognise', files: files.map(placeOf), streams: videoStreams, lenses: pair === 'lenses' });
  try {
    const fingerprint = await markOf(files);
    const known = await knownAs(fingerprint);
    if (known) return { known };
    const look = await lookAtFiles(files, names, (facts) => recognise(facts.videoStreams));
    return look.doubts.length && !accepted ? { doubts: look.doubts, name: names[0]! } : { ...look, fingerprint };
  } catch (error) {
    if (error instanceof PairQuestion) return { pair: calledBy(error.message, files, names), name: names.join(', ') };
    if (error instanceof MediaError) return { problem: `${calledBy(error.message, files, names)} Nothing was added.` };
    throw error;
  }
}

const add = (files: string[], wish: Wish, inPlace: boolean, { facts, source, doubts, fingerprint }: Ready) =>
  addFootage({
    facts,
    source,
    fingerprint,
    variableRate: doubts.some((d) => d.kind === 'variable-rate'),
    name: wish.name,
    file: files[0]!,
    secondFile: files[1] ?? null,
    inPlace,
    tags: wish.tags,
  });

/** Enters a recording whose files are in their place, and has its proxy made. */
export async function enter(files: string[], wish: Wish, inPlace: boolean, found: Ready): Promise<GatherResult> {
  const footageId = await add(files, wish, inPlace, found);
  await queue().add({ kind: 'gather', params: {}, footageId, takeId: null });
  return { footageId, name: wish.name };
}
