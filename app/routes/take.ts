/** Saves a take, makes copies, renames, deletes and brings back. */
import type { ActionFunctionArgs } from 'react-router';
import type { Take } from '@glimbo/core/take/take';
import { readTake, TakeError } from '@glimbo/core/take/validate';
import { addTake, findTake, renameTake, saveTake, setTakeDeleted, type Save } from '~/db/takes';

type Body =
  | ({ intent: 'save' } & Save)
  | { intent: 'duplicate' }
  | { intent: 'rename'; name: string }
  | { intent: 'delete' }
  | { intent: 'restore' };

export async function action({ request, params }: ActionFunctionArgs) {
  const id = params.takeId!;
  const found = await findTake(id);
  if (!found) throw new Response('There is no such take.', { status: 404 });
  const body = (await request.json()) as Body;
  const { record, history } = found;
  const copy = (name: string, document: Take) =>
    addTake({ projectId: record.projectId, footageId: record.footageId, name, document });

  if (body.intent === 'rename') {
    const name = String(body.name).trim().slice(0, 120);
    if (name) await renameTake(id, name);
    return Response.json({ name: name || record.name });
  }
  if (body.intent === 'delete' || body.intent === 'restore') {
    await setTakeDeleted(id, body.intent === 'delete' ? Date.now() : null);
    return Response.json({});
  }
  if (body.intent === 'duplicate') {
    const name = `${record.name}, version`;
    return Response.json({ id: await copy(name, history.steps[history.at]!), name });
  }
  let steps: Take[];
  try {
    steps = body.steps.map(readTake);
  } catch (error) {
    if (error instanceof TakeError) return Response.json({ problem: error.message }, { status: 422 });
    throw error;
  }
  const revision = await saveTake(id, { ...body, steps });
  if (revision !== null) return Response.json({ revision });
  // Another tab saved in between: what this one made is kept as a take of its own.
  const mine = steps[body.at - body.keep] ?? steps.at(-1);
  if (!mine) return Response.json({}, { status: 409 });
  const name = `${record.name} (from another tab)`;
  return Response.json({ kept: { id: await copy(name, mine), name } }, { status: 409 });
}
