/** Since when what was deleted has been found due to be forgotten, by its id; milliseconds since 1970. */
import { db } from './database';

const NAME = 'due';

export async function readDue(): Promise<Record<string, number>> {
  const row = await db<{ name: string; value: string }>('settings').where({ name: NAME }).first();
  return row ? (JSON.parse(row.value) as Record<string, number>) : {};
}

export const writeDue = (due: Record<string, number>) =>
  db('settings')
    .insert({ name: NAME, value: JSON.stringify(due) })
    .onConflict('name')
    .merge();
