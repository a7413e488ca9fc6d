/** What a browser keeps, or does not: pages go on either way. */
import { afterEach, expect, test } from '@jest/globals';
import { keepHere, keptHere, keptJson, storageHere } from '../ui/kept-here';

const rows = new Map<string, string>();
let refuses: 'nothing' | 'writing' | 'everything' = 'nothing';
const storage = {
  getItem: (name: string) => rows.get(name) ?? null,
  setItem(name: string, value: string) {
    if (refuses !== 'nothing') throw new Error('QuotaExceededError');
    rows.set(name, value);
  },
};
Object.defineProperty(globalThis, 'localStorage', {
  configurable: true,
  get() {
    if (refuses === 'everything') throw new Error('SecurityError');
    return storage;
  },
});
afterEach(() => void (refuses = 'nothing'));

test('what is kept is there again, as it is or read', () => {
  keepHere('a', '[1]');
  expect([keptHere('a'), rows.get('a'), keptJson('a')]).toEqual(['[1]', '[1]', [1]]);
  keepHere('a', '[1');
  expect([keptJson('a'), keptJson('nothing')]).toEqual([null, null]);
});

test.each(['writing', 'everything'] as const)('with a browser that refuses %s it lasts as long as the page', (what) => {
  refuses = what;
  expect(keptHere(what)).toBeNull();
  keepHere(what, '2');
  expect(keptHere(what)).toBe('2');
  expect(rows.has(what)).toBe(false);
  expect(storageHere() === null).toBe(what === 'everything');
});

test('once there is room again it is kept for good', () => {
  refuses = 'writing';
  keepHere('a', '3');
  refuses = 'nothing';
  keepHere('a', '4');
  expect([keptHere('a'), rows.get('a')]).toEqual(['4', '4']);
});
