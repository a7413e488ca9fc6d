/** Projects and takes. A take's undo steps are kept one a row, so that undo reaches back across a reload. */
import { randomUUID } from 'node:crypto';
import { startHistory, type History } from '@glimbo/core/document/history';
import type { Take } from '@glimbo/core/take/take';
import { db } from './database';
import { historiesIn } from './steps';
import type { TakeRecord } from '~/model/take';

interface Row {
  id: string;
  project_id: string;
  project_name: string;
  footage_id: string;
  name: string;
  revision: number;
  at: number;
  changed: number;
  favourite: number;
  last_save: string | null;
  deleted: number | null;
}

const histories = historiesIn<Take>('takes', 'take_steps', 'take_id');

const fromRow = (r: Row): TakeRecord => ({
  id: r.id,
  projectId: r.project_id,
  projectName: r.project_name,
  footageId: r.footage_id,
  name: r.name,
  revision: r.revision,
  changed: r.changed,
  favourite: !!r.favourite,
  lastSave: r.last_save,
  deleted: r.deleted !== null,
});

const withProject = () =>
  db('takes')
    .join('projects', 'projects.id', 'takes.project_id')
    .select('takes.*', 'projects.name as project_name') as unknown as Promise<Row[]> & {
    where(w: object): Promise<Row[]>;
    orderBy(c: string): Promise<Row[]>;
  };

/** All takes that were not deleted, the last changed first. */
export const listTakes = async () =>
  (await withProject().where({ 'takes.deleted': null })).map(fromRow).sort((a, b) => b.changed - a.changed);

/** Every take there is, deleted or not. */
export const listAllTakes = () => db<{ id: string; revision: number }>('takes').select('id', 'revision');

/** The names of all takes of a footage, deleted or not. */
export const takeNames = async (footageId: string) =>
  (await db('takes').where({ footage_id: footageId }).pluck('name')) as string[];

/** Whether a job has made a take of a footage. */
export const hasTakeBy = async (footageId: string, job: string): Promise<boolean> =>
  !!(await db('takes').where({ footage_id: footageId, made_by: job }).first('id'));

export const setTakeFavourite = (id: string, favourite: boolean) => db('takes').where({ id }).update({ favourite });

/** Takes one out of sight, or brings it back. */
export const setTakeDeleted = (id: string, deleted: number | null) => db('takes').where({ id }).update({ deleted });
/** Ids of the takes that were deleted before a time (milliseconds since 1970). */
export const deletedTakes = async (before: number) =>
  (await db('takes').where('deleted', '<', before).pluck('id')) as string[];
/** Forgets takes, if they are deleted. */
export const purgeTakes = (ids: readonly string[]) => db('takes').whereIn('id', ids).whereNotNull('deleted').delete();

export const listProjects = () => db<{ id: string; name: string; created: number }>('projects').orderBy('created');

/** A take without its history; null if there is none. */
export async function findTakeRecord(id: string): Promise<TakeRecord | null> {
  const [row] = await withProject().where({ 'takes.id': id });
  return row ? fromRow(row) : null;
}

/** A take with its history; null if there is none. */
export async function findTake(id: string): Promise<{ record: TakeRecord; history: History<Take> } | null> {
  const [record, history] = await Promise.all([findTakeRecord(id), histories.find(id)]);
  return record && history && { record, history };
}

/** A take as it is now, without its history; null if there is none. */
export async function presentTake(id: string): Promise<{ record: TakeRecord; take: Take } | null> {
  const [record, take] = await Promise.all([findTakeRecord(id), histories.present(id)]);
  return record && take && { record, take };
}

export async function projectNamed(name: string): Promise<string> {
  const found = await db<{ id: string; name: string }>('projects').where({ name }).first();
  if (found) return found.id;
  const id = randomUUID();
  await db('projects').insert({ id, name, created: Date.now() });
  return id;
}

export async function addTake(t: {
  projectId: string;
  footageId: string;
  name: string;
  document: Take;
  /** The whole history, if there is more of it than the document. */
  history?: History<Take>;
  /** The job that makes it. */
  madeBy?: string;
}): Promise<string> {
  const id = randomUUID();
  const history = t.history ?? startHistory(t.document);
  await db.transaction(async (trx) => {
    await trx('takes').insert({
      id,
      project_id: t.projectId,
      footage_id: t.footageId,
      name: t.name,
      revision: 1,
      at: history.first + history.at,
      changed: Date.now(),
      made_by: t.madeBy ?? null,
    });
    await histories.add(trx, id, history);
  });
  return id;
}

/** Applies a save if nobody else saved since; each new step has passed `judge`, which throws. */
export const saveTake = histories.save;

/** Puts a document on top of whatever a take is now: one step of undo. */
export const putOnTop = histories.put;

export const renameTake = (id: string, name: string) => db('takes').where({ id }).update({ name });
