/** Taking a file into the Library: from an upload that is done, or by its path on this machine. */
import { constants } from 'node:fs';
import { access, realpath, rename, rm } from 'node:fs/promises';
import { basename, extname, join, sep } from 'node:path';
import { newTake } from '@glimbo/core/take/take';
import { MediaError } from '@glimbo/media/ffmpeg';
import { probe, type Doubt, type MediaFacts } from '@glimbo/media/probe';
import { addFootage, findFootage, findFootageByFile } from '~/db/footage';
import { addTake, projectNamed } from '~/db/takes';
import { enqueue } from '~/jobs/queue';
import { config } from './config';

export type GatherResult = { footageId: string } | { problem: string } | { doubts: Doubt[]; name: string };

/** Gathers an upload by its id. `accepted`: the user has seen the doubts and wants it all the same. */
export async function gatherUpload(id: string, name: string, accepted: boolean): Promise<GatherResult> {
  if (!/^[\w-]{8,80}$/.test(id)) return { problem: 'That upload is not known.' };
  const file = join(config.uploads, id);
  const result = await examine(file, name, accepted);
  if ('problem' in result) await discardUpload(id);
  if (!('facts' in result)) return result;
  const kept = join(config.originals, `${id}${extname(name).replace(/[^.\w]/g, '')}`);
  await rename(file, kept);
  await rm(`${file}.json`, { force: true });
  return enter({ name, file: kept, inPlace: false, ...result });
}

export async function discardUpload(id: string) {
  if (!/^[\w-]{8,80}$/.test(id)) return;
  await rm(join(config.uploads, id), { force: true });
  await rm(join(config.uploads, `${id}.json`), { force: true });
}

/** Gathers a file where it lies, if it is inside a folder that the owner allowed. */
export async function gatherPath(path: string, accepted: boolean): Promise<GatherResult> {
  const file = await realpath(path.trim()).catch(() => null);
  if (!file) return { problem: `${path.trim() || 'That path'} was not found on this machine. Nothing was added.` };
  const allowed = await Promise.all(config.folders.map((f) => realpath(f).catch(() => f)));
  if (!allowed.some((folder) => file.startsWith(folder + sep))) {
    return {
      problem: `${basename(file)} lies outside the folders that Glimbo may read (${config.folders.join(', ')}). See Settings.`,
    };
  }
  if (await access(file, constants.R_OK).then(() => false, () => true)) return { problem: `${basename(file)} may not be read. Change its permissions and try again.` }; // prettier-ignore
  const before = await findFootageByFile(file);
  if (before) return { problem: `${basename(file)} is in the Library already.` };
  const result = await examine(file, basename(file), accepted);
  return 'facts' in result ? enter({ name: basename(file), file, inPlace: true, ...result }) : result;
}

type Examined = Exclude<GatherResult, { footageId: string }> | { facts: MediaFacts; variableRate: boolean };

async function examine(file: string, name: string, accepted: boolean): Promise<Examined> {
  try {
    const { facts, doubts } = await probe(file);
    if (doubts.length && !accepted)
      return { doubts: doubts.map((d) => ({ ...d, sentence: d.sentence.replaceAll(basename(file), name) })), name };
    return { facts, variableRate: doubts.some((d) => d.kind === 'variable-rate') };
  } catch (error) {
    if (error instanceof MediaError)
      return { problem: `${error.message.replaceAll(basename(file), name)} Nothing was added.` };
    throw error;
  }
}

async function enter(footage: Parameters<typeof addFootage>[0]): Promise<{ footageId: string }> {
  const footageId = await addFootage({ ...footage, name: footage.name.replace(/\.[^.]+$/, '') });
  await enqueue({ kind: 'gather', params: {}, footageId, takeId: null });
  return { footageId };
}

/** Starts a new take of a footage; gives its id, or null when the footage is gone. */
export async function startTake(footageId: string, name?: string): Promise<string | null> {
  const footage = await findFootage(footageId);
  if (!footage) return null;
  const projectId = await projectNamed('First project');
  return addTake({
    projectId,
    footageId,
    name: name ?? `${footage.name}, new take`,
    document: newTake(basename(footage.file), footage.facts.duration),
  });
}
