/** Saving: no change is lost, whatever becomes of the server, the answer, the tab or other tabs. */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import 'fake-indexeddb/auto';
import { changed, type Change } from '@glimbo/core/document/change';
import { whole } from '@glimbo/core/document/patch';
import { commit, present, startHistory, undo, type History } from '@glimbo/core/document/history';
import { newTake, type Take } from '@glimbo/core/take/take';
import { draftStore, moveOlderDrafts, type DraftStore } from '../studio/saving/draft-store';
import { draftOf, historyOf, meet, type Draft, type Kept } from '../studio/saving/drafts';
import { Saver } from '../studio/saving/saver';
import type { SaveState } from '../studio/state/save-state';

const take = (n: number) => newTake(`${n}.mp4`, n + 1);
const plain = <T>(v: T): T => JSON.parse(JSON.stringify(v)) as T;

/** The browser's storage for drafts, in memory: it takes and gives copies, as the real one does. */
class Memory implements DraftStore<Take> {
  readonly rows = new Map<string, Draft<Take>>();
  full = false;
  get length() {
    return this.rows.size;
  }
  async keep(document: string, draft: Draft<Take>) {
    if (!this.full) this.rows.set(`${document} ${draft.session}`, plain(draft));
    return !this.full;
  }
  async drop(document: string, session: string) {
    this.rows.delete(`${document} ${session}`);
  }
  of = async () => [...this.rows.values()];
}

/** A server that keeps one take as ours does. */
class Server {
  kept: Kept<Take> = { history: startHistory(take(0)), revision: 1, lastSave: null };
  mode: 'well' | 'away' | 'answer-lost' | 'deleted' | 'refuses' | 'full' = 'well';
  saves = 0;

  async send(body: object) {
    if (this.mode === 'away') throw new TypeError('fetch failed');
    if (this.mode === 'deleted') return { status: 410, body: { problem: 'deleted' } };
    if (this.mode === 'refuses') return { status: 422, body: { problem: 'No.' } };
    if (this.mode === 'full') return { status: 507, body: { problem: 'The disk is full.' } };
    const save = plain(body) as { id: string; revision: number; change: Change };
    this.saves++;
    if (save.id !== this.kept.lastSave) {
      if (save.revision !== this.kept.revision)
        return {
          status: 409,
          body: { problem: 'changed', revision: this.kept.revision, lastSave: this.kept.lastSave },
        };
      this.kept = { history: changed(this.kept.history, save.change), revision: save.revision + 1, lastSave: save.id };
    }
    if (this.mode === 'answer-lost') throw new TypeError('connection reset');
    return { status: 200, body: { revision: this.kept.revision } };
  }
}

let ids = 0;
/** A page with the Studio open. */
class Page {
  history: History<Take>;
  states: SaveState[] = [];
  saver: Saver<Take>;
  drafted: boolean[] = [];
  constructor(server: Server, storage: Memory, session: string, kept = plain(server.kept)) {
    this.history = kept.history;
    this.saver = new Saver({
      document: 't',
      session,
      kept,
      now: () => this.history,
      tell: (s) => void this.states.push(s),
      send: (body) => server.send(body),
      drafted: (kept) => void this.drafted.push(kept),
      drafts: storage,
      newId: () => `save-${++ids}`,
    });
  }
  edit(n: number) {
    this.history = commit(this.history, take(n));
    this.saver.changed();
  }
  get state() {
    return this.states.at(-1)?.kind;
  }
}

let server: Server;
let storage: Memory;
beforeEach(() => {
  jest.useFakeTimers();
  server = new Server();
  storage = new Memory();
});
afterEach(() => void jest.useRealTimers());
const draftHere = () => [...storage.rows.values()][0]!;
const pass = (ms: number) => jest.advanceTimersByTimeAsync(ms);

