/** What a browser keeps, or does not: pages go on either way. */
import { afterEach, expect, test } from '@jest/globals';
import { forgetHere, keepHere, keptHere, storageHere } from '../ui/kept-here';

const rows = new Map<string, string>();
let refuses: 'nothing' | 'writing' | 'everything' = 'nothing';
const storage = {
  getItem: (name: string) => rows.get(name) ?? null,
  setItem(name: string, value: string) {
    if (refuses !== 'nothing') throw new Error('QuotaExceededError');
    rows.set(name, value);
  },
  removeItem: (name: string) => void rows.delete(name),
};
Object.defineProperty(globalThis, 'localStorage', {
  configurable: true,
  get() {
    if (refuses === 'everything') throw new Error('SecurityError');
    return storage;
  },
});
afterEach(() => {
  refuses = 'nothing';
  forgetHere('a');
});

test('what is kept is there again, and what is forgotten is not', () => {
  keepHere('a', '1');
  expect([keptHere('a'), rows.get('a')]).toEqual(['1', '1']);
  forgetHere('a');
  expect(keptHere('a')).toBeNull();
});

test.each(['writing', 'everything'] as const)('with a browser that refuses %s it lasts as long as the page', (what) => {
  refuses = what;
  expect(keptHere('a')).toBeNull();
  keepHere('a', '2');
  expect(keptHere('a')).toBe('2');
  expect(rows.has('a')).toBe(false);
  forgetHere('a');
  expect(keptHere('a')).toBeNull();
  expect(storageHere() === null).toBe(what === 'everything');
});

test('once there is room again it is kept for good', () => {
  refuses = 'writing';
  keepHere('a', '3');
  refuses = 'nothing';
  keepHere('a', '4');
  expect([keptHere('a'), rows.get('a')]).toEqual(['4', '4']);
});
