/**
 * Files and rows agree: at the start what a kill left between the two is finished, and what was half written is cleared away.
 * A copied original that no footage has goes back to the uploads, where the Library offers it; finished exports stay where
 * they are; whatever else nothing here knows is set aside, never deleted.
 */
import { readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import { companionCopy } from '@glimbo/core/gather/recordings';
import { analysisFiles } from '~/db/analyses';
import { footageFiles } from '~/db/footage';
import { allJobs, latestJobs, unfinishedJobs } from '~/db/jobs';
import { subjectIds } from '~/db/subjects';
import { listAllTakes } from '~/db/takes';
import type { JobKindName } from '~/model/job';
import { subjectFile, subjectPicture } from '~/model/subject';
import { KINDS } from '~/jobs/kinds';
import { layout, onDisk } from '../base/layout';
import { isFile } from '../base/files';
import { ID, setAside } from './data-folder';
import { haveGathered } from '~/gathering/enter';
import { moveIn } from '~/gathering/uploads';

type Folder = 'originals' | 'footage' | 'exports' | 'motions' | 'subjects' | 'takes';
const FOLDERS: Folder[] = ['originals', 'footage', 'exports', 'motions', 'subjects', 'takes'];
/** Names that only half-written and passing things of ours have: they can be made again, and go. */
const PASSING = new RegExp(`^(${ID}(-\\d+)?(\\.[\\w.]+)?\\.part|${ID}\\.now\\.jpg|${ID}-\\d+\\.png)$`);

/** Files and folders in the data folder that no footage, take or job has. */
export async function unowned(): Promise<{ folder: Folder; name: string }[]> {
  const lasting = Object.entries(KINDS).filter(([, kind]) => kind.lasting);
  const [footage, analyses, jobs, takes, subjects] = await Promise.all([
    footageFiles(),
    analysisFiles(),
    Promise.all([unfinishedJobs(), ...lasting.map(([name]) => allJobs(name as JobKindName))]),
    listAllTakes(),
    subjectIds(),
  ]);
  const owned: Record<Folder, Set<string>> = {
    originals: new Set(footage.flatMap((f) => [...f.files, companionCopy(f.files[0]!)]).map((f) => basename(f))),
    footage: new Set(footage.map((f) => f.id)),
    exports: new Set(),
    motions: new Set([...analyses, ...footage.map((f) => layout.sidecar(f.id).path)]),
    subjects: new Set(subjects.flatMap((id) => [subjectFile({ id }), subjectPicture({ id })])),
    takes: new Set(takes.map((t) => `${t.id}-${t.revision}.png`)),
  };
  for (const job of jobs.flat())
    for (const { root, path } of KINDS[job.kind].owns?.(job) ?? []) owned[root as Folder].add(path);
  const found: { folder: Folder; name: string }[] = [];
  for (const folder of FOLDERS)
    for (const name of await readdir(onDisk(layout.all(folder))))
      if (!owned[folder].has(name)) found.push({ folder, name });
  return found;
}

/** Called at the start, before any work begins. */
export async function reconcile() {
  await finishMoves();
  for (const { folder, name } of await unowned()) {
    const place = onDisk({ root: folder, path: name });
    if (PASSING.test(name)) await rm(place, { recursive: true, force: true });
    else if (folder === 'originals' && (await isFile(place))) await offerAgain(place);
    else if (folder !== 'exports') await setAside(folder, name);
  }
}

/** Footage that was entered while its upload was moved, or before its proxy was asked for. */
async function finishMoves() {
  const made = new Set((await latestJobs('gather')).map((j) => j.footageId));
  for (const { id, files, inPlace, gathered } of await footageFiles()) {
    for (const file of inPlace ? [] : files) {
      const upload = basename(file, extname(file));
      if (!(await isFile(file)) && (await isFile(onDisk(layout.upload(upload))))) await moveIn(upload, file);
    }
    if (!gathered && !made.has(id)) await haveGathered(id);
  }
}

/** Puts a copy back among the uploads that were never answered for. */
async function offerAgain(file: string) {
  const id = `kept-${basename(file).replace(/[^\w-]/g, '-')}`.slice(0, 80);
  const { size } = await stat(file);
  const about = {
    id,
    size,
    offset: size,
    metadata: { filename: basename(file) },
    creation_date: new Date().toISOString(),
  };
  await writeFile(onDisk(layout.uploadAbout(id)), JSON.stringify(about));
  await rename(file, onDisk(layout.upload(id)));
}
