/** A take in the Library: its picture, what it is called, and what can be done with it there. */
import { Copy, Pencil, Star, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { Link, useRevalidator } from 'react-router';
import { toast } from 'sonner';
import { sendJson } from '~/ui/send';
import type { TakeRecord } from '~/model/take';

/** A take with what it needs of its footage: its name, and whether what the take shows is gathered. */
export type ListedTake = TakeRecord & { footage: string; drawn: boolean };

export function TakeRow({ take }: { take: ListedTake }) {
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
    <div className="group relative flex gap-2 border-t border-rule py-1.5" data-testid="take">
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
    </div>
  );
}

/** The take's Frame at its in point; an empty well until there is one. */
function Picture({ take }: { take: ListedTake }) {
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
