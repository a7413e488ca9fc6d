/** What people say and decide about one footage: remarks, deleting, finding its original again, its source. */
import type { ActionFunctionArgs } from 'react-router';
import { findFootage, remark, type Footage, type Mark, type Range, type Remarks } from '~/db/footage';
import { startTake } from '~/server/gathering';
import { relinkOriginal } from '~/server/upkeep';

type Body =
  | ({ intent: 'remark' } & Partial<Pick<Footage, 'name' | 'favourite' | 'tags' | 'notes' | 'marks' | 'ranges'>>)
  | { intent: 'delete' }
  | { intent: 'restore' }
  | { intent: 'relink'; path: string }
  | { intent: 'take'; name?: string; range?: Range };

export async function action({ request, params }: ActionFunctionArgs) {
  const footage = await findFootage(params.footageId!);
  if (!footage) return Response.json({ problem: 'That footage is gone from the Library.' }, { status: 404 });
  const body = (await request.json()) as Body;
  switch (body.intent) {
    case 'remark':
      await remark(footage.id, tidy(body, footage.facts.duration));
      return Response.json({});
    case 'delete':
      await remark(footage.id, { deleted: Date.now() });
      return Response.json({});
    case 'restore':
      await remark(footage.id, { deleted: null });
      return Response.json({});
    case 'relink': {
      const problem = await relinkOriginal(footage.id, String(body.path));
      return Response.json(problem ? { problem } : {});
    }
    case 'take': {
      const range = body.range && cleanRange(body.range, footage.facts.duration);
      return Response.json({
        id: await startTake(footage.id, { name: body.name?.slice(0, 120), range: range ?? undefined }),
      });
    }
  }
  return Response.json({ problem: 'That is not known here.' }, { status: 400 });
}

const number = (v: unknown) => (typeof v === 'number' && Number.isFinite(v) ? v : 0);
const cleanRange = (r: Range, duration: number): Range | null => {
  const from = Math.max(0, Math.min(duration, number(r.in)));
  const to = Math.max(0, Math.min(duration, number(r.out)));
  return to > from ? { in: from, out: to } : null;
};

/** What is kept of remarks that came in: the right types, within bounds. */
function tidy(body: Remarks, duration: number): Remarks {
  const out: Remarks = {};
  const name = typeof body.name === 'string' ? body.name.trim().slice(0, 160) : '';
  if (name) out.name = name;
  if (typeof body.favourite === 'boolean') out.favourite = body.favourite;
  if (typeof body.notes === 'string') out.notes = body.notes.slice(0, 20_000);
  if (Array.isArray(body.tags))
    out.tags = [...new Set(body.tags.map((t) => String(t).trim().slice(0, 40)).filter(Boolean))].slice(0, 40);
  if (Array.isArray(body.marks))
    out.marks = body.marks
      .map((m: Mark) => ({ time: Math.max(0, Math.min(duration, number(m.time))), name: String(m.name).slice(0, 120) }))
      .sort((a, b) => a.time - b.time)
      .slice(0, 2000);
  if (Array.isArray(body.ranges))
    out.ranges = body.ranges
      .map((r: Range) => cleanRange(r, duration))
      .filter((r): r is Range => r !== null)
      .slice(0, 500);
  return out;
}
