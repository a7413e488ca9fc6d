/** Which footage the Library shows, and in what order. */
import type { LibraryFootage } from '~/server/library';

export const SORTS = { newest: 'Newest first', oldest: 'Oldest first', name: 'Name', longest: 'Longest first', largest: 'Largest first' } as const; // prettier-ignore
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
