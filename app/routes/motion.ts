/** The motion of a footage: the analysis itself, having it made, correcting it by hand, handing in a sidecar. */
import { randomUUID } from 'node:crypto';
import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { ActionFunctionArgs, LoaderFunctionArgs } from 'react-router';
import { METHODS, type Method, type Stretch } from '@glimbo/core/motion/motion';
import { readSidecar } from '@glimbo/core/motion/sidecar';
import { readMotion, writeMotion } from '@glimbo/media/motion-file';
import { writeWhole } from '@glimbo/media/write-whole';
import { findFootage, setMotion } from '~/db/footage';
import { enqueue } from '~/jobs/queue';
import { config } from '~/server/config';
import { handedIn, SIDECAR_USES, type SidecarUse } from '~/server/sidecar';

type Body =
  | { intent: 'analyse'; method: Method; use: SidecarUse }
  | { intent: 'correct'; cuts: number[]; bad: Stretch[] }
  | { intent: 'sidecar'; text: string };

const LARGEST_SIDECAR = 64 << 20;
const problem = (sentence: string, status = 400) => Response.json({ problem: sentence }, { status });

export async function loader({ params }: LoaderFunctionArgs) {
  const footage = await findFootage(params.footageId!);
  if (!footage?.motion) return problem('The motion of this footage was not analysed yet.', 404);
  const text = await readFile(join(config.motions, footage.motion.file));
  return new Response(text, {
    headers: { 'content-type': 'application/json', 'cache-control': 'private, max-age=86400' },
  });
}

export async function action({ request, params }: ActionFunctionArgs) {
  const footage = await findFootage(params.footageId!);
  if (!footage) return problem('That footage is gone from the Library.', 404);
  const body = (await request.json()) as Body;
  switch (body.intent) {
    case 'analyse': {
      if (!footage.gathered) return problem('The proxy is not made yet. Analyse the motion when it is.');
      if (!METHODS.includes(body.method) || !SIDECAR_USES.includes(body.use)) return problem('That way of analysing is not known here.'); // prettier-ignore
      return Response.json({ id: await enqueue({ kind: 'motion', params: { method: body.method, use: body.use }, footageId: footage.id, takeId: null }) }); // prettier-ignore
    }
    case 'correct': {
      if (!footage.motion) return problem('The motion of this footage was not analysed yet.');
      const motion = await readMotion(join(config.motions, footage.motion.file));
      const seconds = (t: unknown) => Math.max(0, Math.min(footage.facts.duration, Number(t) || 0));
      const cuts = [...new Set(body.cuts.map(seconds))].filter((t) => t > 0).sort((a, b) => a - b);
      const bad = body.bad.map((b) => ({ in: seconds(b.in), out: seconds(b.out) })).filter((b) => b.out > b.in);
      const file = `${randomUUID()}.json`;
      await writeMotion(join(config.motions, file), { ...motion, cuts, bad });
      const { seen, method, sidecar } = footage.motion;
      const before = await setMotion(footage.id, { file, method, sidecar }, seen);
      if (before) await rm(join(config.motions, before), { force: true });
      return Response.json({});
    }
    case 'sidecar': {
      const text = String(body.text);
      if (text.length > LARGEST_SIDECAR) return problem('That file is larger than 64 MB: a motion sidecar is a table of rates and accelerations.'); // prettier-ignore
      const samples = readSidecar(text);
      if (typeof samples === 'string') return problem(`That is not a motion sidecar: ${samples}. Nothing was changed.`);
      await writeWhole(handedIn(footage.id), text);
      return Response.json({});
    }
  }
  return problem('That is not known here.');
}
