/** The marks and ranges of the footage, by name and time; a range becomes a take. */
import { Download, Flag, Plus, Trash2, Upload } from 'lucide-react';
import { useNavigate } from 'react-router';
import { clock } from '~/ui/format';
import { IconButton } from '~/ui/IconButton';
import { removeMark, removeRange, renameMark, takeOfRange, toggleMark, toggleRange } from '../state/marks';
import { readMarks, saveMarks } from './mark-files';
import { useClock, useStudio, useStudioStore } from '../state/store';

export function MarksPart() {
  const store = useStudioStore();
  const { marks, ranges } = useStudio((s) => s.footage);
  const open = useStudio((s) => s.rangeStart);
  const times = useClock();
  const navigate = useNavigate();
  const toTake = (id: string) => void navigate(`/studio/${id}`);
  const go = (time: number) => store.getState().setTime(time);
  return (
    <div className="grid grid-cols-2 divide-x divide-rule">
      <section className="p-3" aria-label="Marks">
        <div className="mb-2 flex items-center gap-2">
          <h2 className="label flex-1">Marks</h2>
          <IconButton label="Save marks and ranges as OpenTimelineIO" onClick={() => saveMarks(store)}>
            <Download size={13} />
          </IconButton>
          <IconButton label="Read marks and ranges from OpenTimelineIO" onClick={() => readMarks(store)}>
            <Upload size={13} />
          </IconButton>
          <button className="button" onClick={() => toggleMark(store)}>
            <Flag size={13} /> Mark here <span className="figure text-muted">M</span>
          </button>
        </div>
        {marks.length === 0 && <p className="text-muted">None yet. M names the moment at the playhead.</p>}
        {marks.map((m) => (
          <div key={m.id} className="flex items-center gap-2 border-t border-rule py-0.5" data-testid="mark">
            <button className="figure w-16 text-left underline" onClick={() => go(m.time)}>
              {clock(times.shown(m.time))}
            </button>
            <input
              className="min-w-0 flex-1 border-b border-transparent bg-transparent hover:border-rule"
              aria-label={`Name of the mark at ${clock(times.shown(m.time))}`}
              defaultValue={m.name}
              maxLength={120}
              onBlur={(e) => e.target.value !== m.name && renameMark(store, m, e.target.value)}
              onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
            />
            <button
              className="icon-button size-6!"
              aria-label={`Remove ${m.name}`}
              title="Remove"
              onClick={() => removeMark(store, m)}
            >
              <Trash2 size={12} />
            </button>
          </div>
        ))}
      </section>
      <section className="p-3" aria-label="Ranges">
        <div className="mb-2 flex items-center gap-2">
          <h2 className="label flex-1">Ranges</h2>
          <button className="button" onClick={() => toggleRange(store)} aria-pressed={open !== null}>
            {open === null ? 'Begin one here' : 'End it here'} <span className="figure opacity-70">R</span>
          </button>
        </div>
        {ranges.length === 0 && open === null && (
          <p className="text-muted">None yet. R begins a range at the playhead, R again ends it; T makes it a take.</p>
        )}
        {open !== null && (
          <p className="text-muted">A range begins at {clock(times.shown(open))}. Go to its end and press R.</p>
        )}
        {ranges.map((r, i) => (
          <div key={r.id} className="flex items-center gap-2 border-t border-rule py-0.5" data-testid="range">
            <button className="figure min-w-0 flex-1 text-left underline" onClick={() => go(r.in)}>
              {clock(times.shown(r.in))} to {clock(times.shown(r.out))}
            </button>
            <button className="button h-6!" onClick={() => void takeOfRange(store, toTake, r)}>
              <Plus size={12} /> Take of it
            </button>
            <button
              className="icon-button size-6!"
              aria-label={`Remove range ${i + 1}`}
              title="Remove"
              onClick={() => removeRange(store, r)}
            >
              <Trash2 size={12} />
            </button>
          </div>
        ))}
      </section>
    </div>
  );
}
