import type { Knex } from 'knex';

/** Moves, lenses and curves that somebody keeps for later. */
export async function up(knex: Knex) {
  await knex.schema.createTable('kept', (t) => {
    t.string('id').primary();
    t.json('document').notNullable();
    t.integer('created').notNullable();
  });
}

export async function down(knex: Knex) {
  await knex.schema.dropTable('kept');
}
