/** The Library's footage as a grid or a list; only what is in sight is drawn, so that thousands stay quick. */
import { LayoutGrid, List, Search, Star, Trash2 } from 'lucide-react';
import { ToggleGroup } from 'radix-ui';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useNavigate } from 'react-router';
import { useSize } from '~/ui/useSize';
import { Select } from '~/ui/Select';
import { FirstCuts } from './FirstCuts';
import { FootageCard } from './FootageCard';
import { FootageRow } from './FootageRow';
import { InfoSheet } from './InfoSheet';
import { RemoveForGood } from './RemoveForGood';
import { useMissing } from './useMissing';
import { select, SORTS, type Selection, type Sort } from './select';
import type { LibraryFootage } from '~/model/footage';
import type { TakeRecord } from '~/model/take';
import { keepHere, keptJson } from '~/ui/kept-here';

interface ListProps {
  footage: LibraryFootage[];
  takes: TakeRecord[];
  deleted: boolean;
}

const LOOK = 'glimbo-library';
const DEFAULT = { search: '', sort: 'newest', favourites: false, tag: '', layout: 'grid' } as Selection & {
  layout: 'grid' | 'list';
};
const CARD = { least: 400, height: 266 };
const ROW = 52;
const GAP = 12;

export function FootageList({ footage, takes, deleted }: ListProps) {
  const [look, setLook] = useState(DEFAULT);
  const [info, setInfo] = useState<string | null>(null);
  const change = (to: Partial<typeof look>) => setLook((old) => ({ ...old, ...to }));
  // The way the Library was looked at comes back with it; what was searched for does not.
  useEffect(() => {
    const { sort, layout } = (keptJson(LOOK) ?? {}) as Partial<typeof look>;
    const known = { ...(sort && sort in SORTS ? { sort } : {}), ...(layout === 'list' ? { layout } : {}) };
    setLook((old) => ({ ...old, ...known }));
  }, []);
  useEffect(() => {
    const { sort, layout } = look;
    if (look !== DEFAULT) keepHere(LOOK, JSON.stringify({ sort, layout }));
  }, [look]);
  const tags = useMemo(() => [...new Set(footage.flatMap((f) => f.tags))].sort(), [footage]);
  const shown = useMemo(() => select(footage, look), [footage, look]);
  const [inSight, setInSight] = useState<readonly string[]>([]);
  const missing = useMissing(deleted ? [] : inSight, footage);
  const takesOf = useMemo(() => {
    const by = new Map<string, TakeRecord[]>();
    for (const take of takes) by.set(take.footageId, [...(by.get(take.footageId) ?? []), take]);
    return by;
  }, [takes]);

  return (
    <section className="flex min-h-0 min-w-0 flex-1 flex-col" aria-label="Footage">
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <h1 className="mr-1 text-lg font-semibold">{deleted ? 'Deleted footage' : 'Footage'}</h1>
        <span className="figure mr-2 text-muted" data-testid="footage-count">
          {shown.length === footage.length ? footage.length : `${shown.length} of ${footage.length}`}
        </span>
        <label className="relative">
          <Search size={14} className="absolute top-[7px] left-2 text-muted" />
          <input
            type="search"
            className="field w-48 pl-7"
            aria-label="Search the Library"
            placeholder="Name, tag, note"
            value={look.search}
            onChange={(e) => change({ search: e.target.value })}
          />
        </label>
        <button
          className="button"
          aria-pressed={look.favourites}
          onClick={() => change({ favourites: !look.favourites })}
        >
          <Star size={14} /> Favourites
        </button>
        {tags.length > 0 && (
          <Select
            label="Tag"
            value={look.tag}
            onChange={(tag) => change({ tag })}
            options={[['', 'All tags'], ...tags.map((t) => [t, t] as const)]}
          />
        )}
        <Select
          label="Order"
          value={look.sort}
          onChange={(sort) => change({ sort: sort as Sort })}
          options={Object.entries(SORTS)}
        />
        <span className="flex-1" />
        {!deleted && <FirstCuts footage={footage} />}
        <DeletedSwitch deleted={deleted} footage={footage} takes={takes} />
        <ToggleGroup.Root
          type="single"
          className="flex"
          aria-label="Layout"
          value={look.layout}
          onValueChange={(v) => v && change({ layout: v as 'grid' | 'list' })}
        >
          <ToggleGroup.Item
            className="icon-button aria-checked:bg-ink aria-checked:text-paper"
            value="grid"
            aria-label="Grid"
            title="Grid"
          >
            <LayoutGrid size={15} />
          </ToggleGroup.Item>
          <ToggleGroup.Item
            className="icon-button aria-checked:bg-ink aria-checked:text-paper"
            value="list"
            aria-label="List"
            title="List"
          >
            <List size={15} />
          </ToggleGroup.Item>
        </ToggleGroup.Root>
      </div>
      {shown.length === 0 ? (
        <p className="py-12 text-center text-muted">
          {deleted ? 'Nothing is deleted.' : 'No footage is like that. Search for something else.'}
        </p>
      ) : (
        <Virtual
          list={look.layout === 'list'}
          items={shown}
          onSight={setInSight}
          draw={(f) => {
            const shared = {
              footage: f,
              missing: missing.has(f.id),
              takes: takesOf.get(f.id) ?? [],
              onInfo: () => setInfo(f.id),
            };
            return look.layout === 'list' ? (
              <FootageRow key={f.id} {...shared} />
            ) : (
              <FootageCard key={f.id} {...shared} />
            );
          }}
        />
      )}
      <InfoSheet
        footage={footage.find((f) => f.id === info) ?? null}
        missing={info !== null && missing.has(info)}
        takes={info ? (takesOf.get(info) ?? []) : []}
        onClose={() => setInfo(null)}
      />
    </section>
  );
}

