/** Saving: no change is lost, whatever becomes of the server, the answer, the tab or other tabs. */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { commit, present, startHistory, undo, type History } from '@glimbo/core/take/history';
import { newTake, type Take } from '@glimbo/core/take/take';
import { changed, difference, draftsOf, keepDraft, meet, type Draft, type Kept } from '../studio/saving/drafts';
import { Saver, type SaveState } from '../studio/saving/saver';

const take = (n: number) => newTake(`${n}.mp4`, n + 1);
const plain = <T>(v: T): T => JSON.parse(JSON.stringify(v)) as T;

/** The browser's storage, in memory. */
class Memory implements Storage {
  private readonly kept = new Map<string, string>();
  full = false;
  get length() {
    return this.kept.size;
  }
  key = (i: number) => [...this.kept.keys()][i] ?? null;
  getItem = (k: string) => this.kept.get(k) ?? null;
  setItem(k: string, v: string) {
    if (this.full) throw new Error('QuotaExceededError');
    this.kept.set(k, v);
  }
  removeItem = (k: string) => void this.kept.delete(k);
  clear = () => this.kept.clear();
}

/** A server that keeps one take as ours does. */
class Server {
  kept: Kept = { history: startHistory(take(0)), revision: 1, lastSave: null };
  mode: 'well' | 'away' | 'answer-lost' | 'deleted' | 'refuses' | 'full' = 'well';
  saves = 0;

  async send(body: object) {
    if (this.mode === 'away') throw new TypeError('fetch failed');
    if (this.mode === 'deleted') return { status: 410, body: { problem: 'deleted' } };
    if (this.mode === 'refuses') return { status: 422, body: { problem: 'No.' } };
    if (this.mode === 'full') return { status: 507, body: { problem: 'The disk is full.' } };
    const save = plain(body) as Draft & { id: string };
    this.saves++;
    if (save.id !== this.kept.lastSave) {
      if (save.revision !== this.kept.revision)
        return {
          status: 409,
          body: { problem: 'changed', revision: this.kept.revision, lastSave: this.kept.lastSave },
        };
      this.kept = { history: changed(this.kept.history, save), revision: save.revision + 1, lastSave: save.id };
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
  saver: Saver;
  constructor(server: Server, storage: Storage, session: string, kept = plain(server.kept)) {
    this.history = kept.history;
    this.saver = new Saver({
      take: 't',
      session,
      kept,
      now: () => this.history,
      tell: (s) => void this.states.push(s),
      send: (body) => server.send(body),
      storage,
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
const pass = (ms: number) => jest.advanceTimersByTimeAsync(ms);

test('what is sent is what the server lacks', () => {
  const before = commit(commit(startHistory(take(0)), take(1)), take(2));
  const more = commit(before, take(3));
  expect(difference(before, more)).toEqual({ keep: 3, steps: [take(3)], at: 3 });
  expect(difference(before, undo(before))).toEqual({ keep: 3, steps: [], at: 1 });
  const branched = commit(undo(before), take(9));
  expect(difference(before, branched)).toEqual({ keep: 2, steps: [take(9)], at: 2 });
  expect(changed(before, difference(before, branched))).toEqual(branched);
});

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
    expect(draftsOf(storage, 't')).toHaveLength(1);
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
    const [draft] = draftsOf(storage, 't');
    expect(draft!.steps).toEqual([take(1), take(2)]);
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
    expect(draftsOf(storage, 't')).toHaveLength(1);
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

  test('with the browser’s storage full goes on saving', async () => {
    storage.full = true;
    const page = new Page(server, storage, 'a');
    page.edit(1);
    await pass(1000);
    expect(page.state).toBe('saved');
  });
});

describe('a page that is opened again', () => {
  const draftOf = () => draftsOf(storage, 't')[0]!;

  test('after the server was away goes on where it was', async () => {
    const page = new Page(server, storage, 'a');
    server.mode = 'away';
    page.edit(1);
    await pass(1000);
    page.saver.stop();
    const met = meet(plain(server.kept), draftOf());
    expect('goesOn' in met && met.goesOn.steps).toEqual([take(0), take(1)]);
  });

  test('after a kill between commit and answer knows that the server has it', async () => {
    const page = new Page(server, storage, 'a');
    server.mode = 'answer-lost';
    page.edit(1);
    await pass(400);
    expect(meet(plain(server.kept), draftOf())).toEqual({ has: true });
    // What came after that save goes on top.
    server.mode = 'away';
    page.edit(2);
    await pass(400);
    page.saver.stop();
    const met = meet(plain(server.kept), draftOf());
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
    const draft = draftOf();
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
    const met = meet(plain(server.kept), draftOf());
    expect('asks' in met && present(met.asks)).toEqual(take(2));
  });

  test('with a draft that counts on more steps than there are finds its present one all the same', () => {
    const draft: Draft = { session: 'a', revision: 9, pending: null, when: 0, keep: 50, steps: [take(3)], at: 50 };
    keepDraft(storage, 't', draft);
    const met = meet(server.kept, draftOf());
    expect('asks' in met && present(met.asks)).toEqual(take(3));
  });

  test('leaves alone what is not its own or cannot be read', () => {
    storage.setItem('glimbo-draft-t-x', '{broken');
    storage.setItem('glimbo-draft-other-a', '{}');
    expect(draftsOf(storage, 't')).toEqual([]);
    expect(storage.length).toBe(2);
  });
});
