/** Keeps the server's copy of a take's history in step with the Studio's, and notices other tabs. */
import { useEffect } from 'react';
import type { Take } from '@glimbo/core/take/take';
import type { History } from '@glimbo/core/take/history';
import type { StudioStore } from './store';

const DELAY = 300;
const RETRY = 2500;

/** What has to be sent for the server to have `now` when it has `before`. */
export function difference(before: History<Take>, now: History<Take>) {
  let keep = 0;
  while (keep < before.steps.length && keep < now.steps.length && before.steps[keep] === now.steps[keep]) keep++;
  return { keep, steps: now.steps.slice(keep), at: now.at };
}

const draftKey = (id: string) => `glimbo-draft-${id}`;

/** A history that could not be sent before the page went away, if it belongs to the revision the server has. */
export function takeDraft(id: string, revision: number): History<Take> | null {
  try {
    const draft = JSON.parse(localStorage.getItem(draftKey(id)) ?? 'null') as {
      revision: number;
      history: History<Take>;
    } | null;
    localStorage.removeItem(draftKey(id));
    return draft && draft.revision === revision ? draft.history : null;
  } catch {
    return null;
  }
}

export function useSaving(
  store: StudioStore,
  id: string,
  revision: number,
  saved: History<Take>,
  onStale: (kept: { id: string; name: string } | null) => void,
) {
  useEffect(() => {
    let known = { revision, history: saved };
    let timer: ReturnType<typeof setTimeout> | undefined;
    let sending = false;
    let stale = false;

    const request = (keepalive: boolean) => {
      const { history } = store.getState();
      return fetch(`/takes/${id}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ intent: 'save', revision: known.revision, ...difference(known.history, history) }),
        keepalive,
      });
    };
    const dirty = () => store.getState().history !== known.history;

    async function send() {
      if (sending || stale || !dirty()) return;
      sending = true;
      const { history } = store.getState();
      store.getState().set({ save: 'saving' });
      try {
        const answer = await request(false);
        const body = (await answer.json()) as { revision?: number; kept?: { id: string; name: string } };
        if (answer.status === 409) {
          stale = true;
          localStorage.removeItem(draftKey(id));
          onStale(body.kept ?? null);
        } else if (!answer.ok || body.revision === undefined) throw new Error(String(answer.status));
        else {
          known = { revision: body.revision, history };
          localStorage.removeItem(draftKey(id));
          store.getState().set({ save: dirty() ? 'unsaved' : 'saved' });
        }
      } catch {
        // Kept in the browser as well, in case the page goes before the server comes back.
        localStorage.setItem(draftKey(id), JSON.stringify({ revision: known.revision, history }));
        store.getState().set({ save: 'offline' });
        timer = setTimeout(() => void send(), RETRY);
      } finally {
        sending = false;
        if (!stale && dirty() && store.getState().save !== 'offline') plan();
      }
    }
    const plan = () => {
      clearTimeout(timer);
      timer = setTimeout(() => void send(), DELAY);
    };
    const unsubscribe = store.subscribe((now, before) => {
      if (now.history === before.history || stale) return;
      if (now.save !== 'offline') now.set({ save: 'unsaved' });
      plan();
    });
    const leave = () => {
      if (!dirty() || stale) return;
      localStorage.setItem(
        draftKey(id),
        JSON.stringify({ revision: known.revision, history: store.getState().history }),
      );
      void request(true);
    };
    if (dirty()) plan();
    window.addEventListener('pagehide', leave);
    return () => {
      clearTimeout(timer);
      unsubscribe();
      window.removeEventListener('pagehide', leave);
      leave();
    };
  }, [store, id]); // eslint-disable-line react-hooks/exhaustive-deps -- the loader's first revision is the starting point
}
