/** Saves a take, makes copies, renames, deletes and brings back. */
import { unique, versionName } from '@glimbo/core/gather/names';
import { readShape } from '@glimbo/core/boundary/shape';
import { present } from '@glimbo/core/document/history';
import { rangeProblem } from '@glimbo/core/edit/range';
import type { Take } from '@glimbo/core/take/take';
import { readTake } from '@glimbo/core/take/validate';
import { DocumentOrder, readHistory, readSave } from '@glimbo/core/document/validate-save';
import { findFootage } from '~/db/footage';
import {
  addTake,
  findTakeRecord,
  presentTake,
  putOnTop,
  renameTake,
  saveTake,
  setTakeDeleted,
  setTakeFavourite,
  takeNames,
} from '~/db/takes';
import type { Saved } from '~/db/steps';
import { isMaterial } from '~/model/material';
import { isSubjectFile } from '~/model/subject';
import { answered, readJson, Refusal } from '~/server/answer';

export const action = answered(async ({ request, params }) => {
  const id = params.takeId!;
  const record = await findTakeRecord(id);
  if (!record) throw new Refusal('This take is gone for good. What you changed is kept in this browser.', 404);
  const plain = await readJson(request);
  const order = readShape(DocumentOrder, plain, 'Nothing was changed. The request cannot be used');
  switch (order.intent) {
    case 'save':
      return outcome(await saveTake(id, readSave(plain), await judgeFor(record.footageId)));
    case 'fork': {
      const judge = await judgeFor(record.footageId);
      const mine = readHistory<Take>(plain, (step) => judge(step as Take));
      const name = unique(`${record.name} (mine)`, await takeNames(record.footageId));
      return { name, id: await addTake({ ...record, name, document: present(mine), history: mine }) };
    }
    case 'put': {
      // On top of whatever is there now: what the other made stays one step of undo away.
      const document = readTake((plain as { document?: unknown }).document);
      return outcome(await putOnTop(id, document, await judgeFor(record.footageId)));
    }
    case 'duplicate': {
      const name = versionName(record.name, await takeNames(record.footageId));
      const found = await presentTake(id);
      return { name, id: await addTake({ ...record, name, document: found!.take }) };
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

/** What refuses steps that are no takes, or do not fit the footage. */
async function judgeFor(footageId: string): Promise<(step: Take) => void> {
  const footage = await findFootage(footageId);
  return (plain) => {
    const step = readTake(plain);
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
  };
}

/** What a tab is told of its save. */
function outcome(saved: Saved): object {
  if (saved === 'gone') throw new Refusal('This take is gone for good. What you changed is kept in this browser.', 404);
  if (saved === 'deleted')
    throw new Refusal('This take was deleted in another tab. What you changed is kept in this browser.', 410);
  if ('revision' in saved) return saved;
  return Response.json(
    { problem: 'This take was changed in another tab.', revision: saved.stale, lastSave: saved.lastSave },
    { status: 409 },
  );
}
