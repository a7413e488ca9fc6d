import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';

type Listed = { id: string; marks: string | null; ranges: string | null; motion: string | null };
const OLDER: Record<string, string> = { points: 'quick', patches: 'thorough' };

/** Jobs are claimed for a while and wait behind others; saves are known again; marks and ranges have an identity; takes can be favourites. */
export async function up(knex: Knex) {
  await knex.schema.alterTable('jobs', (t) => {
    t.string('claimed_by');
    t.integer('lease_until');
    t.integer('priority').notNullable().defaultTo(0);
  });
  await knex.schema.alterTable('takes', (t) => {
    t.string('last_save');
    t.boolean('favourite').notNullable().defaultTo(false);
  });
  for (const row of await knex<Listed>('footage').select('id', 'marks', 'ranges', 'motion')) {
    const named = (json: string | null) =>
      json && JSON.stringify((JSON.parse(json) as object[]).map((m) => ({ id: randomUUID(), ...m })));
    const motion = row.motion ? (JSON.parse(row.motion) as { method: string }) : null;
    if (motion) motion.method = OLDER[motion.method] ?? motion.method;
    await knex<Listed>('footage')
      .where({ id: row.id })
      .update({ marks: named(row.marks), ranges: named(row.ranges), motion: motion && JSON.stringify(motion) });
  }
  for (const row of await knex<{ id: string; kind: string; params: string }>('jobs').where({ kind: 'motion' })) {
    const params = JSON.parse(row.params) as { method: string };
    params.method = OLDER[params.method] ?? params.method;
    await knex('jobs')
      .where({ id: row.id })
      .update({ params: JSON.stringify(params) });
  }
}

export async function down(knex: Knex) {
  await knex.schema.alterTable('takes', (t) => t.dropColumns('last_save', 'favourite'));
  await knex.schema.alterTable('jobs', (t) => t.dropColumns('claimed_by', 'lease_until', 'priority'));
}
