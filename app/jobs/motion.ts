/** Analysing the motion of a footage. */
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { AnalysisReport } from '@glimbo/cli/job';
import type { Method } from '@glimbo/core/motion/motion';
import { findFootage, setMotion } from '~/db/footage';
import type { Job } from '~/db/jobs';
import { config } from '~/server/config';
import { sidecarOf, type SidecarUse } from '~/server/sidecar';
import type { JobKind } from './kinds';

/** The name of the file of a job's analysis. */
const fileOf = (job: Job) => `${job.id}.json`;

export const motionKind: JobKind = {
  lane: 'compute',
  async prepare(job) {
    const footage = job.footageId ? await findFootage(job.footageId) : null;
    if (!footage) return null;
    const { method, use } = job.params as unknown as { method: Method; use: SidecarUse };
    const { rate, frames } = footage.facts;
    const sidecar = use === 'no' ? null : sidecarOf(footage);
    return {
      kind: 'motion',
      proxy: join(config.footage, footage.id, 'proxy.mp4'),
      rate,
      frames,
      method,
      sidecar: sidecar && use !== 'no' ? { file: sidecar, use } : null,
      out: join(config.motions, fileOf(job)),
    };
  },
  /** The analysis before goes only now. */
  async accept(job, done) {
    const { method, sidecar } = done as AnalysisReport;
    const before = await setMotion(job.footageId!, { file: fileOf(job), method, sidecar });
    if (before) await rm(join(config.motions, before), { force: true });
  },
  async clean(job, why) {
    const file = join(config.motions, fileOf(job));
    await rm(`${file}.part`, { force: true });
    if (why !== 'done') await rm(file, { force: true });
  },
};
