/** Where drafts lie: in the browser's database, which has room for them and takes them while the page goes on. */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import { patchOf, whole } from '@glimbo/core/document/patch';
import type { Draft } from './drafts';

export interface DraftStore<T> {
  /** Whether it lies there now. */
  keep(document: string, draft: Draft<T>): Promise<boolean>;
  drop(document: string, session: string): Promise<void>;
  /** All drafts of a document, the oldest first. What cannot be read is left where it is. */
  of(document: string): Promise<Draft<T>[]>;
}

interface Schema extends DBSchema {
  drafts: {
    key: [string, string];
    value: { document: string; session: string; draft: unknown };
    indexes: { document: string };
  };
}

const open = async () =>
  openDB<Schema>('glimbo', 1, {
    upgrade(db) {
      db.createObjectStore('drafts', { keyPath: ['document', 'session'] }).createIndex('document', 'document');
    },
  });

const isDraft = <T>(d: unknown): d is Draft<T> =>
  Array.isArray((d as Partial<Draft<T>> | null)?.change?.patches) && typeof (d as Draft<T>).session === 'string';

/** The store of this browser. Where it allows none, nothing is kept, and `keep` says so. */
export function draftStore<T extends object>(): DraftStore<T> {
  let opened: Promise<IDBPDatabase<Schema>> | null = null;
  const database = () =>
    (opened ??= open().catch((error: unknown) => {
      opened = null;
      throw error;
    }));
  return {
    async keep(document, draft) {
      try {
        await (await database()).put('drafts', { document, session: draft.session, draft });
        return true;
      } catch {
        return false;
      }
    },
    async drop(document, session) {
      await database()
        .then((db) => db.delete('drafts', [document, session]))
        .catch(() => {});
    },
    async of(document) {
      const rows = await database()
        .then((db) => db.getAllFromIndex('drafts', 'document', document))
        .catch(() => []);
      const drafts = rows.map((r) => r.draft).filter((d): d is Draft<T> => isDraft<T>(d));
      return drafts.sort((a, b) => a.when - b.when);
    },
  };
}

interface OlderDraft {
  session: string;
  revision: number;
  pending: string | null;
  when: number;
  keep: number;
  steps: object[];
  at: number;
}

/** Moves a take's drafts to where they lie now, from where versions before kept them. */
export async function moveOlderDrafts<T extends object>(
  storage: Pick<Storage, 'length' | 'key' | 'getItem' | 'removeItem'>,
  take: string,
  to: DraftStore<T>,
  document: string,
) {
  const prefix = `glimbo-draft-${take}-`;
  const keys = Array.from({ length: storage.length }, (_, i) => storage.key(i) ?? '').filter((k) =>
    k.startsWith(prefix),
  );
  for (const key of keys) {
    let older: OlderDraft;
    try {
      older = JSON.parse(storage.getItem(key) ?? '') as OlderDraft;
      if (!older.steps.length) continue;
    } catch {
      // Not one of ours.
      continue;
    }
    const { steps, keep, at, ...about } = older;
    const patches = steps.map((step, i) => (i ? patchOf(steps[i - 1]!, step) : whole(step)));
    if (await to.keep(document, { ...about, change: { first: 0, keep, patches, at }, from: null }))
      storage.removeItem(key);
  }
}
