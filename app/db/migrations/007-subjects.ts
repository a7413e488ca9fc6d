import type { Knex } from 'knex';

/** What is followed in footages: pointed out by somebody, found frame by frame in a file. */
export async function up(knex: Knex) {
  await knex.schema.createTable('subjects', (t) => {
    t.string('id').primary();
    t.string('footage_id').notNullable().references('footage.id').onDelete('CASCADE');
    t.string('name').notNullable();
    // Frame, direction and size where it was pointed out.
    t.json('order').notNullable();
    // What the footage's picture was when it was followed; null as long as it was not.
    t.string('seen');
    t.integer('version').notNullable().defaultTo(0);
    t.integer('created').notNullable();
    t.integer('deleted');
  });
}

export async function down(knex: Knex) {
  await knex.schema.dropTable('subjects');
}
