/** Saves a take, makes copies, renames, deletes and brings back. */
import { unique, versionName } from '@glimbo/core/gather/names';
import { readShape } from '@glimbo/core/boundary/shape';
import { present } from '@glimbo/core/take/history';
import { rangeProblem } from '@glimbo/core/take/range';
import type { Take } from '@glimbo/core/take/take';
import { readHistory, readSave, TakeOrder } from '@glimbo/core/take/validate-save';
import { randomUUID } from 'node:crypto';
import { findFootage } from '~/db/footage';
import {
  addTake,
  findTake,
  renameTake,
  saveTake,
  setTakeDeleted,
  setTakeFavourite,
  takeNames,
  type Save,
} from '~/db/takes';
import { isMaterial } from '~/model/material';
import { isSubjectFile } from '~/model/subject';
import { answered, readJson, Refusal } from '~/server/answer';

type Found = NonNullable<Awaited<ReturnType<typeof findTake>>>;

export const action = answered(async ({ request, params }) => {
  const id = params.takeId!;
  const found = await findTake(id);
  if (!found) throw new Refusal('This take is gone for good. What you changed is kept in this browser.', 404);
  const plain = await readJson(request);
  const order = readShape(TakeOrder, plain, 'Nothing was changed. The request cannot be used');
  const { record, history } = found;
  switch (order.intent) {
    case 'save':
      return keep(found, readSave(plain));
    case 'fork': {
      const mine = readHistory(plain);
      await check(record.footageId, mine.steps);
      const name = unique(`${record.name} (mine)`, await takeNames(record.footageId));
      return { name, id: await addTake({ ...record, name, document: present(mine), history: mine }) };
    }
    case 'put': {
      const mine = readHistory(plain);
      // On top of whatever is there now: what the other made stays one step of undo away.
      const keepTo = history.at + 1;
      return keep(found, {
        id: randomUUID(),
        revision: record.revision,
        keep: keepTo,
        steps: [present(mine)],
        at: keepTo,
      });
    }
    case 'duplicate': {
      const name = versionName(record.name, await takeNames(record.footageId));
      return { name, id: await addTake({ ...record, name, document: present(history) }) };
    }
    case 'rename': {
      const name = order.name?.trim().slice(0, 120);
      if (name) await renameTake(id, name);
      return { name: name || record.name };
    }
    case 'favourite':
      await setTakeFavourite(id, order.favourite === true);
      return {};
    case 'delete':
    case 'restore':
      await setTakeDeleted(id, order.intent === 'delete' ? Date.now() : null);
      return {};
  }
});

/** The names of all subjects that a take follows. */
const followsOf = ({ follows = [], lookouts }: Take): string[] =>
  [...follows, ...(lookouts?.views ?? []).flatMap((v) => v.follow ?? [])].map((rule) => rule.subject);

/** Refuses documents that do not fit the footage. */
async function check(footageId: string, steps: Take[]) {
  const footage = await findFootage(footageId);
  for (const step of steps) {
    const problem = footage && rangeProblem(step.range, footage.facts);
    if (problem) throw new Refusal(problem);
    if (followsOf(step).some((name) => !isSubjectFile(name)))
      throw new Refusal('The take follows a subject that is not kept here. Nothing was changed.');
    const { lut, patch, overlays = [] } = step.look ?? {};
    if (patch?.file && !isMaterial(patch.file))
      throw new Refusal('The take names an image that is not kept here. Nothing was changed.');
    if (overlays.some((o) => o.kind === 'picture' && !isMaterial(o.file)))
      throw new Refusal('The take names a picture that is not kept here. Nothing was changed.');
    if (lut && !isMaterial(lut.file))
      throw new Refusal('The take names a LUT that is not kept here. Nothing was changed.');
  }
}

async function keep({ record }: Found, save: Save): Promise<object> {
  await check(record.footageId, save.steps);
  const saved = await saveTake(record.id, save);
  if (saved === 'gone') throw new Refusal('This take is gone for good. What you changed is kept in this browser.', 404);
  if (saved === 'deleted')
    throw new Refusal('This take was deleted in another tab. What you changed is kept in this browser.', 410);
  if ('revision' in saved) return saved;
  return Response.json(
    { problem: 'This take was changed in another tab.', revision: saved.stale, lastSave: saved.lastSave },
    { status: 409 },
  );
}
