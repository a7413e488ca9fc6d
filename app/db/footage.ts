import { randomUUID } from 'node:crypto';
import { basename, dirname, isAbsolute } from 'node:path';
import type { Placed } from '@glimbo/cli/place';
import { remarked, type Mark, type Range, type RemarkChange } from '@glimbo/core/gather/remarks';
import { sphereWidth, type Source } from '@glimbo/core/stitch/source';
import type { Take } from '@glimbo/core/take/take';
import type { Gathered } from '@glimbo/media/gather';
import type { MediaFacts } from '@glimbo/media/probe';
import type { Recording } from '@glimbo/media/recording';
import { layout, onDisk, placeOf } from '~/base/layout';
import { analysisColumn, seenAs, type Parameters } from './analyses';
import { db } from './database';
import type { Footage, Makings, MotionState } from '~/model/footage';

interface Row {
  id: string;
  name: string;
  /** An original of ours by its name among them; one that is used in place by its path. */
  file: string;
  second_file: string | null;
  in_place: number;
  variable_rate: number;
  facts: string;
  gathered: string | null;
  source: string | null;
  source_before: string | null;
  fingerprint: string | null;
  favourite: number;
  tags: string | null;
  notes: string | null;
  marks: string | null;
  ranges: string | null;
  motion: string | null;
  version: number;
  created: number;
  deleted: number | null;
}

const pathOf = (kept: string) => (isAbsolute(kept) ? kept : onDisk(layout.original(kept)));
/** How an original is written down, so that its data folder may lie somewhere else tomorrow. */
const keptAs = (path: string) => {
  const { root, path: name } = placeOf(path);
  return root === 'originals' ? name : path;
};

const parsed = <T>(json: string | null | undefined, fallback: T): T => (json ? (JSON.parse(json) as T) : fallback);
const WHOLE: Source = { kind: 'sphere' };

/** Everything; of the source all but its track, which can be long. */
const COLUMNS = [
  'id', 'name', 'file', 'second_file', 'in_place', 'variable_rate', 'facts', 'gathered', 'fingerprint', 'favourite', 'tags',
  'notes', 'marks', 'ranges', 'version', 'created', 'deleted',
]; // prettier-ignore
const brief = () =>
  db<Row>('footage').select(...COLUMNS, db.raw("json_remove(source, '$.track') as source"), analysisColumn('motion'));

const fromRow = (
  r: Row,
  source = parsed<Source>(r.source, WHOLE),
  facts = JSON.parse(r.facts) as MediaFacts,
): Footage => ({
  id: r.id,
  name: r.name,
  file: pathOf(r.file),
  secondFile: r.second_file && pathOf(r.second_file),
  inPlace: !!r.in_place,
  variableRate: !!r.variable_rate,
  facts,
  kind: source.kind,
  sphereWidth: sphereWidth(source, facts.width),
  laidFlat: source.kind === 'sphere' && !source.join && !source.stereo,
  gathered: parsed<Makings | null>(r.gathered, null),
  version: r.version,
  fingerprint: r.fingerprint,
  favourite: !!r.favourite,
  tags: parsed<string[]>(r.tags, []),
  notes: r.notes ?? '',
  marks: parsed<Mark[]>(r.marks, []),
  ranges: parsed<Range[]>(r.ranges, []),
  motion: motionOf(r, source),
  created: r.created,
  deleted: r.deleted,
});

function motionOf(r: Row, source: Source): MotionState | null {
  const kept = parsed<{ file: string; seen: string; parameters: Parameters['motion'] } | null>(r.motion, null);
  return (
    kept && { ...kept.parameters, file: kept.file, seen: kept.seen, void: kept.seen !== seenAs(r.fingerprint, source) }
  );
}

/** All footage in the Library, or all that was deleted from it. */
export const listFootage = async (deleted = false) =>
  (await brief()[deleted ? 'whereNotNull' : 'whereNull']('deleted').orderBy('created')).map((r) => fromRow(r));

/** Some footage by id, in no order. */
export const footageOf = async (ids: readonly string[]) => (await brief().whereIn('id', ids)).map((r) => fromRow(r));

export async function findFootage(id: string): Promise<Footage | null> {
  const row = await brief().where({ id }).first();
  return row ? fromRow(row) : null;
}

/** The files of every footage, deleted or not. */
export const footageFiles = async () =>
  (await db<Row>('footage').select('id', 'file', 'second_file', 'in_place', 'gathered')).map((r) => ({
    id: r.id,
    files: (r.second_file ? [r.file, r.second_file] : [r.file]).map(pathOf),
    inPlace: !!r.in_place,
    gathered: r.gathered !== null,
  }));

export async function findFootageByFile(file: string): Promise<Footage | null> {
  const row = await brief()
    .where({ file: keptAs(file) })
    .first();
  return row ? fromRow(row) : null;
}

/** Footage with the same content, whatever its name; what was deleted counts too. */
export async function findFootageByContent(fingerprint: string): Promise<Footage | null> {
  const row = await brief().where({ fingerprint }).orderByRaw('deleted is not null').first();
  return row ? fromRow(row) : null;
}

export async function sourceOf(id: string): Promise<Source> {
  const row = await db<Row>('footage').select('source').where({ id }).first();
  return parsed<Source>(row?.source, WHOLE);
}

/** The source it had before the last change of it; null if it was never changed. */
export async function sourceBefore(id: string): Promise<Source | null> {
  const row = await db<Row>('footage').select('source_before').where({ id }).first();
  return parsed<Source | null>(row?.source_before, null);
}

