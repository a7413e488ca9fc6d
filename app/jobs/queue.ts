/**
 * The queue of long work. Each job is a row; whoever does it claims it for a while and renews that, so that after a crash
 * another (or this one, started again) can take it over. What a job is and what follows from it says its kind.
 */
import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import type { Report } from '@glimbo/cli/task';
import { ToldError } from '@glimbo/core/boundary/told-error';
import {
  abandonedJobs,
  addJob,
  cancelledOf,
  claimJob,
  deleteJob,
  findJob,
  renewLeases,
  unfinishedJobs,
  updateClaimed,
  updateJob,
  WHEN_IDLE,
  wishCancelled,
  type NewJob,
} from '~/db/jobs';
import { isFull, DISK_FULL } from '~/server/answer';
import { log } from '~/base/log';
import { announce } from './events';
import type { JobKind, Lane, Why } from './kind';
import { runTask, type Outcome, type Running } from './run';
import type { Job, JobKindName } from '~/model/job';

const MOST_ATTEMPTS = 3;
/** Milliseconds for which a job is claimed, and after which that is renewed. */
const LEASE = 30_000;
const RENEW = 10_000;
/** Milliseconds after which something that could not be written is tried again. */
const RETRY = 3000;

/** This process as a worker: its machine, its number, and a name of its own. */
const ME = `${hostname()} ${process.pid} ${randomUUID()}`;

/** What somebody wants done with a running job. */
type Wish = 'cancel' | 'requeue';
interface Current {
  job: Job;
  running: Running | null;
  wish: Wish | null;
  ended: Promise<void>;
}
const current = new Map<string, Current>();
const working = new Map<Lane, boolean>();
let closing = false;
/** What the jobs are; nothing is worked on before the queue was started with it. */
let kinds: Record<JobKindName, JobKind> | null = null;
const kindOf = (job: Pick<Job, 'kind'>) => kinds![job.kind];
/** Before the queue was started there is nothing of a job to be cleared up but what the start itself clears. */
const clean = async (job: Job, why: Why) => kinds && kindOf(job).clean(job, why);
let heart: ReturnType<typeof setInterval> | undefined;

/** Whether a worker was on this machine and is no more. */
function gone(worker: string): boolean {
  const [host, pid] = worker.split(' ');
  if (host !== hostname() || worker === ME) return false;
  try {
    process.kill(Number(pid), 0);
    return Number(pid) === process.pid;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'ESRCH';
  }
}

/** Queues again what a crash broke off, clears what it left half written, and starts working. */
export async function startQueue(known: Record<JobKindName, JobKind>) {
  kinds = known;
  await takeOver();
  heart = setInterval(() => {
    const beat = async () => {
      await renewLeases(ME, Date.now() + LEASE);
      for (const id of await cancelledOf(ME)) void cancelJob(id);
      await takeOver();
      work();
    };
    beat().catch((error: unknown) => log.error({ err: error }, 'the leases could not be renewed'));
  }, RENEW);
  heart.unref();
  work();
}

async function takeOver() {
  for (const job of await abandonedJobs(Date.now(), gone)) {
    if (current.has(job.id)) continue;
    await clean(job, job.attempts < MOST_ATTEMPTS ? 'again' : 'over');
    if (job.attempts < MOST_ATTEMPTS) await updateJob(job.id, { state: 'queued', progress: 0 });
    else
      await updateJob(job.id, {
        state: 'failed',
        error: 'Glimbo stopped three times while doing this. Try it again by hand.',
        ended: Date.now(),
      });
  }
}

/** Adds a job; gives its id. What runs only while nothing else waits gives way to it. */
export async function enqueue(job: NewJob): Promise<string> {
  const id = await addJob(job);
  const added = await findJob(id);
  if (added) announce(added);
  if ((job.priority ?? 0) < WHEN_IDLE)
    for (const c of current.values())
      if (kindOf(c.job).lane === kindOf(job).lane && c.job.priority >= WHEN_IDLE) stop(c, 'requeue');
  work();
  return id;
}

function stop(c: Current, wish: Wish) {
  c.wish ??= wish;
  c.running?.stop();
}

/** Cancels a job that waits or runs. Resolves when it has ended and nothing half done of it is left. */
export async function cancelJob(id: string) {
  const c = current.get(id);
  if (c) {
    stop(c, 'cancel');
    c.wish = 'cancel';
    return c.ended;
  }
  const job = await findJob(id);
  // Somebody else does it: they are told when they next say that they go on.
  if (job?.state === 'running') await wishCancelled(id);
  if (job?.state !== 'queued') return;
  await clean(job, 'over');
  await updateJob(id, { state: 'cancelled', ended: Date.now() });
  announce(job, { state: 'cancelled' });
}

/** Cancels everything that waits or runs for a footage. */
export async function cancelOf(footageId: string) {
  await Promise.all((await unfinishedJobs(footageId)).map((job) => cancelJob(job.id)));
}

/** Does a failed, cancelled or finished job once more, as a new job. */
export async function repeatJob(id: string) {
  const job = await findJob(id);
  if (job) await enqueue({ ...job, priority: 0 });
}

export async function removeJob(id: string) {
  const job = await findJob(id);
  if (!job || job.state === 'running' || job.state === 'queued') return;
  await kindOf(job).remove?.(job);
  await deleteJob(id);
  announce(job, { state: 'removed' });
}

