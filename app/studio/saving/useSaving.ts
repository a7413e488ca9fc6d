/** The Studio's saving: drafts from before are met with what the server has, and the saver is told of every change. */
import { useEffect, useState } from 'react';
import type { History } from '@glimbo/core/document/history';
import type { Take } from '@glimbo/core/take/take';
import { draftStore, moveOlderDrafts } from './draft-store';
import { meet, type Draft, type Kept } from './drafts';
import { Saver } from './saver';
import { storageHere } from '~/ui/kept-here';
import type { StudioStore } from '../state/store';

/** This page as a session: as long as it lives it holds a lock by this name, so that other tabs leave its draft alone. */
const session: string =
  typeof crypto !== 'undefined' && 'randomUUID' in crypto ? crypto.randomUUID() : String(Math.random()).slice(2);
const lockOf = (name: string) => `glimbo-session-${name}`;
if (typeof navigator !== 'undefined' && navigator.locks)
  void navigator.locks.request(lockOf(session), () => new Promise(() => {}));

async function liveSessions(): Promise<Set<string>> {
  const held = typeof navigator !== 'undefined' && navigator.locks ? ((await navigator.locks.query()).held ?? []) : [];
  return new Set(held.map((lock) => lock.name ?? ''));
}

export const drafts = draftStore<Take>();
/** What a take's drafts are kept under. */
export const draftsOfTake = (id: string) => `take-${id}`;

/** What drafts from before make of a document: the history to go on with, and the drafts that somebody has to decide about. */
export interface Met<T> {
  history: History<T> | null;
  open: Draft<T>[];
  /** A save that may be under way still. */
  uncertain: string | null;
}

export async function meetDrafts(take: string, kept: Kept<Take>): Promise<Met<Take>> {
  const document = draftsOfTake(take);
  const storage = storageHere();
  if (storage) await moveOlderDrafts(storage, take, drafts, document);
  const live = await liveSessions();
  let history: History<Take> | null = null;
  let uncertain: string | null = null;
  const open: Draft<Take>[] = [];
  for (const draft of await drafts.of(document)) {
    if (draft.session !== session && live.has(lockOf(draft.session))) continue;
    const met = meet(kept, draft);
    if ('goesOn' in met && !history) {
      history = met.goesOn;
      uncertain = draft.pending;
      // From here on it is this session's.
      await drafts.keep(document, { ...draft, session });
      if (draft.session !== session) await drafts.drop(document, draft.session);
    } else if ('has' in met) await drafts.drop(document, draft.session);
    else open.push(draft);
  }
  return { history, open, uncertain };
}

export async function post(address: string, body: object, keepalive = false) {
  const answer = await fetch(address, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
    keepalive,
  });
  const told = (await answer.json().catch(() => null)) as {
    revision?: number;
    problem?: string;
    lastSave?: string | null;
    id?: string;
    name?: string;
  } | null;
  return { status: answer.status, body: told };
}

let active: Saver<Take> | null = null;
/** Forgets what was changed here and is not saved. */
export const dropMine = () => active?.forget();

export function useSaving(store: StudioStore, take: string, kept: Kept<Take>) {
  const [first] = useState(kept);
  useEffect(() => {
    const saver = new Saver<Take>({
      document: draftsOfTake(take),
      session,
      kept: first,
      now: () => store.getState().history,
      tell: (save) => store.getState().setSaveState(save),
      drafted: (kept) => store.getState().setDrafted(kept),
      send: (body, leaving) => post(`/takes/${take}`, body, leaving),
      drafts,
      newId: () => crypto.randomUUID(),
    });
    active = saver;
    const unsubscribe = store.subscribe((now, before) => now.history !== before.history && saver.changed());
    const leave = () => saver.leave();
    const warn = (event: BeforeUnloadEvent) => void (saver.atRisk && event.preventDefault());
    window.addEventListener('pagehide', leave);
    window.addEventListener('beforeunload', warn);
    return () => {
      unsubscribe();
      window.removeEventListener('pagehide', leave);
      window.removeEventListener('beforeunload', warn);
      saver.stop();
      active = null;
    };
  }, [store, take, first]);
}
