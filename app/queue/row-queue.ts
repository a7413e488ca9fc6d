/**
 * The queue as rows of the database. Whoever does a job claims it for a while and renews that, so that after a crash another
 * (or this one, started again) can take it over; several may work on the same rows. What a job is and what follows from it
 * says its kind.
 */
import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import type { Report } from '@glimbo/cli/task';
import { ToldError } from '@glimbo/core/boundary/told-error';
import { log } from '~/base/log';
import { DISK_FULL, isFull } from '~/base/disk';
import {
  abandonedJobs,
  addJob,
  cancelledOf,
  claimJob,
  deleteJob,
  findJob,
  moveAhead,
  renewLeases,
  unfinishedJobs,
  updateClaimed,
  updateJob,
  WHEN_IDLE,
  wishCancelled,
  type NewJob,
} from '~/db/jobs';
import type { Job, JobKindName } from '~/model/job';
import { announce } from './events';
import type { JobKind, Lane, Why } from './kind';
import type { Queue } from './queue';
import { runTask, type Outcome, type Running } from './run';

const MOST_ATTEMPTS = 3;
/** Milliseconds for which a job is claimed, and after which that is renewed. */
const LEASE = 30_000;
const RENEW = 10_000;
/** Milliseconds after which something that could not be written is tried again. */
const RETRY = 3000;

/** What somebody wants done with a running job. */
type Wish = 'cancel' | 'requeue';
interface Current {
  job: Job;
  running: Running | null;
  wish: Wish | null;
  ended: Promise<void>;
}

/** The workers of this process: a name with its number that is not among them was that of an earlier one. */
const queuesHere = new Set<string>();

export class RowQueue implements Queue {
  /** This queue as a worker: its machine, its process, and a name of its own. */
  private readonly me = `${hostname()} ${process.pid} ${randomUUID()}`;
  private readonly current = new Map<string, Current>();
  private readonly working = new Set<Lane>();
  private closing = false;
  private started = false;
  private heart: ReturnType<typeof setInterval> | undefined;

  constructor(private readonly kinds: Record<JobKindName, JobKind>) {
    queuesHere.add(this.me);
  }

  /** Queues again what a crash broke off, clears what it left half written, and starts working. */
  async start(): Promise<void> {
    queuesHere.add(this.me);
    this.closing = false;
    this.started = true;
    await this.takeOver();
    this.heart = setInterval(() => {
      const beat = async () => {
        await renewLeases(this.me, Date.now() + LEASE);
        for (const id of await cancelledOf(this.me)) void this.cancel(id);
        await this.takeOver();
        this.work();
      };
      beat().catch((error: unknown) => log.error({ err: error }, 'the leases could not be renewed'));
    }, RENEW);
    this.heart.unref();
    this.work();
  }

  /** Ends what runs, for the server's end; the next start does it again. */
  async stop(): Promise<void> {
    this.closing = true;
    clearInterval(this.heart);
    for (const c of this.current.values()) c.running?.kill();
    await Promise.all([...this.current.values()].map((c) => c.ended));
    queuesHere.delete(this.me);
  }

  async add(job: NewJob): Promise<string> {
    const id = await addJob(job);
    const added = await findJob(id);
    if (added) announce(added);
    if ((job.priority ?? 0) < WHEN_IDLE) this.giveWay(this.kinds[job.kind].lane);
    this.work();
    return id;
  }

  async ahead(id: string): Promise<void> {
    await moveAhead(id);
    const job = await findJob(id);
    if (job) announce(job);
  }

  async cancel(id: string): Promise<void> {
    const c = this.current.get(id);
    if (c) {
      c.wish = 'cancel';
      c.running?.stop();
      return c.ended;
    }
    const job = await findJob(id);
    // Somebody else does it: they are told when they next say that they go on.
    if (job?.state === 'running') await wishCancelled(id);
    if (job?.state !== 'queued') return;
    await this.clean(job, 'over');
    await updateJob(id, { state: 'cancelled', ended: Date.now() });
    announce(job, { state: 'cancelled' });
  }

  async cancelOf(footageId: string): Promise<void> {
    await Promise.all((await unfinishedJobs(footageId)).map((job) => this.cancel(job.id)));
  }

  async repeat(id: string): Promise<void> {
    const job = await findJob(id);
    if (job) await this.add({ ...job, priority: 0 });
  }

  async remove(id: string): Promise<void> {
    const job = await findJob(id);
    if (!job || job.state === 'running' || job.state === 'queued') return;
    await this.kinds[job.kind].remove?.(job);
    await deleteJob(id);
    announce(job, { state: 'removed' });
  }

  /** What runs only while nothing else waits makes room in a lane. */
  private giveWay(lane: Lane) {
    for (const c of this.current.values())
      if (this.kinds[c.job.kind].lane === lane && c.job.priority >= WHEN_IDLE) {
        c.wish ??= 'requeue';
        c.running?.stop();
      }
  }

