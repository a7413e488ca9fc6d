import { basename } from 'node:path';
import type { Knex } from 'knex';

/**
 * Originals in the data folder are named by their names, wherever that folder lies; those used in place keep their paths. Jobs
 * that wait have an order of their own.
 */
export async function up(knex: Knex) {
  const copied = (await knex('footage').where({ in_place: false }).select('id', 'file', 'second_file')) as {
    id: string;
    file: string;
    second_file: string | null;
  }[];
  for (const { id, file, second_file } of copied)
    await knex('footage')
      .where({ id })
      .update({ file: basename(file), second_file: second_file && basename(second_file) });
  await knex.schema.alterTable('jobs', (t) => {
    t.double('turn').notNullable().defaultTo(0);
    t.index(['state', 'priority', 'turn']);
  });
  await knex('jobs').update({ turn: knex.ref('created') });
}

/** Names of originals stay: an older version reports those as missing, and finds them again by their content. */
export async function down(knex: Knex) {
  await knex.schema.alterTable('jobs', (t) => {
    t.dropIndex(['state', 'priority', 'turn']);
    t.dropColumn('turn');
  });
}
