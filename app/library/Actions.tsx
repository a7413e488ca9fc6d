/** What can be done with a footage: a new take, favourite, information, delete; or, once deleted, bring it back. */
import { Info, Plus, Star, Trash2, Undo2 } from 'lucide-react';
import { useFetcher } from 'react-router';
import { toast } from 'sonner';
import { useFootageAct } from '~/ui/footage-act';
import type { LibraryFootage } from '~/model/footage';
import type { TakeRecord } from '~/model/take';

export function Actions({
  footage,
  takes,
  onInfo,
}: {
  footage: LibraryFootage;
  takes: TakeRecord[];
  onInfo: () => void;
}) {
  const fetcher = useFetcher();
  const act = useFootageAct();
  const { id, name, favourite } = footage;
  if (footage.deleted)
    return (
      <button className="button" onClick={() => void act(id, { intent: 'restore' })}>
        <Undo2 size={14} /> Bring back
      </button>
    );
  const remove = async () => {
    if (!(await act(id, { intent: 'delete' }))) return;
    const hanging = takes.length
      ? ` With it went ${takes.length === 1 ? `the take “${takes[0]!.name}”` : `${takes.length} takes`}.`
      : '';
    toast(`${name} was deleted.${hanging}`, {
      duration: 12_000,
      action: { label: 'Undo', onClick: () => void act(id, { intent: 'restore' }) },
    });
  };
  return (
    <div className="flex shrink-0 items-center">
      <button
        className="icon-button"
        aria-label={favourite ? `${name} is a favourite` : `Make ${name} a favourite`}
        title="Favourite"
        aria-pressed={favourite}
        onClick={() => void act(id, { intent: 'remark', favourite: !favourite })}
      >
        <Star size={14} fill={favourite ? 'currentColor' : 'none'} />
      </button>
      <button className="icon-button" aria-label={`About ${name}`} title="Facts, tags and notes" onClick={onInfo}>
        <Info size={14} />
      </button>
      <button
        className="icon-button mr-1"
        aria-label={`Delete ${name}`}
        title="Delete; it can be brought back"
        onClick={() => void remove()}
      >
        <Trash2 size={14} />
      </button>
      <fetcher.Form method="post" action="/?index">
        <input type="hidden" name="footage" value={id} />
        <button className="button" name="intent" value="new-take">
          <Plus size={14} /> New take
        </button>
      </fetcher.Form>
    </div>
  );
}
