/** Analysing the motion of a footage. */
import { rm } from 'node:fs/promises';
import type { AnalysisReport } from '@glimbo/cli/task';
import { replaceAnalysis } from '~/db/analyses';
import { findFootage } from '~/db/footage';
import { ended, layout, onDisk } from '~/base/layout';
import { sidecarOf } from '~/gathering/sidecar';
import type { JobKind } from '~/queue/kind';
import { motionParams } from './params';
import type { Job } from '~/model/job';

/** The name of the file of a job's analysis. */
const fileOf = (job: Job) => `${job.id}.json`;

export const motionKind: JobKind = {
  lane: 'compute',
  async prepare(job) {
    const footage = job.footageId ? await findFootage(job.footageId) : null;
    if (!footage) return null;
    const { method, use } = motionParams(job);
    const { rate, frames } = footage.facts;
    const sidecar = use === 'no' ? null : sidecarOf(footage);
    return {
      kind: 'motion',
      proxy: layout.proxy(footage.id),
      rate,
      frames,
      method,
      sidecar: sidecar && use !== 'no' ? { file: sidecar, use } : null,
      out: layout.motion(fileOf(job)),
    };
  },
  /** The analysis before goes only now. */
  async accept(job, done) {
    const { method, sidecar } = done as AnalysisReport;
    const before = await replaceAnalysis(job.footageId!, 'motion', {
      file: fileOf(job),
      parameters: { method, sidecar },
    });
    if (before) await rm(onDisk(layout.motion(before)), { force: true });
  },
  owns: (job) => [fileOf(job), `${fileOf(job)}.part`].map(layout.motion),
  async clean(job, why) {
    const place = layout.motion(fileOf(job));
    await rm(onDisk(ended(place, '.part')), { force: true });
    if (why !== 'done') await rm(onDisk(place), { force: true });
  },
};