describe('a page that saves', () => {
  test('joins quick changes, and has no draft once everything is kept', async () => {
    const page = new Page(server, storage, 'a');
    page.edit(1);
    page.edit(2);
    await pass(1000);
    expect(present(server.kept.history)).toEqual(take(2));
    expect([server.saves, page.state, storage.length]).toEqual([1, 'saved', 0]);
  });

  test('recognises a save whose answer was lost, and goes on with what came after', async () => {
    const page = new Page(server, storage, 'a');
    server.mode = 'answer-lost';
    page.edit(1);
    await pass(500);
    expect(page.state).toBe('offline');
    page.edit(2);
    server.mode = 'well';
    await pass(8000);
    expect(page.state).toBe('saved');
    expect(server.kept.history.steps).toEqual([take(0), take(1), take(2)]);
    expect(storage.length).toBe(0);
  });

  test('goes on trying while the server is away or its disk is full, with the server’s words', async () => {
    const page = new Page(server, storage, 'a');
    server.mode = 'full';
    page.edit(1);
    await pass(500);
    expect(page.states.at(-1)).toEqual({ kind: 'offline', sentence: 'The disk is full.' });
    expect(storage.length).toBe(1);
    server.mode = 'well';
    await pass(3000);
    expect([page.state, storage.length]).toEqual(['saved', 0]);
  });

  test('after another tab’s save keeps everything in a draft, later changes too, and sends nothing more', async () => {
    const page = new Page(server, storage, 'a');
    const other = new Page(server, storage, 'b');
    other.edit(5);
    await pass(1000);
    page.edit(1);
    await pass(1000);
    expect(page.states.at(-1)).toMatchObject({ kind: 'conflict', why: 'other' });
    const { saves } = server;
    page.edit(2);
    await pass(10_000);
    expect(server.saves).toBe(saves);
    const [draft] = storage.rows.values();
    expect(historyOf(draft!).steps).toEqual([take(0), take(1), take(2)]);
  });

  test('says what was refused, does not ask again for the same, and saves what is changed next', async () => {
    const page = new Page(server, storage, 'a');
    server.mode = 'refuses';
    page.edit(1);
    await pass(20_000);
    expect(page.states.filter((s) => s.kind === 'refused')).toEqual([{ kind: 'refused', sentence: 'No.' }]);
    server.mode = 'well';
    page.edit(2);
    await pass(1000);
    expect(page.state).toBe('saved');
    expect(present(server.kept.history)).toEqual(take(2));
  });

  test('keeps a draft of a take that was deleted elsewhere', async () => {
    const page = new Page(server, storage, 'a');
    server.mode = 'deleted';
    page.edit(1);
    await pass(1000);
    expect(page.states.at(-1)).toMatchObject({ kind: 'conflict', why: 'deleted' });
    expect(storage.length).toBe(1);
  });

  test('forgets only when told to', async () => {
    const page = new Page(server, storage, 'a');
    server.mode = 'deleted';
    page.edit(1);
    await pass(1000);
    page.saver.forget();
    page.saver.stop();
    expect(storage.length).toBe(0);
  });

  test('with the browser’s storage full goes on saving, and says that leaving would lose something', async () => {
    storage.full = true;
    server.mode = 'away';
    const page = new Page(server, storage, 'a');
    page.edit(1);
    await pass(1000);
    expect([page.state, page.drafted.at(-1), page.saver.atRisk]).toEqual(['offline', false, true]);
    server.mode = 'well';
    await pass(3000);
    expect([page.state, page.saver.atRisk]).toEqual(['saved', false]);
  });

  test('keeps every one of many edits of a large take in its draft while the server is away', async () => {
    server.mode = 'away';
    const page = new Page(server, storage, 'a');
    const pan = Array.from({ length: 5000 }, (_, i) => ({ time: i / 1000, value: 0 }));
    for (let n = 0; n < 34; n++) {
      page.history = commit(page.history, {
        ...take(0),
        path: { ...take(0).path, pan: pan.with(n, { time: n / 1000, value: 9 }) },
      });
      page.saver.changed();
      await pass(400);
    }
    page.saver.stop();
    const met = meet(plain(server.kept), draftHere());
    expect('goesOn' in met && present(met.goesOn)).toEqual(present(page.history));
    expect('goesOn' in met && met.goesOn.steps).toHaveLength(35);
  });
});

