/** A Sketch: a path proposed from what happens, taken whole or by stretch, with its reasons. */
import { Sparkles } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { freeSpans, laySketch } from '@glimbo/core/sketch/lay';
import type { Reason } from '@glimbo/core/sketch/reasons';
import { SKETCH_LIMITS, USUAL_SKETCH, type Sketch, type SketchDials as Dials } from '@glimbo/core/sketch/sketch';
import { isWhole } from '~/model/footage';
import { NumberField } from '~/ui/Dial';
import { clock } from '~/ui/format';
import { Select } from '~/ui/Select';
import { SketchDials } from '~/ui/SketchDials';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';
import { askSketch, type Want } from './ask-sketch';

export function SketchPart() {
  const store = useStudioStore();
  const whole = useStudio((s) => isWhole(s.footage));
  const sketch = useStudio((s) => s.sketch);
  const [dials, setDials] = useState<Dials>(USUAL_SKETCH);
  const [wants, setWants] = useState<Readonly<Record<string, Want>>>({});
  const [busy, setBusy] = useState(false);
  const asked = useRef(0);
  const propose = async (how = dials, whom = wants) => {
    const turn = ++asked.current;
    setBusy(true);
    try {
      const found = await askSketch(store, how, whom);
      if (turn === asked.current) store.getState().showSketch(found);
    } catch {
      if (turn === asked.current)
        toast.error('A path could not be proposed. Your take is as it was; try it again.', { id: 'sketch' });
    }
    if (turn === asked.current) setBusy(false);
  };
  /** Once there is a Sketch it follows the dials. */
  const turn = (change: Partial<Dials>) => {
    const next = { ...dials, ...change };
    if (next.length === undefined) delete next.length;
    setDials(next);
    if (sketch) void propose(next);
  };
  const want = (id: string, how: Want) => {
    const next = { ...wants, [id]: how };
    setWants(next);
    if (sketch) void propose(dials, next);
  };
  if (!whole)
    return (
      <p className="px-3 py-2 text-muted">
        A path can be proposed once the footage is gathered: what moves is known then.
      </p>
    );
  return (
    <div className="grid h-full grid-cols-2 divide-x divide-rule">
      <section className="overflow-auto px-3 py-1.5" aria-label="Sketch">
        <button className="button main" disabled={busy} onClick={() => void propose()}>
          <Sparkles size={14} /> {sketch ? 'Propose anew' : 'Propose a path'}
        </button>
        <div className="mt-1">
          <SketchDials dials={dials} onChange={turn} />
        </div>
        <Length length={dials.length} onChange={(length) => turn({ length })} />
        <Subjects wants={wants} onWant={want} />
      </section>
      <section className="overflow-auto px-3 py-1.5" aria-label="What is proposed">
        {sketch ? <Proposed sketch={sketch} /> : <p className="text-muted">{ABOUT}</p>}
      </section>
    </div>
  );
}

const ABOUT =
  'A first path from what moves, from subjects that are followed and from marks, for this range and format. It is drawn ' +
  'dotted on the Sweep; nothing of yours changes until you take it.';

/** The length wanted; without one the whole range. */
function Length({ length, onChange }: { length: number | undefined; onChange: (length: number | undefined) => void }) {
  const { range } = useTake();
  const most = Math.min(SKETCH_LIMITS.length.most, range.out - range.in);
  return (
    <div className="flex items-center gap-2">
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={length !== undefined}
          onChange={(e) => onChange(e.target.checked ? Math.max(SKETCH_LIMITS.length.least, most / 2) : undefined)}
        />
        Only the best
      </label>
      {length !== undefined && (
        <NumberField
          label="Length wanted"
          value={length}
          min={SKETCH_LIMITS.length.least}
          max={most}
          unit=" s"
          className="h-6! w-18"
          onCommit={onChange}
        />
      )}
    </div>
  );
}

function Subjects({
  wants,
  onWant,
}: {
  wants: Readonly<Record<string, Want>>;
  onWant: (id: string, how: Want) => void;
}) {
  const subjects = useStudio((s) => s.subjects);
  if (subjects.length === 0) return null;
  return (
    <ul className="mt-1" aria-label="Subjects of the Sketch">
      {subjects.map(({ id, name }) => (
        <li key={id} className="flex items-center gap-2">
          <span className="min-w-0 flex-1 truncate">{name}</span>
          <Select<Want>
            label={`How ${name} counts`}
            className="h-6!"
            value={wants[id] ?? 'some'}
            options={[
              ['some', 'counts'],
              ['must', 'must be seen'],
              ['never', 'leave out'],
            ]}
            onChange={(how) => onWant(id, how)}
          />
        </li>
      ))}
    </ul>
  );
}

function Proposed({ sketch }: { sketch: Sketch }) {
  const store = useStudioStore();
  const { path, range } = useTake();
  const tried = useStudio((s) => s.tried !== null);
  const [over, setOver] = useState(false);
  const times = useClock();
  const free = freeSpans(path, sketch);
  const room = free.length > 0;
  const byHand = !free.some((s) => s.from === sketch.from && s.to === sketch.to);
  const laid = () => laySketch(store.getState().take().path, sketch, over, store.getState().footage.facts.rate);
  const take = () => {
    const next = laid();
    const shorter = sketch.from > range.in || sketch.to < range.out;
    store
      .getState()
      .edit((t) => ({ ...t, path: next, ...(shorter ? { range: { in: sketch.from, out: sketch.to } } : {}) }));
    store.getState().showSketch(null);
  };
  const look = () => store.getState().tryPath(tried ? null : laid(), 'A Sketch.');
  useEffect(() => () => store.getState().tryPath(null), [store, sketch, over]);
  return (
    <>
      <div className="flex flex-wrap gap-1">
        <button className="button main h-6!" disabled={!over && !room} onClick={take}>
          Take it
        </button>
        <button className="button h-6!" aria-pressed={tried} disabled={!over && !room} onClick={look}>
          Look through it
        </button>
        <button className="button h-6!" onClick={() => store.getState().showSketch(null)}>
          Throw it away
        </button>
      </div>
      {byHand && (
        <label className="mt-1 flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={over}
            onChange={(e) => {
              setOver(e.target.checked);
            }}
          />
          Over my keyframes, too
        </label>
      )}
      <p className="mt-1 text-muted">
        {!over && byHand
          ? room
            ? 'Only before and after your keyframes.'
            : 'Your keyframes are all over this range: they stay unless you say so.'
          : `${clock(times.shown(sketch.from))} to ${clock(times.shown(sketch.to))}.`}{' '}
        Drag along the dotted line on the Sweep to take a part.
      </p>
      <ol className="mt-1" aria-label="Why here">
        {sketch.reasons.map((reason) => (
          <li key={reason.from} className="flex gap-2 border-b border-rule py-0.5">
            <button className="figure underline" onClick={() => store.getState().setTime(reason.from)}>
              {clock(times.shown(reason.from), 1)}
            </button>
            <span>{inWords(reason)}</span>
          </li>
        ))}
      </ol>
    </>
  );
}

/** A reason as a sentence. */
export function inWords({ why, mark }: Reason): string {
  const marked = mark ? ', at a mark' : '';
  if (why.kind === 'subject') return `${why.name} is there${marked}`;
  if (why.kind === 'calm') return `nothing in particular: it stays, or is on its way${marked}`;
  return `something moves at ${Math.round(why.heading)}°${marked}`.replace('-', '−');
}