interface VirtualProps {
  items: LibraryFootage[];
  list: boolean;
  draw: (f: LibraryFootage) => React.ReactNode;
  /** Told the ids of what is drawn, whenever that is something else. */
  onSight: (ids: readonly string[]) => void;
}

function Virtual({ items, list, draw, onSight }: VirtualProps) {
  const [ref, size] = useSize<HTMLDivElement>();
  const scroller = useRef<HTMLDivElement | null>(null);
  const columns = list ? 1 : Math.max(1, Math.floor((size.width + GAP) / (CARD.least + GAP)));
  const height = list ? ROW : CARD.height + GAP;
  const rows = useVirtualizer({
    count: Math.ceil(items.length / columns),
    getScrollElement: () => scroller.current,
    estimateSize: () => height,
    overscan: 3,
  });
  useEffect(() => rows.measure(), [height, rows]);
  const drawn = rows.getVirtualItems();
  const inRow = (n: number) => items.slice(n * columns, (n + 1) * columns);
  const seen = drawn.flatMap(({ index }) => inRow(index).map((f) => f.id)).join();
  useEffect(() => onSight(seen ? seen.split(',') : []), [seen, onSight]);
  return (
    <div
      ref={(element) => {
        scroller.current = element;
        (ref as React.MutableRefObject<HTMLDivElement | null>).current = element;
      }}
      className="min-h-0 flex-1 overflow-auto pb-6"
    >
      <ul className="relative" style={{ height: rows.getTotalSize() }}>
        {drawn.map((row) => (
          <li
            key={row.key}
            className="absolute inset-x-0 grid items-start"
            style={{
              top: row.start,
              height,
              gap: list ? 0 : GAP,
              gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))`,
            }}
          >
            {inRow(row.index).map(draw)}
          </li>
        ))}
      </ul>
    </div>
  );
}

function DeletedSwitch({ deleted, footage, takes }: Pick<ListProps, 'deleted' | 'footage' | 'takes'>) {
  const navigate = useNavigate();
  return deleted ? (
    <>
      <RemoveForGood footage={footage} takes={takes} />
      <button className="button" onClick={() => void navigate('/')}>
        Back to the Library
      </button>
    </>
  ) : (
    <button
      className="icon-button"
      aria-label="Deleted footage"
      title="Deleted footage"
      onClick={() => void navigate('/?deleted')}
    >
      <Trash2 size={15} />
    </button>
  );
}
