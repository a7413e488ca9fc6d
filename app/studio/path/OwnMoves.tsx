/** What somebody keeps: moves, lenses and curves of their own, named, used, saved as files and read from them. */
import { Plus, Upload } from 'lucide-react';
import { onView } from '@glimbo/core/moves/kept';
import { clippingOf, lengthOf } from '@glimbo/core/path/clipping';
import { chooseFiles } from '~/ui/files';
import { IconButton } from '~/ui/IconButton';
import { putHere } from '../commands/path-edits';
import { keepFile, keepItem, useKept } from '../state/kept';
import { useStudio, useStudioStore } from '../state/store';
import { KeptRow } from '../fields/KeptRow';

export function OwnMoves() {
  const store = useStudioStore();
  const moves = useKept('glimbo-move');
  const lenses = useKept('glimbo-lens');
  const curves = useKept('glimbo-curve');
  const some = useStudio((s) => s.selection.size > 0);
  const keepSelected = () => {
    const { take, selection } = store.getState();
    const keys = clippingOf(take().path, selection);
    if (keys) void keepItem({ format: 'glimbo-move', version: 1, name: `Move ${moves.length + 1}`, keys });
  };
  return (
    <section className="mt-3" aria-label="Own moves">
      <div className="flex items-center gap-1">
        <h3 className="label mr-auto">Own</h3>
        <button
          className="button h-6!"
          disabled={!some}
          onClick={keepSelected}
          title="Keep the selected keyframes as a move"
        >
          <Plus size={13} /> Keep selected
        </button>
        <IconButton label="Read a move, lens or curve from a file" onClick={() => chooseFiles('.json', keepFile)}>
          <Upload size={14} />
        </IconButton>
      </div>
      {moves.length + lenses.length + curves.length === 0 && (
        <p className="text-muted">None yet. Select keyframes and keep them here.</p>
      )}
      <ul>
        {moves.map((item) => (
          <KeptRow key={item.id} item={item} about={`${lengthOf(item.document.keys).toFixed(1)} s`}>
            <button
              className="button h-6! px-1.5!"
              onClick={() => putHere(store, onView(item.document.keys, store.getState().view()))}
              title="Put it at the playhead, from the heading that is framed"
            >
              Put here
            </button>
          </KeptRow>
        ))}
        {lenses.map((item) => (
          <KeptRow key={item.id} item={item} about="lens" />
        ))}
        {curves.map((item) => (
          <KeptRow key={item.id} item={item} about="curve" />
        ))}
      </ul>
    </section>
  );
}
