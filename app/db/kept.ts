/** Moves, lenses and curves of one's own. */
import { randomUUID } from 'node:crypto';
import { readKept, type Kept } from '@glimbo/core/moves/kept';
import type { KeptItem } from '~/model/kept';
import { db } from './database';

interface Row {
  id: string;
  document: string;
  created: number;
}

/** How many there may be: a list that nobody finds anything in helps nobody. */
export const MOST_KEPT = 500;

export async function listKept(): Promise<KeptItem[]> {
  const rows = await db<Row>('kept').orderBy('created');
  return rows.map(({ id, document }) => ({ id, document: readKept(JSON.parse(document)) }));
}

/** Keeps a document; one with the same id takes its place. Gives its id, or null when there are too many. */
export async function keep(document: Kept, id: string = randomUUID()): Promise<string | null> {
  const [{ count }] = (await db('kept').whereNot({ id }).count({ count: '*' })) as [{ count: number }];
  if (Number(count) >= MOST_KEPT) return null;
  const row = { id, document: JSON.stringify(document), created: Date.now() };
  await db('kept').insert(row).onConflict('id').merge(['document']);
  return id;
}

export const forget = (id: string) => db('kept').where({ id }).delete();
