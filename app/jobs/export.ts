/** Exporting a clip of a take. */
import { rm } from 'node:fs/promises';
import { basename } from 'node:path';
import { endingOf } from '@glimbo/core/export/codecs';
import type { ClipSettings } from '@glimbo/core/export/settings';
import { estimateSize } from '@glimbo/core/export/estimate';
import { fingerprint } from '@glimbo/media/copy';
import { MediaError } from '@glimbo/media/ffmpeg';
import type { ClipReport } from '@glimbo/media/render/clip';
import { findFootage, recordingOf, twinOf } from '~/db/footage';
import { learnSize } from '~/db/sizes';
import { ended, layout, onDisk } from '~/base/layout';
import type { JobKind } from '~/queue/kind';
import { exportParams, exportSettings } from './params';
import type { Footage } from '~/model/footage';
import { isOpen, type Job } from '~/model/job';

/** Where an export lies. */
export const exportPlace = (job: Job) => {
  const { codec } = (job.params.settings ?? {}) as Partial<ClipSettings>;
  return layout.exported(job.id, endingOf(codec ?? 'h264'));
};

/** What is half done of it, with the picture of the frame that is being written. */
const passing = (job: Job) => {
  const picture = layout.exportPicture(job.id);
  return [ended(exportPlace(job), '.part'), picture, ended(picture, '.part')];
};

/** Refuses an original in whose place there is another film: its path and takes are still ours, its picture is not. */
async function checkOriginal({ name, file, fingerprint: known }: Footage) {
  // One that is missing is told by whoever reads it.
  const found = known ? await fingerprint(file).catch(() => null) : null;
  if (found !== null && found !== known)
    throw new MediaError(
      `${basename(file)} is not the recording that was gathered as “${name}”: another one lies in its place. ` +
        'Put the original back, or gather this one by itself.',
    );
}

export const exportKind: JobKind = {
  lane: 'compute',
  async prepare(job) {
    const footage = job.footageId ? await findFootage(job.footageId) : null;
    if (!footage) return null;
    const { take, settings } = exportParams(job);
    await checkOriginal(footage);
    const recording = { ...(await recordingOf(footage)), ...(await twinOf(take, footage)) };
    return { kind: 'export', take, settings, recording, out: exportPlace(job), picture: layout.exportPicture(job.id) };
  },
  async accept(job, done) {
    const settings = exportSettings(job);
    const { seconds, rate, bytes, sound } = done as ClipReport;
    await learnSize(settings, { seconds, bytes, estimate: estimateSize(settings, seconds, rate, sound) });
  },
  async clean(job) {
    for (const place of passing(job)) await rm(onDisk(place), { force: true });
  },
  owns: (job) => [exportPlace(job), ...(isOpen(job) ? passing(job) : [])],
  lasting: true,
  remove: (job) => rm(onDisk(exportPlace(job)), { force: true }),
};
