import { randomUUID } from 'node:crypto';
import type { Gathered } from '@glimbo/media/gather';
import type { MediaFacts } from '@glimbo/media/probe';
import { db } from './database';

export interface Footage {
  id: string;
  name: string;
  /** The original, which is never written to. */
  file: string;
  /** Used where it lies, not copied into the data folder. */
  inPlace: boolean;
  variableRate: boolean;
  facts: MediaFacts;
  gathered: Gathered | null;
  created: number;
}

interface Row {
  id: string;
  name: string;
  file: string;
  in_place: number;
  variable_rate: number;
  facts: string;
  gathered: string | null;
  created: number;
}

const fromRow = (r: Row): Footage => ({
  id: r.id,
  name: r.name,
  file: r.file,
  inPlace: !!r.in_place,
  variableRate: !!r.variable_rate,
  facts: JSON.parse(r.facts) as MediaFacts,
  gathered: r.gathered ? (JSON.parse(r.gathered) as Gathered) : null,
  created: r.created,
});

export const listFootage = async () => (await db<Row>('footage').orderBy('created')).map(fromRow);

export async function findFootage(id: string): Promise<Footage | null> {
  const row = await db<Row>('footage').where({ id }).first();
  return row ? fromRow(row) : null;
}

export async function findFootageByFile(file: string): Promise<Footage | null> {
  const row = await db<Row>('footage').where({ file }).first();
  return row ? fromRow(row) : null;
}

export async function addFootage(
  f: Pick<Footage, 'name' | 'file' | 'inPlace' | 'variableRate' | 'facts'>,
): Promise<string> {
  const id = randomUUID();
  await db('footage').insert({
    id,
    name: f.name,
    file: f.file,
    in_place: f.inPlace,
    variable_rate: f.variableRate,
    facts: JSON.stringify(f.facts),
    created: Date.now(),
  });
  return id;
}

export const setGathered = (id: string, gathered: Gathered) =>
  db('footage')
    .where({ id })
    .update({ gathered: JSON.stringify(gathered) });