describe('a page that is opened again', () => {
  test('after the server was away goes on where it was', async () => {
    const page = new Page(server, storage, 'a');
    server.mode = 'away';
    page.edit(1);
    await pass(1000);
    page.saver.stop();
    const met = meet(plain(server.kept), draftHere());
    expect('goesOn' in met && met.goesOn.steps).toEqual([take(0), take(1)]);
  });

  test('after a kill between commit and answer knows that the server has it', async () => {
    const page = new Page(server, storage, 'a');
    server.mode = 'answer-lost';
    page.edit(1);
    await pass(400);
    expect(meet(plain(server.kept), draftHere())).toEqual({ has: true });
    // What came after that save goes on top.
    server.mode = 'away';
    page.edit(2);
    await pass(400);
    page.saver.stop();
    const met = meet(plain(server.kept), draftHere());
    expect('goesOn' in met && met.goesOn.steps).toEqual([take(0), take(1), take(2)]);
  });

  test('while its own save is still under way does not take that for somebody else’s', async () => {
    const page = new Page(server, storage, 'a');
    server.mode = 'away';
    page.edit(1);
    // The page is left: its last save is on its way, and comes only after the page was opened again.
    const late: object[] = [];
    const well = server.send.bind(server);
    server.send = async (body) => (late.push(body), new Promise(() => {}));
    page.saver.stop();
    const kept = plain(server.kept);
    const draft = draftHere();
    const met = meet(kept, draft);
    expect('goesOn' in met).toBe(true);
    server.send = well;
    server.mode = 'well';
    await server.send(late[0]!);
    const again = new Page(server, storage, 'a', { ...kept, uncertain: draft.pending });
    again.history = (met as { goesOn: History<Take> }).goesOn;
    again.edit(2);
    await pass(3000);
    expect(again.states.map((s) => s.kind)).not.toContain('conflict');
    expect(again.state).toBe('saved');
    expect(present(server.kept.history)).toEqual(take(2));
  });

  test('after somebody else saved asks, and what was made here is all there', async () => {
    const page = new Page(server, storage, 'a');
    server.mode = 'away';
    page.edit(1);
    page.edit(2);
    await pass(1000);
    page.saver.stop();
    server.mode = 'well';
    const other = new Page(server, storage, 'b');
    other.edit(7);
    await pass(1000);
    const met = meet(plain(server.kept), draftHere());
    expect('asks' in met && present(met.asks)).toEqual(take(2));
  });

  test('with a draft that counts on more steps than there are finds its present one all the same', () => {
    const change = { first: 0, keep: 50, at: 50, patches: [whole(take(3))] };
    const draft: Draft<Take> = { session: 'a', revision: 1, pending: null, when: 0, change, from: null };
    const met = meet(server.kept, draft);
    expect('asks' in met && present(met.asks)).toEqual(take(3));
  });

  test('after undoing, and somebody else saved, finds what was undone to', async () => {
    const page = new Page(server, storage, 'a');
    for (const n of [1, 2, 3]) page.edit(n);
    await pass(1000);
    server.mode = 'away';
    page.history = undo(undo(page.history));
    page.saver.changed();
    await pass(1000);
    page.saver.stop();
    server.mode = 'well';
    const other = new Page(server, storage, 'b');
    other.edit(7);
    await pass(1000);
    const met = meet(plain(server.kept), draftHere());
    expect('asks' in met && present(met.asks)).toEqual(take(1));
  });
});

describe('the browser’s database', () => {
  const draft = (session: string, when: number, n = 1): Draft<Take> =>
    draftOf(startHistory(take(0)), commit(startHistory(take(0)), take(n)), {
      session,
      revision: 1,
      pending: null,
      when,
    });

  test('keeps a draft for each session and document, the last of each, and gives them in their order', async () => {
    jest.useRealTimers();
    const store = draftStore<Take>();
    expect(await store.of('t')).toEqual([]);
    await Promise.all([store.keep('t', draft('a', 5)), store.keep('t', draft('b', 2)), store.keep('u', draft('a', 1))]);
    await Promise.all([store.keep('t', draft('a', 6, 2)), store.keep('t', draft('a', 7, 3))]);
    expect(await store.of('t')).toEqual([draft('b', 2), draft('a', 7, 3)]);
    await store.drop('t', 'b');
    expect((await store.of('t')).map((d) => d.session)).toEqual(['a']);
  });

  test('takes over drafts from where they lay before, and leaves alone what is none', async () => {
    jest.useRealTimers();
    const older = { session: 'o', revision: 3, pending: null, when: 1, keep: 1, steps: [take(1), take(2)], at: 2 };
    const rows = new Map([
      ['glimbo-draft-x-o', JSON.stringify(older)],
      ['glimbo-draft-x-p', '{broken'],
      ['glimbo-draft-y-o', '{}'],
    ]);
    const storage = {
      get length() {
        return rows.size;
      },
      key: (i: number) => [...rows.keys()][i] ?? null,
      getItem: (k: string) => rows.get(k) ?? null,
      removeItem: (k: string) => void rows.delete(k),
    };
    const store = draftStore<Take>();
    await moveOlderDrafts(storage, 'x', store, 'take-x');
    expect([...rows.keys()]).toEqual(['glimbo-draft-x-p', 'glimbo-draft-y-o']);
    const [moved] = await store.of('take-x');
    const met = meet({ history: startHistory(take(0)), revision: 3, lastSave: null }, moved!);
    expect('goesOn' in met && met.goesOn.steps).toEqual([take(0), take(1), take(2)]);
  });

  test('that the browser refuses keeps nothing and says so', async () => {
    jest.useRealTimers();
    const { indexedDB } = globalThis;
    Reflect.deleteProperty(globalThis, 'indexedDB');
    const store = draftStore<Take>();
    expect(await store.keep('t', draft('a', 1))).toBe(false);
    expect(await store.of('t')).toEqual([]);
    await store.drop('t', 'a');
    globalThis.indexedDB = indexedDB;
    expect(await store.keep('t', draft('a', 1))).toBe(true);
  });
});
