/** The Studio's head: the take's name, the stations, undo, and how it stands with saving. */
import { Copy, Redo2, Undo2 } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { canRedo, canUndo } from '@glimbo/core/take/history';
import type { StudioData } from '~/routes/studio';
import { SheetSwitch } from '~/ui/Header';
import type { SaveState } from './saver';
import { STATIONS, useStudio, useStudioStore, type Station } from './store';

const STATION_NAMES: Record<Station, string> = {
  source: 'Source',
  level: 'Level',
  path: 'Path',
  export: 'Export',
};
/** How it stands with saving, in a few words. */
const saveWords = (save: SaveState): string => {
  if (save.kind === 'saved') return 'saved';
  if (save.kind === 'saving' || save.kind === 'unsaved') return 'saving…';
  if (save.kind === 'offline') return `not saved: ${save.sentence ?? 'no answer from the server, trying again'}`;
  return 'not saved';
};

export function StudioHeader({ loaded }: { loaded: StudioData }) {
  const store = useStudioStore();
  const station = useStudio((s) => s.station);
  const history = useStudio((s) => s.history);
  const save = useStudio((s) => s.save);
  const navigate = useNavigate();
  const [name, setName] = useState(loaded.record.name);
  const post = (body: object) =>
    fetch(`/takes/${loaded.record.id}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
  const duplicate = async () => {
    const made = (await (await post({ intent: 'duplicate' })).json()) as { id: string; name: string };
    toast(`Now in “${made.name}”. The take you came from is as you left it.`);
    void navigate(`/studio/${made.id}`);
  };
  return (
    <header className="flex h-12 shrink-0 items-center gap-3 border-b border-edge px-3">
      <Link to="/" className="flex items-center gap-2" aria-label="To the Library" title="To the Library">
        <img src="/mark.svg" alt="" width={22} height={22} />
      </Link>
      <span className="min-w-0 truncate">
        <span className="text-muted">{loaded.record.projectName} / </span>
        <input
          aria-label="Name of the take"
          className="w-56 border-b border-transparent bg-transparent font-semibold hover:border-rule"
          value={name}
          onChange={(e) => setName(e.target.value)}
          onBlur={() =>
            name.trim()
              ? name !== loaded.record.name && void post({ intent: 'rename', name })
              : setName(loaded.record.name)
          }
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
      </span>
      <button
        className="icon-button"
        onClick={() => void duplicate()}
        title="Duplicate this take to try another version"
        aria-label="Duplicate this take"
      >
        <Copy size={14} />
      </button>
      <nav className="mx-auto flex items-center" aria-label="Stations">
        {STATIONS.map((s, i) => (
          <span key={s} className="flex items-center">
            {i > 0 && <span className="h-px w-6 bg-edge" />}
            <button
              className="flex items-center gap-1.5 px-2 py-2"
              aria-current={station === s ? 'step' : undefined}
              onClick={() => store.getState().set({ station: s })}
            >
              <span
                className={`size-2.5 rounded-full border-2 ${station === s ? 'border-camera bg-camera' : 'border-edge'}`}
              />
              <span className={station === s ? 'font-semibold' : 'text-muted'}>{STATION_NAMES[s]}</span>
            </button>
          </span>
        ))}
      </nav>
      <button
        className="icon-button"
        disabled={!canUndo(history)}
        onClick={() => store.getState().undo()}
        title="Undo (Ctrl Z)"
        aria-label="Undo"
      >
        <Undo2 size={15} />
      </button>
      <button
        className="icon-button"
        disabled={!canRedo(history)}
        onClick={() => store.getState().redo()}
        title="Redo (Ctrl Shift Z)"
        aria-label="Redo"
      >
        <Redo2 size={15} />
      </button>
      <span
        className={`figure max-w-80 min-w-14 truncate ${['saved', 'saving', 'unsaved'].includes(save.kind) ? 'text-muted' : 'text-camera'}`}
        title={saveWords(save)}
        role="status"
        data-testid="save-state"
      >
        {saveWords(save)}
      </span>
      <SheetSwitch />
    </header>
  );
}