/** Ends what runs, for the server's end; the next start does it again. */
export async function stopQueue() {
  closing = true;
  clearInterval(heart);
  for (const c of current.values()) c.running?.kill();
  await Promise.all([...current.values()].map((c) => c.ended));
}

function work() {
  for (const lane of new Set(Object.values(kinds ?? {}).map((k) => k.lane)))
    void workLane(lane).catch((error: unknown) => log.error({ err: error, lane }, 'a lane of the queue stopped'));
}

async function workLane(lane: Lane) {
  if (working.get(lane)) return;
  working.set(lane, true);
  const names = (Object.keys(kinds!) as JobKindName[]).filter((k) => kinds![k].lane === lane);
  try {
    while (!closing) {
      const job = await claimJob(names, ME, Date.now() + LEASE);
      if (!job) return;
      await doJob(job);
    }
  } finally {
    working.set(lane, false);
  }
}

async function doJob(job: Job) {
  let end = () => {};
  const c: Current = { job, running: null, wish: null, ended: new Promise<void>((resolve) => (end = resolve)) };
  current.set(job.id, c);
  try {
    announce(job);
    const outcome = await outcomeOf(c);
    if (!closing) await settle(c, outcome);
  } catch (error) {
    log.error({ err: error, job: job.id }, 'a job could not be settled');
  } finally {
    current.delete(job.id);
    end();
  }
}

/** Runs a job to its end and takes over what it brings on the way. */
async function outcomeOf(c: Current): Promise<Outcome> {
  const { job } = c;
  const kind = kindOf(job);
  const began = Date.now();
  let saved = 0;
  let pictures = 0;
  let parts = 0;
  let share = 0;
  let left: number | null = null;
  let taking: Promise<void> = Promise.resolve();
  const problems: string[] = [];
  const hear = (report: Report) => {
    if ('progress' in report) {
      share = report.progress;
      const seconds = (Date.now() - began) / 1000;
      left = share > 0.02 ? (seconds / share) * (1 - share) : null;
      announce(job, { progress: share, left, ...(pictures ? { picture: pictures } : {}), ...(parts ? { parts } : {}) });
      if (Date.now() - saved < 1500) return;
      saved = Date.now();
      updateClaimed(job.id, ME, { progress: share }).catch((error: unknown) =>
        log.warn({ err: error }, 'progress was not kept'),
      );
    } else if ('picture' in report) announce(job, { progress: share, left, picture: ++pictures });
    else if ('part' in report)
      taking = taking
        .then(async () => {
          const problem = await kind.take?.(job, report.part);
          if (problem) problems.push(problem);
          announce(job, { progress: share, left, parts: ++parts });
        })
        .catch((error: Error) => {
          log.error({ err: error, job: job.id }, 'a part of a job could not be taken over');
          problems.push(isFull(error) ? DISK_FULL : `Something of it could not be taken in: ${error.message}.`);
        });
  };
  try {
    const task = await kind.prepare(job);
    if (c.wish || closing) return { failed: '' };
    if (!task) return { failed: 'Its footage is gone from the Library.' };
    c.running = runTask(job.id, task, hear, true);
    const outcome = await c.running.ended;
    await taking;
    if ('done' in outcome && problems.length) return { failed: problems.join(' ') };
    if ('done' in outcome && !c.wish) await kind.accept?.(job, outcome.done, task);
    return outcome;
  } catch (error) {
    if (error instanceof ToldError) return { failed: error.message };
    log.error({ err: error, job: job.id }, 'a job failed');
    return { failed: isFull(error) ? DISK_FULL : `Something went wrong: ${(error as Error).message}` };
  }
}

/** What is written down of what was done. */
function resultOf(job: Job, done: unknown) {
  const { result } = kindOf(job);
  const kept = result ? result(done) : done;
  return { progress: 1, ...(kept ? { result: JSON.stringify(kept) } : {}) };
}

/**
 * Clears up behind a job and writes down what became of it, however long that takes on a full disk. One that gave way is
 * queued again; so is one whose process was lost, as after a crash, unless that happened too often.
 */
async function settle({ job, wish }: Current, outcome: Outcome) {
  const gaveWay = wish === 'requeue' && !('done' in outcome);
  const lost = !wish && 'lost' in outcome && job.attempts < MOST_ATTEMPTS;
  const again = gaveWay || lost;
  const state: Job['state'] =
    wish === 'cancel' ? 'cancelled' : again ? 'queued' : 'done' in outcome ? 'done' : 'failed';
  const error = state === 'failed' && 'failed' in outcome ? outcome.failed : null;
  await clean(job, state === 'done' ? 'done' : again ? 'again' : 'over');
  const change: Parameters<typeof updateJob>[1] = again
    ? { state, progress: 0, attempts: job.attempts - (gaveWay ? 1 : 0) }
    : { state, ended: Date.now(), error, ...('done' in outcome ? resultOf(job, outcome.done) : {}) };
  let told = false;
  while (!closing) {
    try {
      // Another may have taken it over meanwhile: then what became of it is theirs to say.
      if (!(await updateClaimed(job.id, ME, change))) return;
      break;
    } catch (failure) {
      if (!told) log.error({ err: failure, job: job.id }, 'what became of a job could not be written down yet');
      told = true;
      await new Promise((resolve) => setTimeout(resolve, RETRY).unref());
    }
  }
  announce(job, { state, progress: state === 'done' ? 1 : job.progress, error });
}
