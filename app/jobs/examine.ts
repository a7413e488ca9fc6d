/** Looking through a folder for recordings. Each is taken into the Library as soon as it has been looked at. */
import type { Examined } from '@glimbo/cli/task';
import { findFootageByFile, knownFingerprints } from '~/db/footage';
import { updateJob } from '~/db/jobs';
import { layout } from '~/base/layout';
import { takeInPlace } from '~/gathering/in-place';
import type { JobKind } from '~/queue/kind';
import { examineParams } from './params';
import type { ExamineResult, GatherResult } from '~/model/gathering';
import type { Job } from '~/model/job';

const found = new Map<string, ExamineResult>();
/** What this run of a job has found: one that was broken off before begins to count anew. */
const foundBy = (job: Job): ExamineResult => found.get(job.id) ?? { added: 0, results: [] };

export const examineKind: JobKind = {
  lane: 'look',
  async prepare(job) {
    found.delete(job.id);
    const { recordings } = examineParams(job);
    return {
      kind: 'examine',
      recordings: recordings.map((files) => files.map(layout.disk)),
      known: await knownFingerprints(),
    };
  },
  async take(job, part) {
    const examined = part as Examined;
    const before = await findFootageByFile(examined.files[0]!);
    // What this job has taken in before a crash counts as taken in by it.
    const result: GatherResult =
      before && !before.deleted && before.created >= job.created
        ? { footageId: before.id, name: before.name }
        : await takeInPlace(examined, examineParams(job).prefix);
    const so = foundBy(job);
    const next =
      'footageId' in result
        ? { ...so, added: so.added + 1 }
        : { ...so, results: [...so.results, { ...result, path: examined.files[0]! }] };
    found.set(job.id, next);
    await updateJob(job.id, { result: JSON.stringify(next) });
    return null;
  },
  // It was kept on the way.
  result: () => null,
  async clean(job) {
    found.delete(job.id);
  },
};
