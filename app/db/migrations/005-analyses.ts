import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';

interface Kept {
  file: string;
  method: string;
  sidecar: string | null;
  seen: string;
}

/** Analyses have a table of their own, since a footage can have several of several kinds. */
export async function up(knex: Knex) {
  await knex.schema.createTable('analyses', (t) => {
    t.string('id').primary();
    t.string('footage_id').notNullable().references('footage.id').onDelete('CASCADE').index();
    t.string('kind').notNullable();
    t.json('parameters').notNullable();
    t.string('file').notNullable();
    t.text('seen').notNullable();
    t.integer('created').notNullable();
  });
  for (const row of await knex<{ id: string; motion: string | null }>('footage').whereNotNull('motion')) {
    const { file, method, sidecar, seen } = JSON.parse(row.motion!) as Kept;
    await knex('analyses').insert({
      id: randomUUID(),
      footage_id: row.id,
      kind: 'motion',
      parameters: JSON.stringify({ method, sidecar }),
      file,
      seen,
      created: Date.now(),
    });
  }
  await knex.raw('ALTER TABLE footage DROP COLUMN motion');
}

export async function down(knex: Knex) {
  await knex.schema.alterTable('footage', (t) => t.json('motion'));
  for (const a of await knex('analyses').where({ kind: 'motion' }))
    await knex('footage')
      .where({ id: a.footage_id })
      .update({ motion: JSON.stringify({ ...JSON.parse(a.parameters), file: a.file, seen: a.seen }) });
  await knex.schema.dropTable('analyses');
}
