/** Long work, one row each. Whoever does a job has claimed it for a while, and says from time to time that it goes on. */
import { randomUUID } from 'node:crypto';
import { db } from './database';
import type { Job, JobKindName } from '~/model/job';

export const WHEN_IDLE = 10;

interface Row extends Omit<Job, 'params' | 'result' | 'footageId' | 'takeId'> {
  params: string;
  result: string | null;
  footage_id: string | null;
  take_id: string | null;
  claimed_by: string | null;
  lease_until: number | null;
  wish: 'cancel' | null;
  /** Those that wait are begun by this, the lowest first: when it was added, unless somebody moved it. */
  turn: number;
}

const fromRow = ({ footage_id, take_id, claimed_by: _, lease_until: __, wish: ___, turn: ____, ...r }: Row): Job => ({
  ...r,
  footageId: footage_id,
  takeId: take_id,
  params: JSON.parse(r.params) as Job['params'],
  result: r.result ? (JSON.parse(r.result) as Job['result']) : null,
});

/** Those added in the same millisecond keep the order in which they came. */
const IN_TURN = ['priority', 'turn', 'rowid'];

/** What jobs are looked for: all that have these. */
export interface JobsLike {
  kind?: JobKindName;
  footageId?: string;
  takeId?: string;
}

const like = ({ kind, footageId, takeId }: JobsLike) => {
  const wanted = { kind, footage_id: footageId, take_id: takeId };
  return Object.fromEntries(Object.entries(wanted).filter(([, v]) => v !== undefined));
};

/** How many jobs a page shows at most. */
export const SHOWN = 200;

/** Rows of jobs without the take's document that an export keeps: a list has no use for it, and it can be long. */
const listed = () => db<Row>('jobs').select('jobs.*', db.raw("json_remove(params, '$.take') as params"));

/** Jobs, the newest first; without the documents of exported takes. `before`: only those that were added before a time. */
export const jobsOf = async (wanted: JobsLike, most = SHOWN, before = Infinity): Promise<Job[]> => {
  const rows = listed().where(like(wanted)).orderBy('created', 'desc').limit(most);
  return (await (Number.isFinite(before) ? rows.where('created', '<', before) : rows)).map(fromRow);
};

/** The newest job of that sort; null if there never was one. */
export const lastJob = async (wanted: JobsLike): Promise<Job | null> => (await jobsOf(wanted, 1))[0] ?? null;

/** Every job of a kind that there ever was; without the documents of exported takes. */
export const allJobs = async (kind: JobKindName): Promise<Job[]> => (await listed().where({ kind })).map(fromRow);

/** Work that the Library tells of: what waits, runs or failed, but not what waits for an idle moment. */
export const workForLibrary = async (): Promise<Job[]> =>
  (
    await db<Row>('jobs')
      .whereIn('kind', ['copy', 'motion', 'examine', 'sketch'])
      .whereIn('state', ['queued', 'running', 'failed'])
      .whereNot((q) => void q.where('priority', '>=', WHEN_IDLE).andWhere({ state: 'queued' }))
      .orderBy('created', 'desc')
      .limit(SHOWN)
  ).map(fromRow);

export async function findJob(id: string): Promise<Job | null> {
  const row = await db<Row>('jobs').where({ id }).first();
  return row ? fromRow(row) : null;
}

/** Jobs that wait or run, of one footage or of all. */
export async function unfinishedJobs(footageId?: string): Promise<Job[]> {
  const rows = db<Row>('jobs').where(like({ footageId })).whereIn('state', ['queued', 'running']).orderBy('created');
  return (await rows).map(fromRow);
}

