/** Subjects of footages. */
import { randomUUID } from 'node:crypto';
import type { FollowKey, FollowOrder } from '@glimbo/media/follow';
import { db } from './database';
import type { Subject, Tint } from '~/model/subject';

interface Row {
  id: string;
  footage_id: string;
  name: string;
  tint: Tint;
  order: string;
  seen: string | null;
  version: number;
  created: number;
  deleted: number | null;
}

export const orderOf = (row: Pick<Row, 'order'>) => JSON.parse(row.order) as FollowOrder;

/** The subjects of a footage; `seen`: what its picture is now. */
export const listSubjects = async (footageId: string, seen: string): Promise<Subject[]> =>
  (await db<Row>('subjects').where({ footage_id: footageId }).whereNull('deleted').orderBy('created')).map((r) => {
    const { keys = [], ...first } = orderOf(r);
    return {
      id: r.id,
      name: r.name,
      tint: r.tint,
      pointed: { frame: first.frame, direction: first.direction },
      keys: [first, ...keys].map((k) => k.frame).sort((a, b) => a - b),
      version: r.version,
      void: r.seen !== null && r.seen !== seen,
    };
  });

export const findSubject = (id: string) => db<Row>('subjects').where({ id }).first();

export async function addSubject(
  footageId: string,
  { name, tint }: Pick<Subject, 'name' | 'tint'>,
  order: FollowOrder,
): Promise<string> {
  const id = randomUUID();
  const row = { id, footage_id: footageId, name, tint, order: JSON.stringify(order), version: 0, created: Date.now() };
  await db('subjects').insert(row);
  return id;
}

export const changeSubject = (id: string, change: { name?: string; tint?: Tint; deleted?: number | null }) =>
  db('subjects').where({ id }).update(change);

/** Puts a subject right in a frame by hand; what was said of that frame before goes, and all that was where it was never found. */
export function correctSubject(row: Pick<Row, 'id' | 'order' | 'version'>, key: FollowKey) {
  const { keys = [], ...first } = orderOf(row);
  const order: FollowOrder =
    row.version === 0
      ? key
      : first.frame === key.frame
        ? { ...key, keys }
        : { ...first, keys: [...keys.filter((k) => k.frame !== key.frame), key] };
  return db('subjects')
    .where({ id: row.id })
    .update({ order: JSON.stringify(order) });
}

/** It was followed, in what the footage's picture was. */
export const followed = (id: string, seen: string) =>
  db('subjects')
    .where({ id })
    .update({ seen, version: db.raw('version + 1') });

/** Ids of all subjects, deleted or not. */
export const subjectIds = async (footageId?: string) =>
  (await db<Row>('subjects')
    .where(footageId ? { footage_id: footageId } : {})
    .pluck('id')) as string[];
