/** The projects and their takes, beside the footage. */
import { Copy, Pencil, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { Link, useRevalidator } from 'react-router';
import { toast } from 'sonner';
import type { TakeRecord } from '~/db/takes';
import type { LibraryFootage } from '~/server/library';

interface ProjectsProps {
  projects: { id: string; name: string }[];
  takes: TakeRecord[];
  footage: LibraryFootage[];
}

export function Projects({ projects, takes, footage }: ProjectsProps) {
  const there = new Map(footage.map((f) => [f.id, f.name]));
  const shown = projects.map((p) => ({ ...p, takes: takes.filter((t) => t.projectId === p.id && there.has(t.footageId)) })).filter((p) => p.takes.length); // prettier-ignore
  return (
    <aside className="w-72 shrink-0 overflow-auto border-l border-rule pr-1 pb-6 pl-4" aria-label="Projects">
      <h1 className="mb-2 text-lg font-semibold">Takes</h1>
      {shown.length === 0 && <p className="text-muted">No takes yet. “New take” on a footage starts one.</p>}
      {shown.map((p) => (
        <section key={p.id} className="mb-4">
          <h2 className="label mb-1">{p.name}</h2>
          <ul>
            {p.takes.map((t) => (
              <Take key={t.id} take={t} footage={there.get(t.footageId) ?? ''} />
            ))}
          </ul>
        </section>
      ))}
    </aside>
  );
}

function Take({ take, footage }: { take: TakeRecord; footage: string }) {
  const { revalidate } = useRevalidator();
  const [name, setName] = useState<string | null>(null);
  const post = async (body: object) => {
    await fetch(`/takes/${take.id}`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
    await revalidate();
  }; // prettier-ignore
  const remove = async () => {
    await post({ intent: 'delete' });
    toast(`The take “${take.name}” was deleted.`, { duration: 12_000, action: { label: 'Undo', onClick: () => void post({ intent: 'restore' }) } });
  }; // prettier-ignore
  const rename = () => {
    if (name?.trim() && name !== take.name) void post({ intent: 'rename', name });
    setName(null);
  };
  return (
    <li className="group relative border-t border-rule py-1.5" data-testid="take">
      {name === null ? (
        <Link to={`/studio/${take.id}`} className="block truncate font-medium hover:underline" title={take.name}>
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
        <span className="min-w-0 flex-1 truncate text-muted">{footage}</span>
        <button className="icon-button size-6!" aria-label={`Rename ${take.name}`} title="Rename" onClick={() => setName(take.name)}>
          <Pencil size={12} />
        </button>
        <button className="icon-button size-6!" aria-label={`Duplicate ${take.name}`} title="Duplicate, to try another version" onClick={() => void post({ intent: 'duplicate' })}>
          <Copy size={12} />
        </button>
        <button className="icon-button size-6!" aria-label={`Delete ${take.name}`} title="Delete; it can be brought back" onClick={() => void remove()}>
          <Trash2 size={12} />
        </button>
      </div>
    </li>
  );
} // prettier-ignore
