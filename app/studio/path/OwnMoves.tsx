/** What somebody keeps: moves, lenses and curves of their own, named, used, saved as files and read from them. */
import { Download, Plus, Trash2, Upload } from 'lucide-react';
import type { ReactNode } from 'react';
import { onView } from '@glimbo/core/moves/kept';
import { clippingOf, lengthOf } from '@glimbo/core/path/clipping';
import type { KeptItem } from '~/model/kept';
import { chooseFiles } from '~/ui/files';
import { IconButton } from '~/ui/IconButton';
import { putHere } from '../commands/path-edits';
import { forgetItem, keepFile, keepItem, saveAsFile, useKept } from '../state/kept';
import { useStudio, useStudioStore } from '../state/store';

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
          <Row key={item.id} item={item} about={`${lengthOf(item.document.keys).toFixed(1)} s`}>
            <button
              className="button h-6! px-1.5!"
              onClick={() => putHere(store, onView(item.document.keys, store.getState().view()))}
              title="Put it at the playhead, from the heading that is framed"
            >
              Put here
            </button>
          </Row>
        ))}
        {lenses.map((item) => (
          <Row key={item.id} item={item} about="lens" />
        ))}
        {curves.map((item) => (
          <Row key={item.id} item={item} about="curve" />
        ))}
      </ul>
    </section>
  );
}

/** One of them, by a name that can be changed. */
function Row({ item, about, children }: { item: KeptItem; about: string; children?: ReactNode }) {
  const { document } = item;
  return (
    <li className="flex items-center gap-1 border-b border-rule">
      <input
        className="min-w-0 flex-1 bg-transparent"
        aria-label={`Name of ${document.name}`}
        defaultValue={document.name}
        maxLength={80}
        onBlur={(e) => {
          const name = e.target.value.trim();
          if (name && name !== document.name) void keepItem({ ...document, name }, item.id);
        }}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
      <span className="figure text-muted">{about}</span>
      {children}
      <IconButton label={`Save ${document.name} as a file`} className="size-6!" onClick={() => saveAsFile(document)}>
        <Download size={13} />
      </IconButton>
      <IconButton label={`Remove ${document.name}`} className="size-6!" onClick={() => void forgetItem(item)}>
        <Trash2 size={13} />
      </IconButton>
    </li>
  );
}
