import { randomUUID } from 'node:crypto';
import { db } from './database';

export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

export interface Job {
  id: string;
  kind: 'gather' | 'export' | 'copy' | 'motion';
  state: JobState;
  /** Share done, 0…1. */
  progress: number;
  attempts: number;
  error: string | null;
  params: Record<string, unknown>;
  result: Record<string, unknown> | null;
  footageId: string | null;
  takeId: string | null;
  created: number;
  started: number | null;
  ended: number | null;
}

interface Row extends Omit<Job, 'params' | 'result' | 'footageId' | 'takeId'> {
  params: string;
  result: string | null;
  footage_id: string | null;
  take_id: string | null;
}

const fromRow = ({ footage_id, take_id, ...r }: Row): Job => ({
  ...r,
  footageId: footage_id,
  takeId: take_id,
  params: JSON.parse(r.params) as Job['params'],
  result: r.result ? (JSON.parse(r.result) as Job['result']) : null,
});

export const listJobs = async () => (await db<Row>('jobs').orderBy('created', 'desc').limit(500)).map(fromRow);

export async function findJob(id: string): Promise<Job | null> {
  const row = await db<Row>('jobs').where({ id }).first();
  return row ? fromRow(row) : null;
}

/** The oldest job that waits, of the given kinds. */
export async function nextQueued(kinds: readonly Job['kind'][]): Promise<Job | null> {
  const row = await db<Row>('jobs').where({ state: 'queued' }).whereIn('kind', kinds).orderBy('created').first();
  return row ? fromRow(row) : null;
}

export async function addJob(job: Pick<Job, 'kind' | 'params' | 'footageId' | 'takeId'>): Promise<string> {
  const id = randomUUID();
  await db('jobs').insert({
    id,
    kind: job.kind,
    state: 'queued',
    params: JSON.stringify(job.params),
    footage_id: job.footageId,
    take_id: job.takeId,
    created: Date.now(),
  });
  return id;
}

export const updateJob = (
  id: string,
  change: Partial<Pick<Job, 'state' | 'progress' | 'error' | 'started' | 'ended' | 'attempts'>> & { result?: string },
) => db('jobs').where({ id }).update(change);
/** The latest job of a kind for each footage. */
export async function latestJobs(kind: Job['kind']): Promise<Job[]> {
  const newest = db('jobs').where({ kind }).whereNotNull('footage_id').groupBy('footage_id').max('created as created').select('footage_id'); // prettier-ignore
  const rows = await db<Row>('jobs').where({ kind }).join(newest.as('n'), (j) => j.on('n.footage_id', 'jobs.footage_id').andOn('n.created', 'jobs.created')).select('jobs.*'); // prettier-ignore
  return (rows as Row[]).map(fromRow);
}

export const deleteJob = (id: string) => db('jobs').where({ id }).delete();
export const runningJobs = async () => (await db<Row>('jobs').where({ state: 'running' })).map(fromRow);
