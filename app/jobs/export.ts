/** Exporting a clip of a take. */
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { codecFacts } from '@glimbo/core/codecs/codecs';
import type { ClipSettings } from '@glimbo/core/take/clip';
import { estimateSize } from '@glimbo/core/take/estimate';
import type { ClipReport } from '@glimbo/media/render/clip';
import { findFootage, recordingOf, twinOf } from '~/db/footage';
import { learnSize } from '~/db/sizes';
import { config } from '~/base/config';
import type { JobKind } from './kind';
import { exportParams, exportSettings } from './params';
import type { Job } from '~/model/job';

/** Where an export lies. */
export const exportFile = (job: Job) => {
  const { codec } = (job.params.settings ?? {}) as Partial<ClipSettings>;
  return join(config.exports, `${job.id}.${codecFacts(codec ?? 'h264').ending}`);
};

/** Where the picture of the frame that is being written lies. */
export const exportPicture = (id: string) => join(config.exports, `${id}.now.jpg`);

export const exportKind: JobKind = {
  lane: 'compute',
  async prepare(job) {
    const footage = job.footageId ? await findFootage(job.footageId) : null;
    if (!footage) return null;
    const { take, settings } = exportParams(job);
    const recording = { ...(await recordingOf(footage)), ...(await twinOf(take)) };
    return { kind: 'export', take, settings, recording, out: exportFile(job), picture: exportPicture(job.id) };
  },
  async accept(job, done) {
    const settings = exportSettings(job);
    const { seconds, rate, bytes, sound } = done as ClipReport;
    await learnSize(settings, { seconds, bytes, estimate: estimateSize(settings, seconds, rate, sound) });
  },
  async clean(job) {
    await rm(`${exportFile(job)}.part`, { force: true });
    for (const file of [exportPicture(job.id), `${exportPicture(job.id)}.part`]) await rm(file, { force: true });
  },
  remove: (job) => rm(exportFile(job), { force: true }),
};
