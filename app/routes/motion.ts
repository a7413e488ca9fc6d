/** The motion of a footage: the analysis itself, having it made, correcting it by hand, handing in a sidecar. */
import { randomUUID } from 'node:crypto';
import { readFile, rm } from 'node:fs/promises';
import type { LoaderFunctionArgs } from 'react-router';
import { methodNamed } from '@glimbo/core/motion/motion';
import { MotionOrder } from '@glimbo/core/motion/validate-order';
import { answered, readBody, Refusal } from '~/server/answer';
import { DocumentError } from '@glimbo/core/boundary/document-error';
import { readSidecar } from '@glimbo/core/motion/sidecar';
import { readMotion, writeMotion } from '@glimbo/media/motion-file';
import { writeWhole } from '@glimbo/media/write-whole';
import { replaceAnalysis } from '~/db/analyses';
import { findFootage } from '~/db/footage';
import { beginNow } from '~/jobs/begin-now';
import { layout, onDisk } from '~/base/layout';
import { isWhole } from '~/model/footage';
import { SIDECAR_USES } from '~/model/sidecar';

const LARGEST_SIDECAR = 64 << 20;
const NOT_YET = 'The motion of this footage was not analysed yet.';

export async function loader({ params }: LoaderFunctionArgs) {
  const footage = await findFootage(params.footageId!);
  if (!footage?.motion) return Response.json({ problem: NOT_YET }, { status: 404 });
  const text = await readFile(onDisk(layout.motion(footage.motion.file)));
  return new Response(text, {
    headers: { 'content-type': 'application/json', 'cache-control': 'private, max-age=86400' },
  });
}

export const action = answered(async ({ request, params }) => {
  const footage = await findFootage(params.footageId!);
  if (!footage) throw new Refusal('That footage is gone from the Library.', 404);
  const body = await readBody(MotionOrder, request);
  switch (body.intent) {
    case 'analyse': {
      if (!isWhole(footage)) throw new Refusal('The proxy is not made yet. Analyse the motion when it is.');
      const method = methodNamed(body.method);
      const use = SIDECAR_USES.find((u) => u === body.use);
      if (!method || !use) throw new Refusal('That way of analysing is not known here.', 400);
      return { id: await beginNow('motion', footage.id, { method, use }) };
    }
    case 'correct': {
      if (!footage.motion) throw new Refusal(NOT_YET);
      const motion = await readMotion(onDisk(layout.motion(footage.motion.file)));
      const seconds = (t: number) => Math.max(0, Math.min(footage.facts.duration, t));
      const cuts = [...new Set((body.cuts ?? []).map(seconds))].filter((t) => t > 0).sort((a, b) => a - b);
      const bad = (body.bad ?? []).map((b) => ({ in: seconds(b.in), out: seconds(b.out) })).filter((b) => b.out > b.in);
      const file = `${randomUUID()}.json`;
      await writeMotion(onDisk(layout.motion(file)), { ...motion, cuts, bad });
      const { seen, method, sidecar } = footage.motion;
      const before = await replaceAnalysis(footage.id, 'motion', { file, parameters: { method, sidecar }, seen });
      if (before) await rm(onDisk(layout.motion(before)), { force: true });
      return {};
    }
    case 'sidecar': {
      const text = body.text ?? '';
      if (text.length > LARGEST_SIDECAR)
        throw new Refusal('That file is larger than 64 MB: a motion sidecar is a table of rates and accelerations.');
      try {
        readSidecar(text);
      } catch (error) {
        if (!(error instanceof DocumentError)) throw error;
        throw new Refusal(`That is not a motion sidecar: ${error.problem}. Nothing was changed.`);
      }
      await writeWhole(onDisk(layout.sidecar(footage.id)), text);
      return {};
    }
  }
});
