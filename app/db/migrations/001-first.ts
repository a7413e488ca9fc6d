import type { Knex } from 'knex';

export async function up(knex: Knex) {
  await knex.schema.createTable('footage', (t) => {
    t.string('id').primary();
    t.string('name').notNullable();
    t.string('file').notNullable();
    t.boolean('in_place').notNullable();
    t.boolean('variable_rate').notNullable().defaultTo(false);
    t.json('facts').notNullable();
    t.json('gathered');
    t.integer('created').notNullable();
  });
  await knex.schema.createTable('projects', (t) => {
    t.string('id').primary();
    t.string('name').notNullable();
    t.integer('created').notNullable();
  });
  await knex.schema.createTable('takes', (t) => {
    t.string('id').primary();
    t.string('project_id').notNullable().references('projects.id').onDelete('CASCADE');
    t.string('footage_id').notNullable().references('footage.id').onDelete('CASCADE');
    t.string('name').notNullable();
    t.integer('revision').notNullable();
    t.integer('at').notNullable();
    t.integer('changed').notNullable();
  });
  await knex.schema.createTable('take_steps', (t) => {
    t.string('take_id').notNullable().references('takes.id').onDelete('CASCADE');
    t.integer('position').notNullable();
    t.json('document').notNullable();
    t.primary(['take_id', 'position']);
  });
  await knex.schema.createTable('jobs', (t) => {
    t.string('id').primary();
    t.string('kind').notNullable();
    t.string('state').notNullable().index();
    t.float('progress').notNullable().defaultTo(0);
    t.integer('attempts').notNullable().defaultTo(0);
    t.string('error');
    t.json('params').notNullable();
    t.json('result');
    t.string('footage_id').references('footage.id').onDelete('CASCADE');
    t.string('take_id').references('takes.id').onDelete('SET NULL');
    t.integer('created').notNullable();
    t.integer('started');
    t.integer('ended');
  });
}

export async function down(knex: Knex) {
  for (const table of ['jobs', 'take_steps', 'takes', 'projects', 'footage'])
    await knex.schema.dropTableIfExists(table);
}
