/** What people say and decide about one footage: remarks, deleting, finding its original again, takes of it. */
import { readRemarkChange, FootageOrder } from '@glimbo/core/gather/validate-remarks';
import { readShape } from '@glimbo/core/boundary/shape';
import { setIn, setOut } from '@glimbo/core/edit/range';
import { changeRemarks, findFootage, remark } from '~/db/footage';
import { answered, readJson, Refusal } from '~/server/answer';
import { startTake } from '~/gathering/start-take';
import { relinkOriginal } from '~/server/upkeep';

const GONE = 'That footage is gone from the Library.';

export const action = answered(async ({ request, params }) => {
  const footage = await findFootage(params.footageId!);
  if (!footage) throw new Refusal(GONE, 404);
  const order = readShape(FootageOrder, await readJson(request), 'Nothing was changed. The request cannot be used');
  switch (order.intent) {
    case 'change': {
      const said = await changeRemarks(footage.id, readRemarkChange(order.change));
      if (!said) throw new Refusal(GONE, 404);
      return { said };
    }
    case 'remark': {
      const name = order.name?.trim();
      const { favourite } = order;
      await remark(footage.id, { ...(name ? { name } : {}), ...(favourite === undefined ? {} : { favourite }) });
      return {};
    }
    case 'delete':
    case 'restore':
      await remark(footage.id, { deleted: order.intent === 'delete' ? Date.now() : null });
      return {};
    case 'relink': {
      const problem = await relinkOriginal(footage.id, order.path ?? '');
      if (problem) throw new Refusal(problem);
      return {};
    }
    case 'take': {
      const { range } = order;
      const whole = { in: 0, out: footage.facts.duration };
      const wanted = range && setOut(setIn(whole, range.in, footage.facts), range.out, footage.facts);
      return { id: await startTake(footage.id, { name: order.name?.slice(0, 120), range: wanted }) };
    }
  }
});
