/**
 * Drafts: what was changed here and is not known to be kept by the server, one for each session of the Studio. They are
 * dropped only when the server has them or somebody says so. What kind of document it is makes no difference.
 */
import { DocumentError } from '@glimbo/core/boundary/document-error';
import { changed, difference, stepsFrom, type Change } from '@glimbo/core/document/change';
import { present, startHistory, type History } from '@glimbo/core/document/history';
import { same } from '@glimbo/core/document/patch';

export interface Draft<T> {
  /** The session that made it. */
  session: string;
  /** The server's revision that it changes. */
  revision: number;
  /** The save that was under way, if there was one: the server may have it without our knowing. */
  pending: string | null;
  /** Milliseconds since 1970 of the last change. */
  when: number;
  change: Change;
  /** The document that the change goes on from, or the present one if that came before; null where it begins anew. */
  from: { step: number; document: T } | null;
}

/** What the server has: a history, its revision, and the save that made it. */
export interface Kept<T> {
  history: History<T>;
  revision: number;
  lastSave: string | null;
  /** A save from before that may be under way still: the server taking it is no change by somebody else. */
  uncertain?: string | null;
}

/** The draft of what is `now` and was `before` when the server had it last. */
export function draftOf<T extends object>(
  before: History<T>,
  now: History<T>,
  about: Pick<Draft<T>, 'session' | 'revision' | 'pending' | 'when'>,
): Draft<T> {
  const change = difference(before, now);
  const step = Math.min(change.keep - 1, change.at);
  const document = now.steps[step - now.first];
  return { ...about, change, from: document ? { step, document } : null };
}

/** What a draft has by itself, without the server's history: its present document, and the steps that led there. */
export function historyOf<T extends object>({ change, from }: Draft<T>): History<T> {
  if (from && from.step < change.keep - 1) return startHistory(from.document);
  const steps = [...(from ? [from.document] : []), ...stepsFrom(from?.document ?? null, change.patches)];
  const at = change.at - (from ? from.step : change.keep);
  return { first: 0, steps, at: Math.max(0, Math.min(steps.length - 1, at)) };
}

/** The draft on top of the server's history; null where it does not fit. */
function onTop<T extends object>(kept: Kept<T>, draft: Draft<T>): History<T> | null {
  try {
    return changed(kept.history, draft.change);
  } catch (error) {
    if (error instanceof DocumentError) return null;
    throw error;
  }
}

/**
 * What becomes of a draft when the document is opened again: the server has all of it already; it goes on top, since the
 * server is where the draft began; or the server has something else, and somebody has to say.
 */
export function meet<T extends object>(
  kept: Kept<T>,
  draft: Draft<T>,
): { has: true } | { goesOn: History<T> } | { asks: History<T> } {
  const fits = draft.revision === kept.revision || (draft.pending !== null && draft.pending === kept.lastSave);
  const mine = fits ? onTop(kept, draft) : null;
  if (mine) return same(mine, kept.history) ? { has: true } : { goesOn: mine };
  const alone = historyOf(draft);
  return same(present(alone), present(kept.history)) ? { has: true } : { asks: alone };
}
