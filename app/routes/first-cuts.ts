/** Asking for first cuts: a Sketch of each of some footages, as takes. */
import { aspectRatio } from '@glimbo/core/lens/format';
import { SketchParams } from '~/jobs/params';
import { queue } from '~/queue/queue';
import { answered, readBody, Refusal } from '~/server/answer';

export const action = answered(async ({ request }) => {
  const { footage, aspect, lively, cuts, length } = await readBody(SketchParams, request);
  try {
    aspectRatio(aspect);
  } catch {
    throw new Refusal('That is no picture format. Nothing was begun.');
  }
  const params = { footage, aspect, lively, cuts, ...(length === undefined ? {} : { length }) };
  return { id: await queue().add({ kind: 'sketch', params, footageId: null, takeId: null }) };
});
