/**
 * The queue of long work. Each job is a row; one runs at a time, in a process of its own, so that the server
 * always answers and a cancel is a kill. After a crash, what was running is queued again.
 */
import { fork, type ChildProcess } from 'node:child_process';
import { EventEmitter } from 'node:events';
import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Report, Task } from '@glimbo/cli/job';
import { addJob, deleteJob, findJob, nextQueued, runningJobs, updateJob, type Job } from '~/db/jobs';
import { findFootage, setGathered } from '~/db/footage';
import { config } from '~/server/config';

export interface JobEvent {
  id: string;
  kind: Job['kind'];
  state: Job['state'] | 'removed';
  progress: number;
  /** Seconds left, once that can be told. */
  left: number | null;
  error: string | null;
  footageId: string | null;
}

const MOST_ATTEMPTS = 3;
export const jobEvents = new EventEmitter().setMaxListeners(0);
let current: { job: Job; child: ChildProcess; cancelled: boolean } | null = null;
let closing = false;

function announce(job: Job, change: Partial<JobEvent>) {
  const event: JobEvent = {
    id: job.id,
    kind: job.kind,
    state: job.state,
    progress: job.progress,
    left: null,
    error: null,
    footageId: job.footageId,
    ...change,
  };
  jobEvents.emit('job', event);
}

/** Queues again what a crash broke off, clears half-written files, and starts working. */
export async function startQueue() {
  for (const job of await runningJobs()) {
    if (job.attempts >= MOST_ATTEMPTS) {
      await updateJob(job.id, {
        state: 'failed',
        error: 'Glimbo stopped three times while doing this. Try it again by hand.',
        ended: Date.now(),
      });
    } else await updateJob(job.id, { state: 'queued', progress: 0 });
  }
  for (const folder of [config.footage, config.exports]) {
    for (const name of await readdir(folder))
      if (name.endsWith('.part')) await rm(join(folder, name), { recursive: true, force: true });
  }
  void work();
}

export async function enqueue(job: Parameters<typeof addJob>[0]): Promise<string> {
  const id = await addJob(job);
  const added = await findJob(id);
  if (added) announce(added, {});
  void work();
  return id;
}

export async function cancelJob(id: string) {
  if (current?.job.id === id) {
    current.cancelled = true;
    current.child.kill('SIGTERM');
    const { child } = current;
    setTimeout(() => child.kill('SIGKILL'), 4000).unref();
    return;
  }
  const job = await findJob(id);
  if (job?.state !== 'queued') return;
  await updateJob(id, { state: 'cancelled', ended: Date.now() });
  announce(job, { state: 'cancelled' });
}

/** Does a failed, cancelled or finished job once more, as a new job. */
export async function repeatJob(id: string) {
  const job = await findJob(id);
  if (job) await enqueue(job);
}

export async function removeJob(id: string) {
  const job = await findJob(id);
  if (!job || job.state === 'running' || job.state === 'queued') return;
  if (typeof job.params.file === 'string') await rm(exportFile(job), { force: true });
  await deleteJob(id);
  announce(job, { state: 'removed' });
}

/** Stops the running job for the server's end; the next start does it again. */
export function stopQueue() {
  closing = true;
  current?.child.kill('SIGKILL');
}

export const exportFile = (job: Job) => join(config.exports, `${job.id}.mp4`);

async function taskOf(job: Job): Promise<Task | null> {
  const footage = job.footageId ? await findFootage(job.footageId) : null;
  if (!footage) return null;
  if (job.kind === 'gather') {
    return {
      kind: 'gather',
      file: footage.file,
      facts: footage.facts,
      folder: join(config.footage, footage.id),
      variableRate: footage.variableRate,
    };
  }
  const { take, settings } = job.params as unknown as Pick<Task & { kind: 'export' }, 'take' | 'settings'>;
  return { kind: 'export', take, settings, footage: footage.file, out: exportFile(job) };
}

let working = false;
async function work() {
  if (working) return;
  working = true;
  try {
    for (let job = await nextQueued(); job && !closing; job = await nextQueued()) await run(job);
  } finally {
    working = false;
  }
}

async function run(job: Job) {
  const task = await taskOf(job);
  if (!task)
    return void (await updateJob(job.id, {
      state: 'failed',
      error: 'Its footage is gone from the Library.',
      ended: Date.now(),
    }));
  const started = Date.now();
  await updateJob(job.id, { state: 'running', started, attempts: job.attempts + 1, progress: 0 });
  announce(job, { state: 'running', progress: 0 });
  const child = fork(join(config.engine, 'job.mjs'), { stdio: ['ignore', 'ignore', 'inherit', 'ipc'], execArgv: [] });
  current = { job, child, cancelled: false };
  let outcome: Report | null = null;
  let saved = 0;
  child.on('message', (report: Report) => {
    if (!('progress' in report)) return void (outcome = report);
    const seconds = (Date.now() - started) / 1000;
    const left = report.progress > 0.02 ? (seconds / report.progress) * (1 - report.progress) : null;
    announce(job, { state: 'running', progress: report.progress, left });
    if (Date.now() - saved > 1500) {
      saved = Date.now();
      void updateJob(job.id, { progress: report.progress });
    }
  });
  child.send(task);
  await new Promise<void>((resolve) => child.once('exit', () => resolve()));
  const { cancelled } = current;
  current = null;
  if (closing) return;
  await settle(job, outcome, cancelled);
}

async function settle(job: Job, outcome: Report | null, cancelled: boolean) {
  const ended = Date.now();
  // A process that was killed could not clear up behind itself.
  if (job.kind === 'export') await rm(`${exportFile(job)}.part`, { force: true });
  else await rm(join(config.footage, `${job.footageId}.part`), { recursive: true, force: true });
  if (cancelled) {
    await updateJob(job.id, { state: 'cancelled', ended });
    announce(job, { state: 'cancelled' });
  } else if (outcome && 'done' in outcome) {
    if ('proxy' in outcome.done) await setGathered(job.footageId!, outcome.done);
    await updateJob(job.id, { state: 'done', progress: 1, ended, result: JSON.stringify(outcome.done) });
    announce(job, { state: 'done', progress: 1 });
  } else {
    const error =
      outcome && 'failed' in outcome ? outcome.failed : 'The work was broken off from outside. Try it again.';
    await updateJob(job.id, { state: 'failed', error, ended });
    announce(job, { state: 'failed', error });
  }
}
