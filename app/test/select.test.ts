/** What the Library shows for a search, a tag, favourites and an order. */
import { describe, expect, test } from '@jest/globals';
import { select, type Selection } from '~/library/select';
import type { LibraryFootage } from '~/model/footage';

const entry = (name: string, more: Partial<LibraryFootage> = {}) =>
  ({
    id: name,
    name,
    tags: [],
    notes: '',
    favourite: false,
    width: 3840,
    height: 1920,
    codec: 'hevc',
    created: 1,
    duration: 1,
    size: 1,
    ...more,
  }) as LibraryFootage;
const all: Selection = { search: '', sort: 'newest', favourites: false, tag: '' };
const footage = [
  entry('Clip 10', { created: 3, duration: 5, tags: ['pole'] }),
  entry('Clip 9', { created: 2, size: 9, notes: 'The heron at the pond', favourite: true }),
  entry('Wagon', { created: 1, codec: 'h264', tags: ['pole', 'ride'] }),
];
const names = (change: Partial<Selection>) => select(footage, { ...all, ...change }).map((f) => f.name);

describe('the Library shows', () => {
  test('everything in the order that is asked for, numbers as numbers', () => {
    expect(names({})).toEqual(['Clip 10', 'Clip 9', 'Wagon']);
    expect(names({ sort: 'oldest' })).toEqual(['Wagon', 'Clip 9', 'Clip 10']);
    expect(names({ sort: 'name' })).toEqual(['Clip 9', 'Clip 10', 'Wagon']);
    expect(names({ sort: 'longest' })[0]).toBe('Clip 10');
    expect(names({ sort: 'largest' })[0]).toBe('Clip 9');
  });
  test('what has every word in its name, tags, notes or facts', () => {
    expect(names({ search: 'HERON pond' })).toEqual(['Clip 9']);
    expect(names({ search: 'pole h264' })).toEqual(['Wagon']);
    expect(names({ search: 'heron wagon' })).toEqual([]);
  });
  test('favourites or one tag alone', () => {
    expect(names({ favourites: true })).toEqual(['Clip 9']);
    expect(names({ tag: 'ride' })).toEqual(['Wagon']);
  });
});
