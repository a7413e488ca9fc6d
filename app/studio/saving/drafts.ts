/**
 * Drafts: what was changed here and is not known to be kept by the server. They lie in the browser's storage, one for each
 * session of the Studio, and are dropped only when the server has them or somebody says so.
 */
import { present, type History } from '@glimbo/core/take/history';
import type { Take } from '@glimbo/core/take/take';

/** A change of a history as it is sent and kept: the steps after `keep`, and which step is the present one. */
export interface Change {
  keep: number;
  steps: Take[];
  at: number;
}

export interface Draft extends Change {
  /** The session that made it. */
  session: string;
  /** The server's revision that it changes. */
  revision: number;
  /** The save that was under way, if there was one: the server may have it without our knowing. */
  pending: string | null;
  /** Milliseconds since 1970 of the last change. */
  when: number;
}

/** What has to be sent for the server to have `now` when it has `before`. */
export function difference(before: History<Take>, now: History<Take>): Change {
  let keep = 0;
  while (keep < before.steps.length && keep < now.steps.length && before.steps[keep] === now.steps[keep]) keep++;
  return { keep, steps: now.steps.slice(keep), at: now.at };
}

/** The history that a change makes of another, which may have fewer steps than the change counted on. */
export function changed(before: History<Take>, { keep, steps, at }: Change): History<Take> {
  const kept = before.steps.slice(0, keep);
  const all = [...kept, ...steps];
  return { steps: all, at: Math.max(0, Math.min(all.length - 1, at - (keep - kept.length))) };
}

const PREFIX = 'glimbo-draft';
const keyOf = (take: string, session: string) => `${PREFIX}-${take}-${session}`;

export function keepDraft(storage: Storage, take: string, draft: Draft) {
  try {
    storage.setItem(keyOf(take, draft.session), JSON.stringify(draft));
  } catch {
    // The browser's storage is full: the change is still in the page, and the state says that it is not saved.
  }
}

export const dropDraft = (storage: Storage, take: string, session: string) => storage.removeItem(keyOf(take, session));

/** All drafts of a take, the oldest first. What cannot be read is left where it is. */
export function draftsOf(storage: Storage, take: string): Draft[] {
  const found: Draft[] = [];
  for (let i = 0; i < storage.length; i++) {
    const key = storage.key(i);
    if (!key?.startsWith(`${PREFIX}-${take}-`)) continue;
    try {
      const draft = JSON.parse(storage.getItem(key) ?? 'null') as Draft | null;
      if (draft && Array.isArray(draft.steps) && typeof draft.session === 'string') found.push(draft);
    } catch {
      // Not one of ours.
    }
  }
  return found.sort((a, b) => a.when - b.when);
}

/** What the server has: a history, its revision, and the save that made it. */
export interface Kept {
  history: History<Take>;
  revision: number;
  lastSave: string | null;
  /** A save from before that may be under way still: the server taking it is no change by somebody else. */
  uncertain?: string | null;
}

/**
 * What becomes of a draft when the take is opened again: the server has all of it already; it goes on top, since the server
 * is where the draft began; or the server has something else, and somebody has to say.
 */
export function meet(kept: Kept, draft: Draft): { has: true } | { goesOn: History<Take> } | { asks: History<Take> } {
  const ours = draft.revision === kept.revision || (draft.pending !== null && draft.pending === kept.lastSave);
  const mine = changed(kept.history, draft);
  const same = JSON.stringify(present(mine)) === JSON.stringify(present(kept.history));
  if (!ours) return same ? { has: true } : { asks: mine };
  return JSON.stringify(mine) === JSON.stringify(kept.history) ? { has: true } : { goesOn: mine };
}
