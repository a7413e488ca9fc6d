/** What can be done with a footage: a new take, favourite, information, delete; or, once deleted, bring it back. */
import { Info, Plus, Star, Trash2, Undo2 } from 'lucide-react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { sendFootage, useFootageAct } from '~/ui/footage-act';
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
  const navigate = useNavigate();
  const act = useFootageAct();
  const { id, name, favourite } = footage;
  if (footage.deleted)
    return (
      <button className="button" onClick={() => void act(id, { intent: 'restore' })}>
        <Undo2 size={14} /> Bring back
      </button>
    );
  // Not by a redirect: a page that is loaded again meanwhile, since a job brought something, would swallow it.
  const begin = async () => {
    const { id: take, problem } = await sendFootage(id, { intent: 'take' });
    if (take) await navigate(`/studio/${take}`);
    else toast.error(problem ?? 'That footage is gone from the Library.');
  };
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
      <button className="button" onClick={() => void begin()}>
        <Plus size={14} /> New take
      </button>
    </div>
  );
}
