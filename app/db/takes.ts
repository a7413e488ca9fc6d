/** Projects and takes. A take's undo steps are kept one a row, so that undo reaches back across a reload. */
import { randomUUID } from 'node:crypto';
import { HISTORY_LIMIT, type History } from '@glimbo/core/take/history';
import type { Take } from '@glimbo/core/take/take';
import { db } from './database';

export interface TakeRecord {
  id: string;
  projectId: string;
  projectName: string;
  footageId: string;
  name: string;
  revision: number;
  changed: number;
}

interface Row {
  id: string;
  project_id: string;
  project_name: string;
  footage_id: string;
  name: string;
  revision: number;
  at: number;
  changed: number;
}

const fromRow = (r: Row): TakeRecord => ({
  id: r.id,
  projectId: r.project_id,
  projectName: r.project_name,
  footageId: r.footage_id,
  name: r.name,
  revision: r.revision,
  changed: r.changed,
});

const withProject = () =>
  db('takes').join('projects', 'projects.id', 'takes.project_id').select('takes.*', 'projects.name as project_name') as unknown as Promise<Row[]> & {
    where(w: object): Promise<Row[]>;
    orderBy(c: string): Promise<Row[]>;
  }; // prettier-ignore

/** All takes that were not deleted, the last changed first. */
export const listTakes = async () =>
  (await withProject().where({ 'takes.deleted': null })).map(fromRow).sort((a, b) => b.changed - a.changed);

/** Takes one out of sight, or brings it back. */
export const setTakeDeleted = (id: string, deleted: number | null) => db('takes').where({ id }).update({ deleted });
/** Forgets takes that were deleted before a time (milliseconds since 1970). */
export const purgeTakes = (before: number) => db('takes').where('deleted', '<', before).delete();
export const listProjects = () => db<{ id: string; name: string; created: number }>('projects').orderBy('created');

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
}): Promise<string> {
  const id = randomUUID();
  await db.transaction(async (trx) => {
    await trx('takes').insert({
      id,
      project_id: t.projectId,
      footage_id: t.footageId,
      name: t.name,
      revision: 1,
      at: 0,
      changed: Date.now(),
    });
    await trx('take_steps').insert({ take_id: id, position: 0, document: JSON.stringify(t.document) });
  });
  return id;
}

/** What a tab wants kept: the steps after `keep`, and which step is the present one (counted from the history's first). */
export interface Save {
  revision: number;
  keep: number;
  steps: Take[];
  at: number;
}

/** Applies a save if nobody else saved since; gives the new revision, or null when the tab was stale. */
export function saveTake(id: string, save: Save): Promise<number | null> {
  return db.transaction(async (trx) => {
    const row = await trx<Row>('takes').where({ id }).first();
    if (!row || row.revision !== save.revision) return null;
    const positions = (await trx('take_steps')
      .where({ take_id: id })
      .orderBy('position')
      .pluck('position')) as number[];
    const kept = positions.slice(0, save.keep);
    if (positions.length > save.keep)
      await trx('take_steps').where({ take_id: id }).whereIn('position', positions.slice(save.keep)).delete();
    const next = (kept.at(-1) ?? -1) + 1;
    for (const [i, step] of save.steps.entries()) {
      await trx('take_steps').insert({ take_id: id, position: next + i, document: JSON.stringify(step) });
    }
    const all = [...kept, ...save.steps.map((_, i) => next + i)];
    const dropped = all.slice(0, Math.max(0, all.length - HISTORY_LIMIT));
    if (dropped.length) await trx('take_steps').where({ take_id: id }).whereIn('position', dropped).delete();
    await trx('takes')
      .where({ id })
      .update({ revision: row.revision + 1, at: all[save.at] ?? all.at(-1), changed: Date.now() });
    return row.revision + 1;
  });
}

export const renameTake = (id: string, name: string) => db('takes').where({ id }).update({ name });
