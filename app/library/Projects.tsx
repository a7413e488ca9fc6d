/** The projects and their takes, beside the footage: each with its own picture, searched, sorted and marked as favourites. */
import { Copy, Pencil, Search, Star, Trash2 } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { Link, useRevalidator } from 'react-router';
import { toast } from 'sonner';
import { Select } from '~/ui/Select';
import { selectTakes, TAKE_SORTS, type TakeSort } from './select';
import type { LibraryFootage } from '~/model/footage';
import { sendJson } from '~/ui/send';
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
  const shown = projects
    .map((p) => ({ ...p, takes: found.filter((t) => t.projectId === p.id) }))
    .filter((p) => p.takes.length);
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
      <div className="min-h-0 flex-1 overflow-auto pr-1 pb-6">
        {known.length === 0 && <p className="text-muted">No takes yet. “New take” on a footage starts one.</p>}
        {known.length > 0 && found.length === 0 && (
          <p className="text-muted">No take is like that. Search for something else.</p>
        )}
        {shown.map((p) => (
          <section key={p.id} className="mb-4">
            <h2 className="label mb-1">{p.name}</h2>
            <ul>
              {p.takes.map((t) => (
                <Take key={t.id} take={t} />
              ))}
            </ul>
          </section>
        ))}
      </div>
    </aside>
  );
}

function Take({ take }: { take: TakeRecord & { footage: string; drawn: boolean } }) {
  const { revalidate } = useRevalidator();
  const [name, setName] = useState<string | null>(null);
  const post = async (body: object) => {
    const { problem } = await sendJson(`/takes/${take.id}`, body);
    if (problem) toast.error(problem);
    await revalidate();
  };
  const remove = async () => {
    await post({ intent: 'delete' });
    const undo = { label: 'Undo', onClick: () => void post({ intent: 'restore' }) };
    toast(`The take “${take.name}” was deleted.`, { duration: 12_000, action: undo });
  };
  const rename = () => {
    if (name?.trim() && name !== take.name) void post({ intent: 'rename', name });
    setName(null);
  };
  const small = 'icon-button size-6!';
  return (
    <li className="group relative flex gap-2 border-t border-rule py-1.5" data-testid="take">
      <Picture take={take} />
      <div className="min-w-0 flex-1">
        {name === null ? (
          <Link
            to={`/studio/${take.id}`}
            className="line-clamp-2 leading-tight font-medium hover:underline"
            title={`${take.name}, of ${take.footage}`}
          >
            {take.name}
          </Link>
        ) : (
          <input
            className="field w-full"
            aria-label="Name of the take"
            autoFocus
            value={name}
            onChange={(e) => setName(e.target.value)}
            onBlur={rename}
            onKeyDown={(e) => {
              if (e.key === 'Enter') rename();
              if (e.key === 'Escape') setName(null);
            }}
          />
        )}
        <div className="flex items-center">
          <span className="min-w-0 flex-1 truncate text-muted">{take.footage}</span>
          <button
            className={small}
            aria-label={take.favourite ? `${take.name} is a favourite` : `Make ${take.name} a favourite`}
            title="Favourite"
            aria-pressed={take.favourite}
            onClick={() => void post({ intent: 'favourite', favourite: !take.favourite })}
          >
            <Star size={12} fill={take.favourite ? 'currentColor' : 'none'} />
          </button>
          <button
            className={small}
            aria-label={`Rename ${take.name}`}
            title="Rename"
            onClick={() => setName(take.name)}
          >
            <Pencil size={12} />
          </button>
          <button
            className={small}
            aria-label={`Duplicate ${take.name}`}
            title="Duplicate, to try another version"
            onClick={() => void post({ intent: 'duplicate' })}
          >
            <Copy size={12} />
          </button>
          <button
            className={small}
            aria-label={`Delete ${take.name}`}
            title="Delete; it can be brought back"
            onClick={() => void remove()}
          >
            <Trash2 size={12} />
          </button>
        </div>
      </div>
    </li>
  );
}

/** The take's Frame at its in point; an empty well until there is one. */
function Picture({ take }: { take: TakeRecord & { drawn: boolean } }) {
  const [missing, setMissing] = useState(false);
  return (
    <Link
      to={`/studio/${take.id}`}
      className="grid h-14 w-20 shrink-0 place-items-center overflow-hidden bg-well"
      tabIndex={-1}
      aria-label={`Open ${take.name}`}
    >
      {take.drawn && !missing && (
        <img
          className="max-h-full max-w-full"
          src={`/media/takes/${take.id}?r=${take.revision}`}
          alt=""
          loading="lazy"
          onError={() => setMissing(true)}
        />
      )}
    </Link>
  );
}
