/** Ready moves: tried on what is framed at the playhead, and taken as keyframes. */
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Path } from '@glimbo/core/path/path';
import { clippingOfMove, MOVES, usualValues, type Move } from '@glimbo/core/moves/moves';
import { pasteClipping, type Clipping } from '@glimbo/core/path/clipping';
import { Dial } from '~/ui/Dial';
import { putHere } from '../commands/path-edits';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { MovePicture } from './MovePicture';
import { OwnMoves } from './OwnMoves';

export function MovesPart() {
  const [chosen, setChosen] = useState<Move | null>(null);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_minmax(0,1.1fr)] divide-x divide-rule">
      <div className="overflow-auto p-2.5">
        <div className="grid grid-cols-2 gap-1" role="group" aria-label="Moves">
          {MOVES.map((m) => (
            <button
              key={m.id}
              className="button h-auto! justify-start! gap-2! px-1! py-1! text-left whitespace-normal!"
              aria-pressed={chosen?.id === m.id}
              onClick={() => setChosen(chosen?.id === m.id ? null : m)}
            >
              <MovePicture move={m} />
              {m.name}
            </button>
          ))}
        </div>
        <OwnMoves />
      </div>
      {chosen ? <Trial key={chosen.id} move={chosen} onDone={() => setChosen(null)} /> : <About />}
    </div>
  );
}

const About = () => (
  <div className="p-3 text-muted">
    <p>
      A move is put at the playhead on what is framed there. It is tried first, then taken as keyframes like any others.
    </p>
    <p className="mt-2">Keyframes that are selected can be kept as a move of your own, on the left.</p>
  </div>
);

/** A move while it is tried: its way is dotted on Map and Sweep, and the Frame shows it. */
function Trial({ move, onDone }: { move: Move; onDone: () => void }) {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const [values, setValues] = useState(() => usualValues(move));
  // What is framed where it was begun: going on in time to look at the trial does not move it.
  const [begun, setBegun] = useState(() => ({ at: time, view: store.getState().view() }));
  const clipping = useMemo(() => clippingOfMove(move, begun.view, values), [move, begun, values]);
  useTrial(clipping, begun.at, take.path, onDone);
  const taken = () => {
    const { setTime, tryPath } = store.getState();
    tryPath(null);
    setTime(begun.at);
    putHere(store, clipping);
    onDone();
  };
  return (
    <section className="flex flex-col gap-1 overflow-auto p-3" aria-label={move.name}>
      <p>
        {move.about}.{' '}
        <span className="text-muted">What is framed is its {move.framed === 'first' ? 'beginning' : 'end'}.</span>
      </p>
      {move.dials.map((d) => (
        <Dial
          key={d.id}
          name={d.name}
          value={values[d.id] ?? d.usual}
          min={d.least}
          max={d.most}
          step={d.step}
          digits={d.step < 1 ? 1 : 0}
          unit={d.unit}
          reset={d.usual}
          onChange={(v) => setValues({ ...values, [d.id]: v })}
          onEnd={() => {}}
        />
      ))}
      <div className="mt-1 flex flex-wrap items-center gap-2">
        <button className="button main" onClick={taken}>
          Take it
        </button>
        <button className="button" onClick={() => setBegun({ at: time, view: { ...store.getState().view() } })}>
          Try it here
        </button>
        <button className="button" onClick={onDone}>
          Leave it
        </button>
      </div>
    </section>
  );
}

/** Has a path tried with a clipping in it, for as long as the component stands; when it was kept by key, that is the end of it. */
function useTrial(clipping: Clipping, at: number, path: Path, onKept: () => void) {
  const store = useStudioStore();
  const last = useRef<Path | null>(null);
  useEffect(() => {
    if (path === last.current) return onKept();
    const { rate, duration } = store.getState().footage.facts;
    last.current = pasteClipping(path, clipping, at, { rate, end: duration }).path;
    store.getState().tryPath(last.current);
  }, [store, clipping, at, path, onKept]);
  useEffect(() => () => store.getState().tryPath(null), [store]);
}
