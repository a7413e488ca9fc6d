/** What the Library's page needs of each footage: little, since there may be thousands. */
import { listFootage } from '~/db/footage';
import { latestJobs } from '~/db/jobs';
import { reachOf, type Footage, type LibraryFootage } from '~/model/footage';
import type { Job } from '~/model/job';

export async function libraryFootage(deleted: boolean): Promise<LibraryFootage[]> {
  const [all, jobs] = await Promise.all([listFootage(deleted), latestJobs('gather')]);
  const jobOf = new Map(jobs.map((j) => [j.footageId, j]));
  return all.map((f) => brief(f, jobOf.get(f.id)));
}

function brief(f: Footage, job: Job | undefined): LibraryFootage {
  const { id, name, kind, version, favourite, tags, notes, created, variableRate, deleted, inPlace, facts, gathered } =
    f;
  const { width, height, duration, rate, codec, size } = facts;
  return {
    id,
    name,
    kind,
    version,
    favourite,
    tags,
    notes: notes.slice(0, 400),
    created,
    variableRate,
    deleted,
    inPlace,
    width,
    height,
    duration,
    rate,
    codec,
    size,
    thumbnails: gathered?.thumbnails.count ?? 0,
    reach: reachOf(f),
    marks: f.marks.length,
    // What is done needs no telling.
    job:
      job && job.state !== 'done' ? { id: job.id, state: job.state, progress: job.progress, error: job.error } : null,
  };
}
