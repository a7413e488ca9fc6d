/** The projects and their takes, beside the footage, searched and sorted; only what is in sight is drawn, so that thousands stay quick. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { Search, Star } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Select } from '~/ui/Select';
import { TakeRow, type ListedTake } from './TakeRow';
import { selectTakes, TAKE_SORTS, type TakeSort } from './select';
import type { LibraryFootage } from '~/model/footage';
import type { TakeRecord } from '~/model/take';
import { keepHere, keptHere } from '~/ui/kept-here';

interface ProjectsProps {
  projects: { id: string; name: string }[];
  takes: TakeRecord[];
  footage: LibraryFootage[];
}

const LOOK = 'glimbo-takes';

export function Projects({ projects, takes, footage }: ProjectsProps) {
  const [search, setSearch] = useState('');
  const [favourites, setFavourites] = useState(false);
  const [sort, setSort] = useState<TakeSort>('changed');
  useEffect(() => {
    const kept = keptHere(LOOK);
    if (kept && kept in TAKE_SORTS) setSort(kept as TakeSort);
  }, []);
  const order = (by: TakeSort) => {
    setSort(by);
    keepHere(LOOK, by);
  };
  const of = useMemo(() => new Map(footage.map((f) => [f.id, f])), [footage]);
  const known = useMemo(
    () =>
      takes
        .filter((t) => of.has(t.footageId))
        .map((t) => ({
          ...t,
          footage: of.get(t.footageId)!.name,
          drawn: of.get(t.footageId)!.reach >= of.get(t.footageId)!.duration,
        })),
    [takes, of],
  );
  const found = useMemo(() => selectTakes(known, { search, favourites, sort }), [known, search, favourites, sort]);
  const rows = useMemo(() => rowsOf(projects, found), [projects, found]);
  const scroll = useRef<HTMLDivElement>(null);
  const inSight = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: (i) => ('project' in rows[i]! ? PROJECT_HEIGHT : TAKE_HEIGHT),
    getItemKey: (i) => idOf(rows[i]!),
    overscan: 8,
  });
  return (
    <aside className="flex w-72 shrink-0 flex-col border-l border-rule pl-4" aria-label="Projects">
      <div className="mb-2 flex items-center gap-2">
        <h2 className="text-lg font-semibold">Takes</h2>
        <span className="figure text-muted" data-testid="take-count">
          {found.length === known.length ? known.length : `${found.length} of ${known.length}`}
        </span>
      </div>
      {known.length > 0 && (
        <div className="mb-2 flex items-center gap-1.5">
          <label className="relative min-w-0 flex-1">
            <Search size={14} className="absolute top-[7px] left-2 text-muted" />
            <input
              type="search"
              className="field w-full pl-7"
              aria-label="Search the takes"
              placeholder="Name"
              value={search}
              onChange={(e) => setSearch(e.target.value)}
            />
          </label>
          <button
            className="icon-button"
            aria-label="Favourite takes"
            title="Favourites"
            aria-pressed={favourites}
            onClick={() => setFavourites(!favourites)}
          >
            <Star size={14} />
          </button>
          <Select
            label="Order of the takes"
            className="w-30"
            value={sort}
            onChange={order}
            options={Object.entries(TAKE_SORTS) as [TakeSort, string][]}
          />
        </div>
      )}
      <div ref={scroll} className="min-h-0 flex-1 overflow-auto pr-1 pb-6">
        {known.length === 0 && <p className="text-muted">No takes yet. “New take” on a footage starts one.</p>}
        {known.length > 0 && found.length === 0 && (
          <p className="text-muted">No take is like that. Search for something else.</p>
        )}
        <ul className="relative" style={{ height: inSight.getTotalSize() }} aria-label="Takes">
          {inSight.getVirtualItems().map(({ index, start, key }) => (
            <li
              key={key}
              ref={inSight.measureElement}
              data-index={index}
              className="absolute inset-x-0 top-0"
              style={{ transform: `translateY(${start}px)` }}
            >
              <Row row={rows[index]!} />
            </li>
          ))}
        </ul>
      </div>
    </aside>
  );
}

/** Rows of the list: the name of a project, and after it its takes. */
type ListRow = { project: { id: string; name: string } } | { take: ListedTake };

/** Heights in pixels before rows are measured. */
const PROJECT_HEIGHT = 36;
const TAKE_HEIGHT = 70;

const idOf = (row: ListRow) => ('project' in row ? row.project.id : row.take.id);

function rowsOf(projects: ProjectsProps['projects'], takes: ListedTake[]): ListRow[] {
  const of = new Map(projects.map((project) => [project.id, [{ project }] as ListRow[]]));
  for (const take of takes) of.get(take.projectId)?.push({ take });
  return [...of.values()].filter((rows) => rows.length > 1).flat();
}

function Row({ row }: { row: ListRow }) {
  if ('take' in row) return <TakeRow take={row.take} />;
  return <h2 className="label pt-3 pb-1">{row.project.name}</h2>;
}
