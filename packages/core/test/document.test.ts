/** Changes of documents and histories: whatever was edited, both sides end with the same, and no more is sent than was edited. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { changed, difference, packHistory, unpackHistory, type Change } from '../src/document/change.js';
import {
  amend,
  canRedo,
  canUndo,
  commit,
  HISTORY_LIMIT,
  HISTORY_SLACK,
  present,
  redo,
  startHistory,
  undo,
  type History,
} from '../src/document/history.js';
import { isWhole, patched, patchOf, same, whole, type Json, type Patch } from '../src/document/patch.js';

const plain = <T>(v: T): T => JSON.parse(JSON.stringify(v)) as T;
const documents = fc.dictionary(fc.string({ maxLength: 4 }), fc.jsonValue({ maxDepth: 4 }), {
  maxKeys: 5,
}) as fc.Arbitrary<Record<string, Json>>;

describe('a patch', () => {
  test('makes the one document of the other, whatever they are, also after it was sent', () => {
    fc.assert(
      fc.property(documents, documents, (before, after) => {
        const kept = plain(before);
        expect(same(patched(before, plain(patchOf(before, after))), after)).toBe(true);
        expect(before).toEqual(kept);
      }),
    );
  });

  const keys = (n: number) => Array.from({ length: n }, (_, i) => ({ time: i, value: i * i }));
  const long = { name: 'a/b~c', path: { pan: keys(4000), tilt: keys(4000) } };
  test.each([
    ['one that is moved', (l: object[]) => l.with(2000, { time: 2000, value: 1 }), 1],
    ['one that is inserted', (l: object[]) => l.toSpliced(5, 0, { time: 4.5, value: 1 }), 1],
    ['one that is taken out', (l: object[]) => l.toSpliced(3999, 1), 1],
    [
      'three that are replaced by two',
      (l: object[]) => l.toSpliced(7, 3, { time: 7.5, value: 0 }, { time: 8.5, value: 1 }),
      5,
    ],
    ['one at the end', (l: object[]) => [...l, { time: 9000, value: 0 }], 1],
  ])('of a path of thousands of keyframes is as large as %s', (_, edit, most) => {
    const after = { ...long, path: { ...long.path, pan: edit(long.path.pan) } };
    const patch = patchOf(long, after);
    expect(patch.length).toBeLessThanOrEqual(most);
    expect(JSON.stringify(patch).length).toBeLessThan(100 * most);
    const made = patched(long, patch);
    expect(made).toEqual(after);
    // What was not edited is shared.
    expect(made.path.tilt).toBe(long.path.tilt);
  });

  test('finds names with slashes and tildes, as RFC 6901 has them', () => {
    const patch = patchOf({ 'a/b': 1, '~': 2 }, { 'a/b': 3, '~': 4 });
    expect(patch.map((o) => o.path)).toEqual(['/a~1b', '/~0']);
    expect(patched({ 'a/b': 1, '~': 2 }, patch)).toEqual({ 'a/b': 3, '~': 4 });
  });

  test.each<[string, Patch]>([
    ['a member that is not there', [{ op: 'replace', path: '/x', value: 1 }]],
    ['an item beyond the list', [{ op: 'add', path: '/list/4', value: 1 }]],
    ['an item by a word', [{ op: 'remove', path: '/list/first' }]],
    ['a member of a number', [{ op: 'add', path: '/name/x', value: 1 }]],
    ['no place', [{ op: 'add', path: 'name', value: 1 }]],
    ['nothing to put there', [{ op: 'replace', path: '/name' }]],
    ['the prototype', [{ op: 'add', path: '/__proto__', value: { bad: true } }]],
    ['no document', [{ op: 'replace', path: '', value: 7 }]],
  ])('with %s is refused in words', (_, patch) => {
    expect(() => patched({ name: 1, list: [1, 2, 3] }, patch)).toThrow(/cannot be read/);
    expect(Object.hasOwn(Object.prototype, 'bad')).toBe(false);
  });
});

describe('a history', () => {
  test('goes back and on, drops what was undone, and joins a gesture into one step', () => {
    let h = commit(commit(startHistory('a'), 'b'), 'c');
    h = undo(h);
    expect([present(h), canUndo(h), canRedo(h)]).toEqual(['b', true, true]);
    expect(present(redo(h))).toBe('c');
    h = amend(commit(h, 'd'), 'e');
    expect(h).toEqual({ first: 0, steps: ['a', 'b', 'e'], at: 2 });
    expect(present(undo(undo(undo(h))))).toBe('a');
    expect([redo(h), commit(h, 'e')]).toEqual([h, h]);
  });

  test('reaches back at least so far, and counts on from what it dropped', () => {
    let h = startHistory(0);
    for (let i = 1; i < 4 * HISTORY_LIMIT; i++) {
      h = commit(h, i);
      expect(h.steps.length).toBeGreaterThanOrEqual(Math.min(i, HISTORY_LIMIT));
      expect([present(h), h.steps[0], h.first + h.at]).toEqual([i, h.first, i]);
    }
    expect(h.steps.length).toBeLessThanOrEqual(HISTORY_LIMIT + HISTORY_SLACK);
  });
});

/** Edits as somebody makes them. */
const edits = fc.array(
  fc.oneof(
    fc.record({ kind: fc.constantFrom('commit' as const, 'amend' as const), n: fc.integer() }),
    fc.record({ kind: fc.constantFrom('undo' as const, 'redo' as const), n: fc.constant(0) }),
  ),
  { maxLength: 40 },
);
type Doc = { n: number; list: number[] };
function edited(h: History<Doc>, { kind, n }: { kind: string; n: number }): History<Doc> {
  if (kind === 'undo') return undo(h);
  if (kind === 'redo') return redo(h);
  const next = { n, list: [...present(h).list, n].slice(-5) };
  return kind === 'commit' ? commit(h, next) : amend(h, next);
}

