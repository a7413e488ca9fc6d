/** Following a subject of a footage. */
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { seenAs } from '~/db/analyses';
import { findFootage, sourceOf } from '~/db/footage';
import { findSubject, followed, orderOf } from '~/db/subjects';
import { config } from '~/base/config';
import { subjectFile, subjectPicture } from '~/model/subject';
import type { JobKind } from '~/queue/kind';
import { followParams } from './params';

/** Where a subject that is being followed is, as far as that is known. */
export const growingTrack = (jobId: string) => join(config.subjects, `${jobId}.part`);

export const followKind: JobKind = {
  lane: 'compute',
  async prepare(job) {
    const footage = job.footageId ? await findFootage(job.footageId) : null;
    const subject = await findSubject(followParams(job).subject);
    if (!footage || !subject || subject.deleted) return null;
    const { rate, frames } = footage.facts;
    const known = footage.motion && !footage.motion.void ? join(config.motions, footage.motion.file) : null;
    return {
      kind: 'follow',
      proxy: join(config.footage, footage.id, 'proxy.mp4'),
      rate,
      frames,
      order: orderOf(subject),
      around: followParams(job).around ?? null,
      motion: known,
      out: join(config.subjects, subjectFile(subject)),
      part: growingTrack(job.id),
      picture: join(config.subjects, subjectPicture(subject)),
    };
  },
  async accept(job) {
    const footage = await findFootage(job.footageId!);
    if (footage) await followed(followParams(job).subject, seenAs(footage.fingerprint, await sourceOf(footage.id)));
  },
  owns: ({ id }) => [growingTrack(id)],
  async clean({ id }) {
    for (const file of [growingTrack(id), `${growingTrack(id)}.new`]) await rm(file, { force: true });
  },
};