  /** Before the queue was started there is nothing of a job to be cleared up but what the start itself clears. */
  private async clean(job: Job, why: Why) {
    if (this.started) await this.kinds[job.kind].clean(job, why);
  }

  private async takeOver() {
    for (const job of await abandonedJobs(Date.now(), (worker) => this.gone(worker))) {
      if (this.current.has(job.id)) continue;
      await this.clean(job, job.attempts < MOST_ATTEMPTS ? 'again' : 'over');
      if (job.attempts < MOST_ATTEMPTS) await updateJob(job.id, { state: 'queued', progress: 0 });
      else
        await updateJob(job.id, {
          state: 'failed',
          error: 'Glimbo stopped three times while doing this. Try it again by hand.',
          ended: Date.now(),
        });
    }
  }

  /** Whether a worker was on this machine and is no more. */
  private gone(worker: string): boolean {
    const [host, pid] = worker.split(' ');
    if (host !== hostname() || worker === this.me) return false;
    // Another queue of this process works as long as the process does; one before it with the same number is gone.
    if (Number(pid) === process.pid) return !queuesHere.has(worker);
    try {
      process.kill(Number(pid), 0);
      return false;
    } catch (error) {
      return (error as NodeJS.ErrnoException).code === 'ESRCH';
    }
  }

  private work() {
    if (!this.started) return;
    for (const lane of new Set(Object.values(this.kinds).map((k) => k.lane)))
      void this.workLane(lane).catch((error: unknown) =>
        log.error({ err: error, lane }, 'a lane of the queue stopped'),
      );
  }

  private async workLane(lane: Lane) {
    if (this.working.has(lane)) return;
    this.working.add(lane);
    const names = (Object.keys(this.kinds) as JobKindName[]).filter((k) => this.kinds[k].lane === lane);
    try {
      while (!this.closing) {
        const job = await claimJob(names, this.me, Date.now() + LEASE);
        if (!job) return;
        await this.doJob(job);
      }
    } finally {
      this.working.delete(lane);
    }
  }

  private async doJob(job: Job) {
    let end = () => {};
    const c: Current = { job, running: null, wish: null, ended: new Promise<void>((resolve) => (end = resolve)) };
    this.current.set(job.id, c);
    try {
      announce(job);
      const outcome = await this.outcomeOf(c);
      if (!this.closing) await this.settle(c, outcome);
    } catch (error) {
      log.error({ err: error, job: job.id }, 'a job could not be settled');
    } finally {
      this.current.delete(job.id);
      end();
    }
  }

  /** Runs a job to its end and takes over what it brings on the way. */
  private async outcomeOf(c: Current): Promise<Outcome> {
    const { job } = c;
    const kind = this.kinds[job.kind];
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
        announce(job, {
          progress: share,
          left,
          ...(pictures ? { picture: pictures } : {}),
          ...(parts ? { parts } : {}),
        });
        if (Date.now() - saved < 1500) return;
        saved = Date.now();
        updateClaimed(job.id, this.me, { progress: share }).catch((error: unknown) =>
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
      if (c.wish || this.closing) return { failed: '' };
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

  /**
   * Clears up behind a job and writes down what became of it, however long that takes on a full disk. One that gave way is
   * queued again; so is one whose process was lost, as after a crash, unless that happened too often.
   */
  private async settle({ job, wish }: Current, outcome: Outcome) {
    const gaveWay = wish === 'requeue' && !('done' in outcome);
    const lost = !wish && 'lost' in outcome && job.attempts < MOST_ATTEMPTS;
    const again = gaveWay || lost;
    const state: Job['state'] =
      wish === 'cancel' ? 'cancelled' : again ? 'queued' : 'done' in outcome ? 'done' : 'failed';
    const error = state === 'failed' && 'failed' in outcome ? outcome.failed : null;
    await this.clean(job, state === 'done' ? 'done' : again ? 'again' : 'over');
    const change: Parameters<typeof updateJob>[1] = again
      ? { state, progress: 0, attempts: job.attempts - (gaveWay ? 1 : 0) }
      : { state, ended: Date.now(), error, ...('done' in outcome ? resultOf(this.kinds[job.kind], outcome.done) : {}) };
    let told = false;
    while (!this.closing) {
      try {
        // Another may have taken it over meanwhile: then what became of it is theirs to say.
        if (!(await updateClaimed(job.id, this.me, change))) return;
        break;
      } catch (failure) {
        if (!told) log.error({ err: failure, job: job.id }, 'what became of a job could not be written down yet');
        told = true;
        await new Promise((resolve) => setTimeout(resolve, RETRY).unref());
      }
    }
    announce(job, { state, progress: state === 'done' ? 1 : job.progress, error });
  }
}

/** What is written down of what was done. */
function resultOf({ result }: JobKind, done: unknown) {
  const kept = result ? result(done) : done;
  return { progress: 1, ...(kept ? { result: JSON.stringify(kept) } : {}) };
}
