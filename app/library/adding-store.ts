/** What is on its way into the Library, kept outside any page. */
import { createStore, useStore } from 'zustand';
import type { GatherResult } from '~/model/gathering';
import { keepHere, keptHere } from '~/ui/kept-here';

export type AddingState =
  'waiting' | 'sending' | 'paused' | 'checking' | 'looking' | 'asking' | 'pair' | 'known' | 'problem' | 'added';

export interface Adding {
  key: string;
  name: string;
  /** The files of one recording, the first lens's first; none when it is added by its path. */
  files: File[];
  path: string | null;
  size: number;
  sent: number;
  state: AddingState;
  text: string;
  uploads: string[];
  /** Names of files that had arrived before, when there are no files here. */
  arrived?: string[];
  /** The job that looks through a folder, and how far it is. */
  job?: string;
  share?: number;
}

interface AddingStore {
  items: Adding[];
  prefix: string;
  /** Bytes a second over the last seconds, 0 while nothing is sent. */
  speed: number;
}

const PREFIX = 'glimbo-prefix';
export const adding = createStore<AddingStore>(() => ({ items: [], prefix: '', speed: 0 }));
export const useAdding = <T>(pick: (s: AddingStore) => T) => useStore(adding, pick);

export function setPrefix(prefix: string) {
  adding.setState({ prefix });
  keepHere(PREFIX, prefix);
}
export const loadPrefix = () => adding.setState({ prefix: keptHere(PREFIX) ?? '' });

export const find = (key: string) => adding.getState().items.find((i) => i.key === key);
export const change = (key: string, to: Partial<Adding>) =>
  adding.setState((s) => ({ items: s.items.map((i) => (i.key === key ? { ...i, ...to } : i)) }));
export const dismiss = (key: string) => adding.setState((s) => ({ items: s.items.filter((i) => i.key !== key) }));

let listener: () => void = () => {};
/** Called whenever the Library has changed on the server. */
export const onAdded = (to: () => void) => void (listener = to);
export const changedLibrary = () => listener();

export const blank = {
  path: null,
  size: 0,
  sent: 0,
  state: 'waiting' as const,
  text: '',
  uploads: [] as string[],
  files: [] as File[],
};

/** Posts a form to the gathering; rejects when there is no answer that helps. */
export async function post(fields: Record<string, string>): Promise<unknown> {
  const answer = await fetch('/gather', { method: 'POST', body: new URLSearchParams(fields) });
  const told = (await answer.json().catch(() => null)) as { problem?: string } | null;
  // What the server says of a failure goes the way of any other result.
  if (!answer.ok && !told?.problem) throw new Error(String(answer.status));
  return told;
}

/** What became of a recording, shown in its row. */
export function settle(key: string, result: GatherResult) {
  if ('footageId' in result) dismiss(key);
  // The server has thrown away what it could not use: trying again sends it again.
  else if ('problem' in result) change(key, { state: 'problem', text: result.problem, uploads: [], sent: 0 });
  else if ('known' in result)
    change(key, {
      state: 'known',
      text: `It is in the Library already, as ${result.known}. Nothing was copied twice.`,
    });
  else if ('pair' in result) change(key, { state: 'pair', text: `${result.pair} What are they?` });
  else change(key, { state: 'asking', text: result.doubts.map((d) => d.sentence).join(' ') });
}
