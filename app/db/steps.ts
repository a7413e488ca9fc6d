/**
 * Histories of documents: one step a row, each whole or as what makes it of the one before, so that what an edit writes is
 * about as large as the edit. A document of a kind is a row of one table, with its steps in another.
 */
import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { DocumentError } from '@glimbo/core/boundary/document-error';
import { stepsFrom, type Change } from '@glimbo/core/document/change';
import { HISTORY_LIMIT, HISTORY_SLACK, type History } from '@glimbo/core/document/history';
import { isWhole, patchOf, whole, type Patch } from '@glimbo/core/document/patch';
import type { Save } from '@glimbo/core/document/validate-save';
import { db } from './database';

interface Owner {
  id: string;
  revision: number;
  /** The present step. */
  at: number;
  last_save: string | null;
  deleted: number | null;
}

interface StepRow {
  position: number;
  /** The document as JSON, or a patch. */
  document: string;
  whole: number;
}

/** What became of a save: it is there now (or was already), another one was there first, or the document is deleted or gone. */
export type Saved = { revision: number } | { stale: number; lastSave: string | null } | 'deleted' | 'gone';

const patchIn = ({ whole: isAll, document }: StepRow): Patch =>
  isAll ? whole(JSON.parse(document) as object) : (JSON.parse(document) as Patch);

/** The histories of the documents in the table `owners`, with their steps in the table `steps` under `key`. */
export function historiesIn<T extends object>(owners: string, steps: string, key: string) {
  const rows = (trx: Knex | Knex.Transaction, id: string) => trx<StepRow>(steps).where({ [key]: id });

  /** The rows that one step is made of: the last whole one up to it, and all from there. */
  async function chain(trx: Knex | Knex.Transaction, id: string, position: number): Promise<StepRow[]> {
    const start = rows(trx, id).where({ whole: 1 }).where('position', '<=', position).max('position');
    return (await rows(trx, id)
      .where('position', '<=', position)
      .where('position', '>=', start as never)
      .orderBy('position')
      .select()) as StepRow[];
  }

  const stepOf = (found: readonly StepRow[]): T | null => stepsFrom<T>(null, found.map(patchIn)).at(-1) ?? null;

  async function insert(trx: Knex.Transaction, id: string, position: number, patch: Patch, step: T, since: number) {
    const document = JSON.stringify(step);
    const change = JSON.stringify(patch);
    // A whole one now and then keeps chains short; on the whole no more is written than twice what was changed.
    const all = isWhole(patch) || since + change.length > document.length;
    await trx(steps).insert({ [key]: id, position, document: all ? document : change, whole: all });
    return all ? 0 : since + change.length;
  }

  const lengthOf = (found: readonly StepRow[]) => found.slice(1).reduce((sum, r) => sum + r.document.length, 0);

  const ends = async (trx: Knex | Knex.Transaction, id: string) =>
    (await rows(trx, id).min({ oldest: 'position' }).max({ newest: 'position' }).first()) as {
      oldest: number;
      newest: number;
    };

  /** Writes a change down; each new step has passed `judge`, which throws. */
  async function apply(trx: Knex.Transaction, id: string, { first, keep, patches }: Change, judge: (step: T) => void) {
    const { oldest, newest } = await ends(trx, id);
    if (first < oldest || keep > newest + 1 || (keep > first && first > newest))
      throw new DocumentError('it counts on steps that are not there');
    const before = keep > first ? await chain(trx, id, keep - 1) : [];
    const made = stepsFrom(stepOf(before), patches);
    made.forEach(judge);
    if (first > oldest && keep > first) {
      // What comes first now goes on from nothing.
      const document = JSON.stringify(stepOf(await chain(trx, id, first)));
      await rows(trx, id).where({ position: first }).update({ document, whole: 1 });
    }
    await rows(trx, id).where('position', '<', first).delete();
    await rows(trx, id).where('position', '>=', keep).delete();
    let since = lengthOf(before);
    for (const [i, step] of made.entries()) since = await insert(trx, id, keep + i, patches[i]!, step, since);
  }

  /** Applies a change that is known to fit the row's revision. */
  async function written(trx: Knex.Transaction, row: Owner, save: string, change: Change, judge: (step: T) => void) {
    await apply(trx, row.id, change, judge);
    const revision = row.revision + 1;
    await trx(owners).where({ id: row.id }).update({ revision, last_save: save, at: change.at, changed: Date.now() });
    return { revision };
  }

  return {
    /** The present document; null if there is none. */
    async present(id: string): Promise<T | null> {
      const owner = await db<Owner>(owners).where({ id }).first('at');
      return owner ? stepOf(await chain(db, id, owner.at)) : null;
    },

    /** The whole history; null if there is none. */
    async find(id: string): Promise<History<T> | null> {
      const owner = await db<Owner>(owners).where({ id }).first('at');
      const found = (await rows(db, id).orderBy('position').select()) as StepRow[];
      if (!owner || !found.length) return null;
      const first = found[0]!.position;
      const made = stepsFrom<T>(null, found.map(patchIn));
      return { first, steps: made, at: Math.max(0, Math.min(made.length - 1, owner.at - first)) };
    },

    /** Enters the history of a document that is being added; its row has `at` as its present step. */
    async add(trx: Knex.Transaction, id: string, { first, steps: list }: History<T>) {
      let since = 0;
      for (const [i, step] of list.entries())
        since = await insert(trx, id, first + i, i ? patchOf(list[i - 1]!, step) : whole(step), step, since);
    },

    /** Applies a save if nobody else saved since. Throws what `judge` throws, and DocumentError when the save does not fit. */
    save(id: string, { id: save, revision, change }: Save, judge: (step: T) => void = () => {}): Promise<Saved> {
      return db.transaction(async (trx): Promise<Saved> => {
        const row = await trx<Owner>(owners).where({ id }).first();
        if (!row) return 'gone';
        if (row.last_save === save) return { revision: row.revision };
        if (row.deleted !== null) return 'deleted';
        if (row.revision !== revision) return { stale: row.revision, lastSave: row.last_save };
        return written(trx, row, save, change, judge);
      });
    },

    /** Puts a document on top of whatever is there now: one step of undo. Throws what `judge` throws. */
    put(id: string, document: T, judge: (step: T) => void = () => {}): Promise<Saved> {
      return db.transaction(async (trx): Promise<Saved> => {
        const row = await trx<Owner>(owners).where({ id }).first();
        if (!row) return 'gone';
        if (row.deleted !== null) return 'deleted';
        const { oldest } = await ends(trx, id);
        const [at, now] = [row.at + 1, stepOf(await chain(trx, id, row.at))];
        const first = at - oldest < HISTORY_LIMIT + HISTORY_SLACK ? oldest : at + 1 - HISTORY_LIMIT;
        const patches = [now ? patchOf(now, document) : whole(document)];
        return written(trx, row, randomUUID(), { first, keep: at, patches, at }, judge);
      });
    },
  };
}
