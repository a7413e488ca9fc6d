/** Moves, lenses and curves of one's own: lists them, keeps one, forgets one. */
import { DocumentError } from '@glimbo/core/boundary/document-error';
import { readKept } from '@glimbo/core/moves/kept';
import { forget, keep, listKept, MOST_KEPT } from '~/db/kept';
import { answered, readJson, Refusal } from '~/server/answer';

export const loader = async () => Response.json({ items: await listKept() });

const ID = /^[0-9a-f-]{36}$/;

export const action = answered(async ({ request }) => {
  const { intent, id, document } = ((await readJson(request)) ?? {}) as Record<string, unknown>;
  const known = typeof id === 'string' && ID.test(id) ? id : undefined;
  if (intent === 'forget' && known) {
    await forget(known);
    return { items: await listKept() };
  }
  if (intent !== 'keep') throw new Refusal('That is not known here.', 400);
  try {
    if (!(await keep(readKept(document), known)))
      throw new Refusal(`There are ${MOST_KEPT} kept already. Remove one you do not use, and keep it then.`);
  } catch (error) {
    if (error instanceof DocumentError) throw new Refusal(`Nothing was kept: ${error.problem}.`);
    throw error;
  }
  return { items: await listKept() };
});