/** Takes the first job that waits, of the given kinds, for a worker until a time in milliseconds; null if there is none. */
export const claimJob = (kinds: readonly JobKindName[], worker: string, until: number): Promise<Job | null> =>
  db.transaction(async (trx) => {
    const row = await trx<Row>('jobs').where({ state: 'queued' }).whereIn('kind', kinds).orderBy(IN_TURN).first();
    if (!row) return null;
    const change = { state: 'running' as const, progress: 0, started: Date.now(), attempts: row.attempts + 1 };
    await trx<Row>('jobs')
      .where({ id: row.id })
      .update({ ...change, claimed_by: worker, lease_until: until, wish: null });
    return fromRow({ ...row, ...change });
  });

/** Says that a worker goes on with its jobs until a time. */
export const renewLeases = (worker: string, until: number) =>
  db<Row>('jobs').where({ state: 'running', claimed_by: worker }).update({ lease_until: until });

/** Running jobs whose worker has not spoken in time, or is known to be gone. */
export async function abandonedJobs(now: number, gone: (worker: string) => boolean): Promise<Job[]> {
  const rows = await db<Row>('jobs').where({ state: 'running' });
  return rows.filter((r) => !r.claimed_by || (r.lease_until ?? 0) < now || gone(r.claimed_by)).map(fromRow);
}

export type NewJob = Pick<Job, 'kind' | 'params' | 'footageId' | 'takeId'> & { priority?: number };

export async function addJob({ kind, params, footageId, takeId, priority = 0 }: NewJob): Promise<string> {
  const id = randomUUID();
  const created = Date.now();
  await db('jobs').insert({
    id,
    kind,
    state: 'queued',
    params: JSON.stringify(params),
    footage_id: footageId,
    take_id: takeId,
    priority,
    created,
    turn: created,
  });
  return id;
}

export const updateJob = (
  id: string,
  change: Partial<Pick<Job, 'state' | 'progress' | 'error' | 'started' | 'ended' | 'attempts'>> & { result?: string },
) => db('jobs').where({ id }).update(change);

/** Changes a running job, if it is still the worker's who claimed it; gives whether it was. */
export const updateClaimed = async (id: string, worker: string, change: Parameters<typeof updateJob>[1]) =>
  (await db<Row>('jobs').where({ id, state: 'running', claimed_by: worker }).update(change)) > 0;

/** The ids of jobs of a kind that wait, in the order in which they are begun. */
export const waitingInOrder = async (kind: JobKindName): Promise<string[]> =>
  (await db<Row>('jobs').where({ kind, state: 'queued' }).orderBy(IN_TURN).pluck('id')) as string[];

/** Puts a job that waits before all others that wait and are as urgent. */
export const moveAhead = (id: string) =>
  db.transaction(async (trx) => {
    const row = await trx<Row>('jobs').where({ id, state: 'queued' }).first();
    if (!row) return;
    const others = trx<Row>('jobs').where({ state: 'queued', priority: row.priority }).whereNot({ id });
    const [found] = (await others.min('turn as first')) as { first: number | null }[];
    if (found?.first != null)
      await trx<Row>('jobs')
        .where({ id })
        .update({ turn: found.first - 1 });
  });

/** Wishes that a running job be cancelled, whoever does it. */
export const wishCancelled = (id: string) => db<Row>('jobs').where({ id, state: 'running' }).update({ wish: 'cancel' });

/** The running jobs of a worker that somebody wants cancelled. */
export const cancelledOf = async (worker: string): Promise<string[]> =>
  (await db<Row>('jobs').where({ state: 'running', claimed_by: worker, wish: 'cancel' }).pluck('id')) as string[];

/** The latest job of a kind for each footage. */
export async function latestJobs(kind: JobKindName): Promise<Job[]> {
  const newest = db('jobs')
    .where({ kind })
    .whereNotNull('footage_id')
    .groupBy('footage_id')
    .max('created as created')
    .select('footage_id');
  const rows = await db<Row>('jobs')
    .where({ kind })
    .join(newest.as('n'), (j) => j.on('n.footage_id', 'jobs.footage_id').andOn('n.created', 'jobs.created'))
    .select('jobs.*');
  return (rows as Row[]).map(fromRow);
}

export const deleteJob = (id: string) => db('jobs').where({ id }).delete();
