/** Names for what is on air. */
import type { Join, Layout, Lookouts, Showing } from '@glimbo/core/lookouts/lookouts';

export const LAYOUT_NAMES: Readonly<Record<Layout, string>> = {
  one: 'One',
  beside: 'Side by side',
  over: 'Over and under',
  inset: 'One inset',
  four: 'Four',
};

export const JOIN_NAMES: Readonly<Record<Join, string>> = { cut: 'Cut', whip: 'Whip', glide: 'Glide' };

/** What is on air in a word or two. */
export function showsInWords({ views }: Lookouts, shows: Showing | null): string {
  if (!shows) return 'Path';
  if (shows.layout !== 'one')
    return `${shows.views.map((v) => v + 1).join(' ')} ${LAYOUT_NAMES[shows.layout].toLowerCase()}`;
  const [n] = shows.views as [number];
  return `${n + 1} ${views[n]?.name ?? ''}`;
}
