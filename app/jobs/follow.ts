/** Following a subject of a footage. */
import { rm } from 'node:fs/promises';
import { seenAs } from '~/db/analyses';
import { findFootage, sourceOf } from '~/db/footage';
import { findSubject, followed, orderOf } from '~/db/subjects';
import { ended, layout, onDisk } from '~/base/layout';
import { subjectFile, subjectPicture } from '~/model/subject';
import type { JobKind } from '~/queue/kind';
import { motionFile } from './motion-first';
import { followParams } from './params';

export const followKind: JobKind = {
  lane: 'compute',
  async prepare(job) {
    const footage = job.footageId ? await findFootage(job.footageId) : null;
    const subject = await findSubject(followParams(job).subject);
    if (!footage || !subject || subject.deleted) return null;
    const { rate, frames } = footage.facts;
    return {
      kind: 'follow',
      proxy: layout.proxy(footage.id),
      rate,
      frames,
      order: orderOf(subject),
      around: followParams(job).around ?? null,
      motion: motionFile(footage),
      moving: layout.moving(footage.id),
      found: layout.found(footage.id),
      out: layout.subject(subjectFile(subject)),
      part: layout.growingTrack(job.id),
      picture: layout.subject(subjectPicture(subject)),
    };
  },
  async accept(job) {
    const footage = await findFootage(job.footageId!);
    if (footage) await followed(followParams(job).subject, seenAs(footage.fingerprint, await sourceOf(footage.id)));
  },
  owns: ({ id }) => [layout.growingTrack(id)],
  async clean({ id }) {
    const track = layout.growingTrack(id);
    for (const place of [track, ended(track, '.new')]) await rm(onDisk(place), { force: true });
  },
};
