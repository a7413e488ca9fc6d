/**
 * What was found out about footage: one row an analysis, with its kind, what it was made with, the file that holds it, and
 * what it saw. It is void when that is something else now; the old one is used until there is another.
 */
import { randomUUID } from 'node:crypto';
import type { Source } from '@glimbo/core/stitch/source';
import { db } from './database';

/** What each kind of analysis is made with, as far as people are told of it. */
export interface Parameters {
  motion: { method: string; /** How the sidecar fits, in words, if it was used. */ sidecar: string | null };
}
type AnalysisKind = keyof Parameters;

interface Row {
  id: string;
  footage_id: string;
  kind: AnalysisKind;
  parameters: string;
  file: string;
  seen: string;
  created: number;
}

/** Names what an analysis of a footage depends on: its content and how its picture is laid flat. */
export function seenAs(fingerprint: string | null, source: Source): string {
  const { track: _, ...rest } = source as Source & { track?: unknown };
  return `${fingerprint ?? ''} ${JSON.stringify(rest)}`;
}

/** The last analysis of a kind as a column of a query over footage, in JSON. */
export const analysisColumn = (kind: AnalysisKind) =>
  db.raw(
    `(select json_object('file', a.file, 'seen', a.seen, 'parameters', json(a.parameters)) from analyses a
      where a.footage_id = footage.id and a.kind = ? order by a.created desc limit 1) as ??`,
    [kind, kind],
  );

/**
 * Keeps an analysis in place of the one of its kind that was there; gives the file that it replaces. `seen`: what was
 * analysed; what the footage is now when absent. Null when the footage is gone.
 */
export const replaceAnalysis = <K extends AnalysisKind>(
  footageId: string,
  kind: K,
  { file, parameters, seen }: { file: string; parameters: Parameters[K]; seen?: string },
) =>
  db.transaction(async (trx) => {
    const footage = await trx<{ id: string; fingerprint: string | null; source: string | null }>('footage')
      .where({ id: footageId })
      .first();
    if (!footage) return null;
    const source = footage.source ? (JSON.parse(footage.source) as Source) : { kind: 'sphere' as const };
    const before = await trx<Row>('analyses').where({ footage_id: footageId, kind });
    await trx('analyses').where({ footage_id: footageId, kind }).delete();
    await trx<Row>('analyses').insert({
      id: randomUUID(),
      footage_id: footageId,
      kind,
      parameters: JSON.stringify(parameters),
      file,
      seen: seen ?? seenAs(footage.fingerprint, source),
      created: Date.now(),
    });
    return before[0]?.file ?? null;
  });

/** The files of all analyses, of one footage or of all. */
export const analysisFiles = async (footageId?: string): Promise<string[]> =>
  (await db<Row>('analyses')
    .where(footageId ? { footage_id: footageId } : {})
    .pluck('file')) as string[];
