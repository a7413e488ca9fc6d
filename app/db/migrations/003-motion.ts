import type { Knex } from 'knex';

/** Footage keeps its motion analysis. */
export const up = (knex: Knex) =>
  knex.schema.alterTable('footage', (t) => {
    t.json('motion');
  });

export const down = (knex: Knex) => knex.schema.alterTable('footage', (t) => t.dropColumn('motion'));
