import type { LibraryFootage } from '~/model/footage';
/** Which footage the Library shows, and in what order. */

export const SORTS = {
  newest: 'Newest first',
  oldest: 'Oldest first',
  name: 'Name',
  longest: 'Longest first',
  largest: 'Largest first',
} as const;
export type Sort = keyof typeof SORTS;

export interface Selection {
  search: string;
  sort: Sort;
  favourites: boolean;
  tag: string;
}

const ORDERS: Record<Sort, (a: LibraryFootage, b: LibraryFootage) => number> = {
  newest: (a, b) => b.created - a.created,
  oldest: (a, b) => a.created - b.created,
  name: (a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }),
  longest: (a, b) => b.duration - a.duration,
  largest: (a, b) => b.size - a.size,
};

/** Every word of the search must be found in a footage's name, tags, notes or facts. */
export function select(footage: LibraryFootage[], { search, sort, favourites, tag }: Selection): LibraryFootage[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  return footage
    .filter((f) => {
      if (favourites && !f.favourite) return false;
      if (tag && !f.tags.includes(tag)) return false;
      if (!words.length) return true;
      const text = `${f.name} ${f.tags.join(' ')} ${f.notes} ${f.width}x${f.height} ${f.codec}`.toLowerCase();
      return words.every((w) => text.includes(w));
    })
    .sort(ORDERS[sort]);
}

export const TAKE_SORTS = { changed: 'Last changed', name: 'Name', footage: 'Footage' } as const;
export type TakeSort = keyof typeof TAKE_SORTS;

interface ListedTake {
  name: string;
  footage: string;
  favourite: boolean;
  changed: number;
}

const byText = (a: string, b: string) => a.localeCompare(b, 'en', { numeric: true });
const TAKE_ORDERS: Record<TakeSort, (a: ListedTake, b: ListedTake) => number> = {
  changed: (a, b) => b.changed - a.changed,
  name: (a, b) => byText(a.name, b.name),
  footage: (a, b) => byText(a.footage, b.footage) || byText(a.name, b.name),
};

/** Every word of the search must be found in a take's name or its footage's. */
export function selectTakes<T extends ListedTake>(
  takes: T[],
  { search, favourites, sort }: { search: string; favourites: boolean; sort: TakeSort },
): T[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  return takes
    .filter((t) => !favourites || t.favourite)
    .filter((t) => words.every((w) => `${t.name} ${t.footage}`.toLowerCase().includes(w)))
    .sort(TAKE_ORDERS[sort]);
}
