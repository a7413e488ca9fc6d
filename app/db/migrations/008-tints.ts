import type { Knex } from 'knex';

/** In which colour a subject is drawn. */
export async function up(knex: Knex) {
  await knex.schema.alterTable('subjects', (t) => void t.string('tint').notNullable().defaultTo('plum'));
}

export async function down(knex: Knex) {
  await knex.schema.alterTable('subjects', (t) => void t.dropColumn('tint'));
}