export const filesOf = (f: Pick<Footage, 'file' | 'secondFile'>) => (f.secondFile ? [f.file, f.secondFile] : [f.file]);

/** The recording behind a footage, as the engine reads it. */
export const recordingOf = async (f: Footage): Promise<Placed<Recording>> => ({
  files: filesOf(f).map(placeOf),
  source: await sourceOf(f.id),
  materials: layout.all('materials'),
  subjects: layout.all('subjects'),
  light: { file: layout.light(f.id), sphere: layout.proxy(f.id) },
  ...(f.motion ? { motion: layout.motion(f.motion.file) } : {}),
});

/** The footage that a take's twin names by its file; null where it names none, or none in the Library. */
export async function twinFootage({ look }: Pick<Take, 'look'>, own: Footage): Promise<Footage | null> {
  const asked = look?.sector?.twin?.footage;
  if (asked === undefined) return null;
  const name = basename(asked);
  const rows = await brief()
    .whereNull('deleted')
    .andWhere((q) => void q.where({ file: name }).orWhereRaw('substr(file, -?) = ?', [name.length + 1, `/${name}`]))
    .orderBy('created');
  const named = rows.map((r) => fromRow(r));
  // Of several with that name the one that lies beside the take's own footage is meant.
  return named.find((f) => dirname(f.file) === dirname(own.file)) ?? named[0] ?? null;
}

/** Its recording, as that of the take carries it. */
export async function twinOf(take: Pick<Take, 'look'>, own: Footage): Promise<Pick<Placed<Recording>, 'twin'>> {
  const found = await twinFootage(take, own);
  return found ? { twin: await recordingOf(found) } : {};
}

export type NewFootage = Pick<Footage, 'name' | 'file' | 'inPlace' | 'variableRate' | 'facts'> &
  Partial<Pick<Footage, 'secondFile' | 'fingerprint' | 'tags'>> & { source?: Source };

export async function addFootage(f: NewFootage): Promise<string> {
  const id = randomUUID();
  await db('footage').insert({
    id,
    name: f.name,
    file: keptAs(f.file),
    second_file: f.secondFile ? keptAs(f.secondFile) : null,
    in_place: f.inPlace,
    variable_rate: f.variableRate,
    facts: JSON.stringify(f.facts),
    source: JSON.stringify(f.source ?? WHOLE),
    fingerprint: f.fingerprint ?? null,
    tags: JSON.stringify(f.tags ?? []),
    created: Date.now(),
  });
  return id;
}

/** Keeps what gathering made, and the source as it was followed on the way, unless that was changed meanwhile. */
export const setGathered = (id: string, { source, ...makings }: Gathered, asked: Source) =>
  db.transaction(async (trx) => {
    const row = await trx<Row>('footage').where({ id }).first();
    if (!row) return;
    const same = JSON.stringify(parsed<Source>(row.source, WHOLE)) === JSON.stringify(asked);
    await trx('footage')
      .where({ id })
      .update({
        gathered: JSON.stringify(makings),
        version: row.version + 1,
        ...(same ? { source: JSON.stringify(source) } : {}),
      });
  });

/** Keeps what is there so far of what gathering makes. */
export const setGrown = (id: string, { source: _, ...makings }: Gathered) =>
  db('footage')
    .where({ id })
    .update({ gathered: JSON.stringify(makings), version: db.raw('version + 1') });

/** What was there so far is gone; what was gathered whole stays. */
export const forgetGrown = (id: string) =>
  db('footage')
    .where({ id })
    .whereRaw("json_extract(gathered, '$.ready') is not null")
    .update({ gathered: null, version: db.raw('version + 1') });

/** Changes what the picture is said to show, and keeps what it was said to show before. */
export const setSource = (id: string, source: Source, facts?: MediaFacts) =>
  db.transaction(async (trx) => {
    const row = await trx<Row>('footage').where({ id }).first();
    if (!row) return;
    await trx('footage')
      .where({ id })
      .update({
        source: JSON.stringify(source),
        source_before: row.source ?? JSON.stringify(WHOLE),
        ...(facts ? { facts: JSON.stringify(facts) } : {}),
      });
  });

/** Facts about a footage that people set as a whole. */
export type Remarks = Partial<Pick<Footage, 'name' | 'favourite' | 'deleted'>>;

export async function remark(id: string, change: Remarks) {
  if (Object.keys(change).length) await db('footage').where({ id }).update(change);
}

/** Applies one change to what is said about a footage; gives what is said now, or null when the footage is gone. */
export const changeRemarks = (id: string, change: RemarkChange) =>
  db.transaction(async (trx) => {
    const row = await trx<Row>('footage').where({ id }).first();
    if (!row) return null;
    const { duration } = JSON.parse(row.facts) as MediaFacts;
    const { marks, ranges, tags, notes } = fromRow(row);
    const now = remarked({ marks, ranges, tags, notes }, change, duration);
    await trx('footage')
      .where({ id })
      .update({
        marks: JSON.stringify(now.marks),
        ranges: JSON.stringify(now.ranges),
        tags: JSON.stringify(now.tags),
        notes: now.notes,
      });
    return now;
  });

/** The marks by content of everything in the Library. */
export const knownFingerprints = async () =>
  (await db<Row>('footage').whereNull('deleted').whereNotNull('fingerprint').pluck('fingerprint')) as string[];

/** The original was found somewhere else. */
export const relink = (id: string, file: string, secondFile: string | null) =>
  db('footage')
    .where({ id })
    .update({ file: keptAs(file), second_file: secondFile && keptAs(secondFile), in_place: true });

export const purgeFootage = (id: string) => db('footage').where({ id }).delete();
