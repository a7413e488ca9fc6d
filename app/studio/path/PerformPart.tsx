/** Performing the camera's way by hand while the footage plays. */
import { Circle, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Sample } from '@glimbo/core/path/simplify';
import { Choice } from '~/ui/Choice';
import { Dial } from '~/ui/Dial';
import { useStudio, useStudioStore } from '../state/store';
import { usePlayer } from '../player/player-context';
import { nameFollowed, Performance, tryPerformed, wayFollowed } from './performance';

const SPEEDS = [
  ['0.25', '¼'],
  ['0.5', '½'],
  ['1', '1'],
] as const;

export function PerformPart() {
  const store = useStudioStore();
  const player = usePlayer();
  const tried = useStudio((s) => s.tried !== null);
  const performing = useStudio((s) => s.performing !== null);
  const [speed, setSpeed] = useState<(typeof SPEEDS)[number][0]>('1');
  const [width, setWidth] = useState(0.25);
  const [tolerance, setTolerance] = useState(1.5);
  const [stays, setStays] = useState(true);
  const [samples, setSamples] = useState<Sample[] | null>(null);
  const [made, setMade] = useState<{ deviation: number; keys: number } | null>(null);
  const followed = useStudio(nameFollowed);
  const running = useRef<Performance | null>(null);
  useEffect(() => () => running.current?.stop(), []);

  const begin = () => {
    store.getState().tryPath(null);
    setSamples(null);
    setMade(null);
    running.current = new Performance(
      store,
      () => player.playAt(Number(speed)),
      () => player.pause(),
      (steered) => {
        running.current = null;
        setSamples(steered);
        const now = tryPerformed(store, steered, { width, tolerance });
        setMade(now);
        if (!now && steered.length) toast('That was too short to become a path. Perform for a second or more.');
      },
      (stays && wayFollowed(store.getState())) || undefined,
    );
  };
  // Smoothing and tolerance can be turned as long as it is tried.
  const again = (change: { width?: number; tolerance?: number }) => {
    const how = { width, tolerance, ...change };
    setWidth(how.width);
    setTolerance(how.tolerance);
    if (samples && tried) setMade(tryPerformed(store, samples, how));
  };
  return (
    <div className="grid h-full grid-cols-2 divide-x divide-rule">
      <div className="flex flex-col gap-2 overflow-auto p-3">
        <p>
          Steer while it plays: drag in the Frame and use the wheel, hold <span className="figure">A D W S</span> to
          aim, <span className="figure">Q E</span> to roll, <span className="figure">+ −</span> to zoom; or take a
          gamepad. What you steer replaces path and Follows from the playhead on, as far as you go.
        </p>
        {followed && (
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={stays} onChange={(e) => setStays(e.target.checked)} />
            Stay with {followed}: what you steer goes round it
          </label>
        )}
        <Choice label="Play at" value={speed} options={SPEEDS} onChange={setSpeed} />
        <button
          className="button main self-start"
          onClick={() => (performing ? running.current?.stop() : begin())}
          data-testid="perform"
        >
          {performing ? (
            <>
              <Square size={12} /> Stop (Enter)
            </>
          ) : (
            <>
              <Circle size={12} /> Perform from here
            </>
          )}
        </button>
      </div>
      <div className="flex flex-col gap-1 overflow-auto p-3">
        <Dial
          name="Smoothing"
          value={width}
          min={0}
          max={1.5}
          step={0.05}
          digits={2}
          unit=" s"
          reset={0.25}
          onChange={(v) => again({ width: v })}
          onEnd={() => {}}
        />
        <Dial
          name="Tolerance"
          value={tolerance}
          min={0.2}
          max={10}
          step={0.1}
          unit="°"
          reset={1.5}
          onChange={(v) => again({ tolerance: v })}
          onEnd={() => {}}
        />
        {made && tried ? (
          <>
            <p data-testid="performed">
              {made.keys} keyframes, {made.deviation.toFixed(2)}° from what you steered at most.
            </p>
            <div className="flex gap-2">
              <button className="button main" onClick={() => store.getState().keepTried()}>
                Keep it
              </button>
              <button className="button" onClick={() => store.getState().tryPath(null)}>
                Throw it away
              </button>
            </div>
          </>
        ) : (
          <p className="text-muted">What you performed is tried first, dotted beside the path that there was.</p>
        )}
      </div>
    </div>
  );
}
