import type { Knex } from 'knex';
import { patchOf } from '@glimbo/core/document/patch';

interface Step {
  position: number;
  document: string;
}

/**
 * A step of a history is a document, or what makes it of the step before; steps are counted without gaps. Look-ups by footage,
 * take and kind have indexes. A take knows the job that made it, a running job that somebody wants it cancelled.
 */
export async function up(knex: Knex) {
  await knex.schema.alterTable('take_steps', (t) => void t.boolean('whole').notNullable().defaultTo(true));
  for (const { id, at } of await knex<{ id: string; at: number }>('takes').select('id', 'at')) {
    const steps = (await knex('take_steps').where({ take_id: id }).orderBy('position')) as Step[];
    let before: object | null = null;
    for (const [position, { position: older, document }] of steps.entries()) {
      const now = JSON.parse(document) as object;
      const patch: string | null = before && JSON.stringify(patchOf(before, now));
      const small = patch !== null && patch.length < document.length / 4;
      await knex('take_steps')
        .where({ take_id: id, position: older })
        .update({ position, ...(small ? { document: patch, whole: false } : {}) });
      before = now;
    }
    const present = Math.max(
      0,
      steps.findIndex((s) => s.position === at),
    );
    await knex('takes').where({ id }).update({ at: present });
  }
  await knex.schema.alterTable('takes', (t) => {
    t.index('footage_id');
    t.string('made_by');
  });
  await knex.schema.alterTable('subjects', (t) => void t.index('footage_id'));
  await knex.schema.alterTable('footage', (t) => void t.index('file'));
  await knex.schema.alterTable('jobs', (t) => {
    t.index(['kind', 'created']);
    t.index('footage_id');
    t.index('take_id');
    t.string('wish');
  });
}

export async function down(knex: Knex) {
  await knex.schema.alterTable('jobs', (t) => {
    t.dropIndex(['kind', 'created']);
    t.dropIndex('footage_id');
    t.dropIndex('take_id');
    t.dropColumn('wish');
  });
  await knex.schema.alterTable('footage', (t) => void t.dropIndex('file'));
  await knex.schema.alterTable('subjects', (t) => void t.dropIndex('footage_id'));
  await knex.schema.alterTable('takes', (t) => {
    t.dropIndex('footage_id');
    t.dropColumn('made_by');
  });
  // Older versions read whole documents alone: the present one is what they get.
  await knex('take_steps').where({ whole: false }).delete();
  await knex.schema.alterTable('take_steps', (t) => void t.dropColumn('whole'));
}
