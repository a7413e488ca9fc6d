import type { Knex } from 'knex';

/** Footage learns what its picture shows and what people say about it; cameras' calibrations and settings are kept. */
export async function up(knex: Knex) {
  await knex.schema.alterTable('footage', (t) => {
    t.string('second_file');
    t.json('source');
    t.json('source_before');
    t.string('fingerprint').index();
    t.boolean('favourite').notNullable().defaultTo(false);
    t.json('tags');
    t.text('notes');
    t.json('marks');
    t.json('ranges');
    t.integer('version').notNullable().defaultTo(0);
    t.integer('deleted');
  });
  await knex.schema.alterTable('takes', (t) => {
    t.integer('deleted');
  });
  await knex.schema.createTable('calibrations', (t) => {
    t.string('camera').primary();
    t.json('lenses').notNullable();
    t.string('footage_name').notNullable();
    t.integer('changed').notNullable();
  });
  await knex.schema.createTable('settings', (t) => {
    t.string('name').primary();
    t.json('value').notNullable();
  });
}

export async function down(knex: Knex) {
  await knex.schema.dropTableIfExists('settings');
  await knex.schema.dropTableIfExists('calibrations');
  await knex.schema.alterTable('takes', (t) => t.dropColumn('deleted'));
  await knex.schema.alterTable('footage', (t) => {
    for (const column of [
      'second_file',
      'source',
      'source_before',
      'fingerprint',
      'favourite',
      'tags',
      'notes',
      'marks',
      'ranges',
      'version',
      'deleted',
    ])
      // prettier-ignore
      t.dropColumn(column);
  });
}
