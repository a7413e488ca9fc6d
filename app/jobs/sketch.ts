/** First cuts: a Sketch of each of some footages, as takes. */
import type { Sketched } from '@glimbo/cli/task';
import { aspectRatio } from '@glimbo/core/lens/format';
import { hasTakeBy } from '~/db/takes';
import { seenAs } from '~/db/analyses';
import { findFootage, sourceOf } from '~/db/footage';
import { listSubjects } from '~/db/subjects';
import { layout } from '~/base/layout';
import { isWhole, type Footage } from '~/model/footage';
import { subjectFile } from '~/model/subject';
import { startTake } from '~/gathering/start-take';
import type { JobKind } from '~/queue/kind';
import { motionFile } from './motion-first';
import { sketchParams } from './params';

export const sketchKind: JobKind = {
  lane: 'compute',
  async prepare(job) {
    const params = sketchParams(job);
    const found = await Promise.all(params.footage.map((id) => findFootage(id)));
    const footage = found.filter((f): f is Footage => !!f && !f.deleted && isWhole(f));
    if (footage.length === 0) return null;
    return {
      kind: 'sketch',
      footage: await Promise.all(footage.map(async (f) => ({ id: f.id, order: await orderFor(f, params) }))),
    };
  },
  async take(job, part) {
    const sketched = part as Sketched;
    if ('problem' in sketched) return null;
    const { sketch, id } = sketched;
    // What this job made before a crash is not made again.
    if (await hasTakeBy(id, job.id)) return null;
    const { aspect } = sketchParams(job);
    const range = { in: sketch.from, out: sketch.to };
    await startTake(id, { name: NAME, madeBy: job.id, range, path: sketch.path, frame: { aspect } });
    return null;
  },
  clean: async () => undefined,
};

/** What takes of it are called. */
const NAME = 'First cut';

async function orderFor(footage: Footage, { aspect, lively, cuts, length }: ReturnType<typeof sketchParams>) {
  const { id, facts, gathered, fingerprint } = footage;
  const subjects = await listSubjects(id, seenAs(fingerprint, await sourceOf(id)));
  return {
    rate: facts.rate,
    duration: facts.duration,
    activity: layout.activity(id),
    framesPerRow: gathered!.sweep.framesPerRow,
    found: layout.found(id),
    motion: motionFile(footage),
    subjects: subjects
      .filter((s) => s.version > 0 && !s.void)
      .map((s) => ({ name: s.name, file: layout.subject(subjectFile(s)) })),
    marks: footage.marks.map((m) => m.time),
    ratio: aspectRatio(aspect),
    dials: { lively, cuts, ...(length === undefined ? {} : { length }) },
  };
}
