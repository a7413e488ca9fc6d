/**
 * The queue of long work. Each job is a row and runs in a process of its own, so that the server always answers
 * and a cancel is a kill. There are two lanes, one for what computes and one for what copies; in each one job
 * runs at a time. After a crash, what was running is queued again.
 */
import { fork, type ChildProcess } from 'node:child_process';
import { EventEmitter } from 'node:events';
import { readdir, rm } from 'node:fs/promises';
import { extname, join } from 'node:path';
import type { AnalysisReport, CopyItem, CopyRequest, Report, Task } from '@glimbo/cli/job';
import type { Method } from '@glimbo/core/motion/motion';
import { endingOf, type ClipSettings } from '@glimbo/core/take/clip';
import type { Gathered } from '@glimbo/media/gather';
import { addJob, deleteJob, findJob, nextQueued, runningJobs, updateJob, type Job } from '~/db/jobs';
import { findFootage, recordingOf, setGathered, setMotion } from '~/db/footage';
import { readSettings } from '~/db/settings';
import { config } from '~/server/config';
import { sidecarOf, type SidecarUse } from '~/server/sidecar';

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
type Copied = Extract<Report, { copied: unknown }>['copied'];
/** Takes into the Library what a copy has brought; set by the gathering, which stands above the queue. Gives a sentence if it cannot. */
let enterCopy: (copied: Copied, tags: string[]) => Promise<string | null> = async () => null;
export const onCopied = (handler: typeof enterCopy) => void (enterCopy = handler);
export const jobEvents = new EventEmitter().setMaxListeners(0);
const LANES: readonly (readonly Job['kind'][])[] = [['gather', 'export', 'motion'], ['copy']];
const running = new Map<string, { child: ChildProcess; cancelled: boolean }>();
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
  for (const folder of [config.footage, config.exports, config.originals, config.motions]) {
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
  const current = running.get(id);
  if (current) {
    current.cancelled = true;
    const { child } = current;
    child.kill('SIGTERM');
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
  for (const { child } of running.values()) child.kill('SIGKILL');
}

/** Where the copies of a recording's files go. */
export const copiesOf = (item: CopyItem) =>
  item.files.map((f, i) => join(config.originals, `${item.id}${i ? `-${i + 1}` : ''}${extname(f).toLowerCase()}`));

/** The name of the file of a job's analysis. */
const motionFile = (job: Job) => `${job.id}.json`;

/** Where an export lies. */
export const exportFile = (job: Job) => {
  const { codec } = (job.params.settings ?? {}) as Partial<ClipSettings>;
  return join(config.exports, `${job.id}.${endingOf(codec ?? 'h264')}`);
};

async function taskOf(job: Job): Promise<Task | null> {
  if (job.kind === 'copy') {
    const request = job.params as unknown as CopyRequest;
    return { ...request, kind: 'copy', targets: request.recordings.map(copiesOf), folder: config.originals };
  }
  const footage = job.footageId ? await findFootage(job.footageId) : null;
  if (!footage) return null;
  const recording = await recordingOf(footage);
  if (job.kind === 'gather') {
    const { facts, variableRate } = footage;
    const { proxyWidth } = await readSettings();
    return { kind: 'gather', recording, facts, folder: join(config.footage, footage.id), variableRate, proxyWidth };
  }
  if (job.kind === 'motion') {
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
      out: join(config.motions, motionFile(job)),
    };
  }
  const { take, settings } = job.params as unknown as Pick<Task & { kind: 'export' }, 'take' | 'settings'>;
  return { kind: 'export', take, settings, recording, out: exportFile(job) };
}

const working = LANES.map(() => false);
async function work() {
  await Promise.all(LANES.map(workLane));
}

async function workLane(kinds: (typeof LANES)[number], lane: number) {
  if (working[lane]) return;
  working[lane] = true;
  try {
    for (let job = await nextQueued(kinds); job && !closing; job = await nextQueued(kinds)) await run(job);
  } finally {
    working[lane] = false;
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
  running.set(job.id, { child, cancelled: false });
  let outcome: Report | null = null;
  let saved = 0;
  let entering: Promise<void> = Promise.resolve();
  const problems: string[] = [];
  child.on('message', (report: Report) => {
    if ('copied' in report) {
      entering = entering
        .then(() => enterCopy(report.copied, (task as Task & { kind: 'copy' }).tags))
        .then((problem) => void (problem && problems.push(problem)))
        .catch(
          (error: Error) => void problems.push(`${report.copied.item.name} could not be taken in: ${error.message}.`),
        );
      return;
    }
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
  const cancelled = running.get(job.id)?.cancelled ?? false;
  running.delete(job.id);
  if (closing) return;
  await entering;
  if (problems.length && outcome && 'done' in outcome) outcome = { failed: problems.join(' ') };
  await settle(job, task, outcome, cancelled);
}

async function settle(job: Job, task: Task, outcome: Report | null, cancelled: boolean) {
  const ended = Date.now();
  // A process that was killed could not clear up behind itself.
  if (job.kind === 'export') await rm(`${exportFile(job)}.part`, { force: true });
  if (task.kind === 'copy')
    for (const item of task.recordings) for (const file of copiesOf(item)) await rm(`${file}.part`, { force: true });
  if (task.kind === 'motion') await rm(`${task.out}.part`, { force: true });
  if (job.kind === 'gather') await rm(join(config.footage, `${job.footageId}.part`), { recursive: true, force: true });
  if (cancelled) {
    await updateJob(job.id, { state: 'cancelled', ended });
    announce(job, { state: 'cancelled' });
  } else if (outcome && 'done' in outcome) {
    if (task.kind === 'motion') await keepMotion(job, outcome.done as AnalysisReport);
    if (task.kind === 'gather') await setGathered(job.footageId!, outcome.done as Gathered, task.recording.source);
    await updateJob(job.id, { state: 'done', progress: 1, ended, result: JSON.stringify(summary(outcome.done)) });
    announce(job, { state: 'done', progress: 1 });
  } else {
    const error =
      outcome && 'failed' in outcome ? outcome.failed : 'The work was broken off from outside. Try it again.';
    await updateJob(job.id, { state: 'failed', error, ended });
    announce(job, { state: 'failed', error });
  }
}

/** Takes an analysis over; the one before goes only now. */
async function keepMotion(job: Job, { method, sidecar }: AnalysisReport) {
  const before = await setMotion(job.footageId!, { file: motionFile(job), method, sidecar });
  if (before) await rm(join(config.motions, before), { force: true });
}

/** A result as it is kept with its job: without the source, which the footage has. */
function summary(done: unknown): object {
  const { source: _, ...rest } = done as Partial<Gathered>;
  return rest;
}
