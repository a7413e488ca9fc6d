/** The Studio's head: the take's name, the stations, undo, and how it stands with saving. */
import { Copy, Redo2, Undo2 } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { changeInWords } from '@glimbo/core/edit/change-words';
import { canRedo, canUndo } from '@glimbo/core/document/history';
import { IconButton } from '~/ui/IconButton';
import { SheetSwitch } from '~/ui/Header';
import { sendJson } from '~/ui/send';
import type { SaveState } from './state/save-state';
import { STATION_IDS, STATIONS } from './state/stations';
import { useStudio, useStudioStore } from './state/store';
import type { TakeRecord } from '~/model/take';

/** How it stands with saving, in a few words. */
const saveWords = (save: SaveState, drafted: boolean): string => {
  if (save.kind === 'saved') return 'saved';
  if (save.kind === 'saving' || save.kind === 'unsaved') return 'saving…';
  const here = drafted ? '' : ', and not kept in this browser either: leave this page open';
  if (save.kind === 'offline') return `not saved${here}: ${save.sentence ?? 'no answer from the server, trying again'}`;
  return `not saved${here}`;
};

export function StudioHeader({ record }: { record: TakeRecord }) {
  const store = useStudioStore();
  const station = useStudio((s) => s.station);
  const history = useStudio((s) => s.history);
  const save = useStudio((s) => s.save);
  const drafted = useStudio((s) => s.drafted);
  const [before, now, after] = [-1, 0, 1].map((n) => history.steps[history.at + n]);
  const undone = before && now && changeInWords(before, now);
  const redone = now && after && changeInWords(now, after);
  const navigate = useNavigate();
  const [name, setName] = useState(record.name);
  const post = (body: object) => sendJson<{ id: string; name: string }>(`/takes/${record.id}`, body);
  const duplicate = async () => {
    const { problem, ...made } = await post({ intent: 'duplicate' });
    if (problem) return void toast.error(problem);
    toast(`Now in “${made.name}”. The take you came from is as you left it.`);
    void navigate(`/studio/${made.id}`);
  };
  const rename = async () => {
    if (!name.trim()) return setName(record.name);
    if (name === record.name) return;
    const { problem } = await post({ intent: 'rename', name });
    if (problem) toast.error(problem);
  };
  return (
    <header className="flex h-12 shrink-0 items-center gap-3 border-b border-edge px-3">
      <Link to="/" className="flex items-center gap-2" aria-label="To the Library" title="To the Library">
        <img src="/mark.svg" alt="" width={22} height={22} />
      </Link>
      <h1 className="sr-only">{name}</h1>
      <span className="min-w-0 truncate">
        <span className="text-muted">{record.projectName} / </span>
        <input
          aria-label="Name of the take"
          className="w-56 border-b border-transparent bg-transparent font-semibold hover:border-rule"
          value={name}
          onChange={(e) => setName(e.target.value)}
          onBlur={() => void rename()}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
      </span>
      <IconButton
        onClick={() => void duplicate()}
        title="Duplicate this take to try another version"
        label="Duplicate this take"
      >
        <Copy size={14} />
      </IconButton>
      <nav className="mx-auto flex items-center" aria-label="Stations">
        {STATION_IDS.map((s, i) => (
          <span key={s} className="flex items-center">
            {i > 0 && <span className="h-px w-6 bg-edge" />}
            <button
              className="flex items-center gap-1.5 px-2 py-2"
              aria-current={station === s ? 'step' : undefined}
              onClick={() => store.getState().goTo(s)}
            >
              <span
                className={`size-2.5 rounded-full border-2 ${station === s ? 'border-camera bg-camera' : 'border-edge'}`}
              />
              <span className={station === s ? 'font-semibold' : 'text-muted'}>{STATIONS[s]}</span>
            </button>
          </span>
        ))}
      </nav>
      <IconButton
        disabled={!canUndo(history)}
        onClick={() => store.getState().undo()}
        title={undone ? `Undo: ${undone} (Ctrl Z)` : 'Undo (Ctrl Z)'}
        label="Undo"
      >
        <Undo2 size={15} />
      </IconButton>
      <IconButton
        disabled={!canRedo(history)}
        onClick={() => store.getState().redo()}
        title={redone ? `Redo: ${redone} (Ctrl Shift Z)` : 'Redo (Ctrl Shift Z)'}
        label="Redo"
      >
        <Redo2 size={15} />
      </IconButton>
      <span
        className={`figure max-w-80 min-w-14 truncate ${['saved', 'saving', 'unsaved'].includes(save.kind) ? 'text-muted' : 'text-error'}`}
        title={saveWords(save, drafted)}
        role="status"
        data-testid="save-state"
      >
        {saveWords(save, drafted)}
      </span>
      <SheetSwitch />
    </header>
  );
}
