/** Taking uploads into the Library, and what becomes of those that were broken off or never answered for. */
import { readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { extname } from 'node:path';
import { markOf } from '@glimbo/media/examine';
import { isFile } from '~/base/files';
import { layout, onDisk } from '~/base/layout';
import { findFootageByContent, purgeFootage } from '~/db/footage';
import type { GatherResult, Unfinished } from '~/model/gathering';
import { add, examine, haveGathered, type Wish } from './enter';

const UPLOAD = /^[\w-]{8,80}$/;
const UNKNOWN = 'That upload is not known any more. Add the file again.';
/** Longest ending of a file's name that is kept. */
const ENDING = 12;

/** Gathers uploads by their ids: one file, or the two of a two-lens recording. */
export async function gatherUploads(ids: string[], names: string[], wish: Wish): Promise<GatherResult> {
  if (!ids.length || ids.length > 2 || !ids.every((id) => UPLOAD.test(id))) return { problem: UNKNOWN };
  const files = ids.map((id) => onDisk(layout.upload(id)));
  if (!(await Promise.all(files.map(isFile))).every(Boolean)) return { problem: UNKNOWN };
  const result = await examine(files, names, wish);
  if ('problem' in result || 'known' in result) await Promise.all(ids.map(discardUpload));
  if (!('facts' in result)) return result;
  // Entered first and moved then: what is killed in between is found by its entry and finished at the next start.
  const places = ids.map((id, i) => onDisk(layout.original(`${id}${endingOf(names[i] ?? '')}`)));
  const footageId = await add(places, wish, false, result);
  try {
    for (const id of ids) await moveIn(id, places[ids.indexOf(id)]!);
  } catch (error) {
    await purgeFootage(footageId);
    throw error;
  }
  await haveGathered(footageId);
  return { footageId, name: wish.name };
}

const endingOf = (name: string) =>
  extname(name)
    .replace(/[^.\w]/g, '')
    .slice(0, ENDING);

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
