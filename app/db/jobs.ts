import { randomUUID } from 'node:crypto';
import { db } from './database';

export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

export interface Job {
  id: string;
  kind: 'gather' | 'export';
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

export async function nextQueued(): Promise<Job | null> {
  const row = await db<Row>('jobs').where({ state: 'queued' }).orderBy('created').first();
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
export const deleteJob = (id: string) => db('jobs').where({ id }).delete();
export const runningJobs = async () => (await db<Row>('jobs').where({ state: 'running' })).map(fromRow);
