/** Projects and takes. A take's undo steps are kept one a row, so that undo reaches back across a reload. */
import { randomUUID } from 'node:crypto';
import { HISTORY_LIMIT, type History } from '@glimbo/core/take/history';
import type { Take } from '@glimbo/core/take/take';
import { db } from './database';
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

/** Whether a footage has a take, by how its name begins, that was changed since a time (milliseconds since 1970). */
export const hasTakeSince = async (footageId: string, name: string, since: number): Promise<boolean> =>
  !!(await db('takes')
    .where({ footage_id: footageId })
    .where('name', 'like', `${name}%`)
    .where('changed', '>=', since)
    .first());

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

export async function findTake(id: string): Promise<{ record: TakeRecord; history: History<Take> } | null> {
  const [row] = await withProject().where({ 'takes.id': id });
  if (!row) return null;
  const steps = await db<{ take_id: string; position: number; document: string }>('take_steps')
    .where({ take_id: id })
    .orderBy('position');
  const at = steps.findIndex((s) => s.position === row.at);
  return {
    record: fromRow(row),
    history: { steps: steps.map((s) => JSON.parse(s.document) as Take), at: Math.max(0, at) },
  };
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
}): Promise<string> {
  const id = randomUUID();
  const { steps, at } = t.history ?? { steps: [t.document], at: 0 };
  await db.transaction(async (trx) => {
    await trx('takes').insert({
      id,
      project_id: t.projectId,
      footage_id: t.footageId,
      name: t.name,
      revision: 1,
      at,
      changed: Date.now(),
    });
    for (const [position, step] of steps.entries())
      await trx('take_steps').insert({ take_id: id, position, document: JSON.stringify(step) });
  });
  return id;
}

/** What a tab wants kept: the steps after `keep`, and which step is the present one (counted from the history's first). */
export interface Save {
  /** The save's own identity: one that comes again, since its answer was lost, is known. */
  id: string;
  /** The revision that the tab has. */
  revision: number;
  keep: number;
  steps: Take[];
  at: number;
}

/** What became of a save: it is there now (or was already), another one was there first, or the take is deleted or gone. */
export type Saved = { revision: number } | { stale: number; lastSave: string | null } | 'deleted' | 'gone';

/** Applies a save if nobody else saved since. */
export function saveTake(id: string, save: Save): Promise<Saved> {
  return db.transaction(async (trx): Promise<Saved> => {
    const row = await trx<Row>('takes').where({ id }).first();
    if (!row) return 'gone';
    if (row.last_save === save.id) return { revision: row.revision };
    if (row.deleted !== null) return 'deleted';
    if (row.revision !== save.revision) return { stale: row.revision, lastSave: row.last_save };
    const positions = (await trx('take_steps')
      .where({ take_id: id })
      .orderBy('position')
      .pluck('position')) as number[];
    const kept = positions.slice(0, save.keep);
    if (positions.length > save.keep)
      await trx('take_steps').where({ take_id: id }).whereIn('position', positions.slice(save.keep)).delete();
    const next = (kept.at(-1) ?? -1) + 1;
    for (const [i, step] of save.steps.entries())
      await trx('take_steps').insert({ take_id: id, position: next + i, document: JSON.stringify(step) });
    const all = [...kept, ...save.steps.map((_, i) => next + i)];
    const present = all[save.at] ?? all.at(-1)!;
    // What is undone to is never dropped, however many steps there are.
    const dropped = all.slice(0, Math.max(0, all.length - HISTORY_LIMIT)).filter((p) => p !== present);
    if (dropped.length) await trx('take_steps').where({ take_id: id }).whereIn('position', dropped).delete();
    await trx('takes')
      .where({ id })
      .update({ revision: row.revision + 1, last_save: save.id, at: present, changed: Date.now() });
    return { revision: row.revision + 1 };
  });
}

export const renameTake = (id: string, name: string) => db('takes').where({ id }).update({ name });