describe('a change of a history', () => {
  test('brings whoever has it from before to now, however often in between it was sent', () => {
    fc.assert(
      fc.property(edits, edits, (earlier, later) => {
        const before = earlier.reduce(edited, startHistory<Doc>({ n: 0, list: [] }));
        const now = later.reduce(edited, before);
        expect(changed(plain(before), plain(difference(before, now)))).toEqual(plain(now));
      }),
    );
  });

  test('is as large as what was edited, beyond the limit too', () => {
    const keys = Array.from({ length: 3000 }, (_, i) => ({ time: i, value: 0 }));
    let h = startHistory({ n: 0, keys });
    for (let n = 1; n <= 3 * HISTORY_LIMIT; n++) {
      const next = commit(h, { ...present(h), n });
      const change = difference(h, next);
      expect(change.patches.some(isWhole)).toBe(false);
      expect(JSON.stringify(change).length).toBeLessThan(120);
      h = next;
    }
    expect(h.first + h.steps.length).toBe(3 * HISTORY_LIMIT + 1);
    expect(h.steps.length).toBeGreaterThan(HISTORY_LIMIT);
    expect(h.steps.length).toBeLessThanOrEqual(HISTORY_LIMIT + HISTORY_SLACK);
    expect(JSON.stringify(packHistory(h)).length).toBeLessThan(2 * JSON.stringify(present(h)).length);
    const { first, at, steps } = unpackHistory<{ n: number; keys: object[] }>(plain(packHistory(h)));
    expect([first, at, steps.map((s) => s.n)]).toEqual([h.first, h.at, h.steps.map((s) => s.n)]);
    expect(steps.every((s) => s.keys === steps[0]!.keys)).toBe(true);
  });

  test.each<[string, Partial<Change>]>([
    ['goes on from a step that is not there', { keep: 9, at: 9, patches: [[]] }],
    ['has its present step nowhere', { at: 5 }],
    ['begins with what makes it of nothing', { keep: 0, first: 0, at: 0, patches: [[{ op: 'remove', path: '/n' }]] }],
  ])('that %s is refused', (_, change) => {
    const h = commit(startHistory<Doc>({ n: 0, list: [] }), { n: 1, list: [] });
    expect(() => changed(h, { first: 0, keep: 2, at: 1, patches: [], ...change })).toThrow(/not there|does not fit/);
  });

  test('a document is whole in a patch of its own', () => {
    expect(patched(null, whole({ a: 1 }))).toEqual({ a: 1 });
  });
});
