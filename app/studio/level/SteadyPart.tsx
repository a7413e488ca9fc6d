/** Steady: mode, strength, window or pins, and what ahead follows. */
import { Trash2 } from 'lucide-react';
import { useEffect } from 'react';
import { useRevalidator } from 'react-router';
import { toast } from 'sonner';
import type { Motion } from '@glimbo/core/motion/motion';
import { inMode } from '@glimbo/core/steady/choose';
import { removePin, setPin } from '@glimbo/core/steady/propose';
import {
  LONGEST_WINDOW,
  noSteady,
  type Heading,
  type PinKind,
  type Steady,
  type SteadyMode,
} from '@glimbo/core/steady/settings';
import { stretchOf } from '@glimbo/core/take/take';
import { Choice } from '~/ui/Choice';
import { Dial } from '~/ui/Dial';
import { Select } from '~/ui/Select';
import type { Job } from '~/db/jobs';
import type { JobEvent } from '~/jobs/events';
import { clock, left } from '~/ui/format';
import { useStudio, useStudioStore, useTake, type StudioStore } from '../store';
import { analyseMotion, stopJob } from './analysis';
import { askMotion } from './motion-reader';
import { KeepFraming } from './OrientPart';

const MODES = [
  ['off', 'Off', 'As it was filmed'],
  ['rolling', 'Rolling', 'Smooths over a window'],
  ['pinned', 'Pinned', 'As filmed at chosen moments, and evenly from one to the next'],
  ['still', 'Still', 'Takes all turning out'],
] as const;
const HEADINGS: readonly (readonly [Heading, string])[] = [
  ['world', 'The world: turning is taken out'],
  ['rig', 'The rig: turns with it'],
  ['travel', 'The travel: faces the way it goes'],
];
const KINDS: readonly (readonly [PinKind, string])[] = [
  ['filmed', 'on to the next pin'],
  ['off', 'off from here on'],
  ['still', 'still from here on'],
];

/** Changes the steadying of the take. */
function steadyBy(store: StudioStore, change: Partial<Steady>, gesture?: string) {
  const { take, correct } = store.getState();
  correct({ steady: { ...noSteady(), ...take().steady, ...change } }, gesture);
}

async function setMode(store: StudioStore, motion: Motion, mode: SteadyMode) {
  const present = store.getState().take();
  const pins = mode === 'pinned' && !present.steady?.pins.length ? await askMotion('pins', motion, present) : [];
  if (!pins) return;
  const { take, correct, time } = store.getState();
  correct({ steady: inMode(take().steady, mode, time, pins) });
}

/** Steadying needs the motion: one press has it analysed and goes on by itself. */
function BeforeAnalysis({ known, analysing, sidecar, events }: Analysis & { known: boolean }) {
  const store = useStudioStore();
  const { id, gathered } = useStudio((s) => s.footage);
  const next = useStudio((s) => s.steadyNext);
  const revalidator = useRevalidator();
  const event = analysing ? events.get(analysing.id) : undefined;
  const state = event?.state ?? analysing?.state;
  const going = state === 'queued' || state === 'running';
  const start = async (mode: SteadyMode) => {
    store.getState().set({ steadyNext: mode });
    // One that waits for an idle moment is begun now.
    if (going && state === 'running') return;
    const { problem } = await analyseMotion(id, sidecar);
    if (problem) {
      store.getState().set({ steadyNext: null });
      toast.error(problem);
    }
    await revalidator.revalidate();
  };
  if (known) return <p className="p-3 text-muted">The motion analysis is on its way.</p>;
  const progress = event?.progress ?? analysing?.progress ?? 0;
  return (
    <section className="flex max-w-130 flex-col gap-2 p-3" aria-label="Steady">
      <p>Steadying needs to know how the rig moved. That is found out once, for all takes of this footage.</p>
      <div className="flex flex-wrap items-center gap-2">
        {MODES.slice(1).map(([mode, name, about]) => (
          <button
            key={mode}
            className={`button ${mode === 'rolling' ? 'main' : ''}`}
            title={about}
            disabled={!gathered || (going && next !== null)}
            aria-pressed={next === mode}
            onClick={() => void start(mode)}
          >
            Analyse, then {name}
          </button>
        ))}
      </div>
      {state === 'failed' && <p className="text-camera">{event?.error ?? analysing?.error}</p>}
      {!gathered && <p className="text-muted">The proxy has to be made first.</p>}
      {going && (
        <div className="flex items-center gap-3" role="status" data-testid="analysing">
          <span>{state === 'queued' ? 'Waiting for its turn' : 'Analysing the motion'}</span>
          <div className="bar flex-1">
            <div style={{ width: `${progress * 100}%` }} />
          </div>
          <span className="figure text-muted">
            {Math.round(progress * 100)} % {left(event?.left ?? null)}
          </span>
          <button
            className="button"
            onClick={() =>
              void (
                store.getState().set({ steadyNext: null }),
                stopJob(analysing!.id).then(() => revalidator.revalidate())
              )
            }
          >
            Cancel
          </button>
        </div>
      )}
      {going && next && (
        <p className="text-muted">When it is ready the take is steadied by itself. You can go on meanwhile.</p>
      )}
    </section>
  );
}

/**
 * Steadies as was asked for before the motion was known, as soon as it is. Stands in the Studio, since the bench may show
 * something else.
 */
export function useSteadyNext() {
  const store = useStudioStore();
  const motion = useStudio((s) => s.motion);
  const next = useStudio((s) => s.steadyNext);
  useEffect(() => {
    if (!motion || !next) return;
    store.getState().set({ steadyNext: null });
    void setMode(store, motion, next).then(() => toast('The motion is known now, and the take is steadied.'));
  }, [store, motion, next]);
}

interface Analysis {
  analysing: Job | null;
  sidecar: boolean;
  events: Map<string, JobEvent>;
}

export function SteadyPart(analysis: Analysis) {
  const store = useStudioStore();
  const take = useTake();
  const motion = useStudio((s) => s.motion);
  const known = useStudio((s) => s.footage.motion !== null);
  const steady: Steady = { ...noSteady(), ...take.steady };
  const { mode, heading } = steady;
  const end = () => store.getState().endGesture();
  if (!motion) return <BeforeAnalysis known={known} {...analysis} />;
  return (
    <div className="grid grid-cols-[minmax(330px,1fr)_minmax(330px,1fr)] divide-x divide-rule">
      <section className="flex flex-col gap-1 p-3" aria-label="Steady">
        <Choice label="Steady" value={mode} options={MODES} onChange={(m) => void setMode(store, motion, m)} />
        {mode !== 'off' && (
          <>
            <Dial
              name="Strength"
              value={steady.strength}
              min={0}
              max={100}
              step={1}
              digits={0}
              unit=" %"
              reset={100}
              onChange={(strength) => steadyBy(store, { strength }, 'steady-strength')}
              onEnd={end}
            />
            {mode === 'rolling' && (
              <Dial
                name="Window"
                value={steady.window}
                min={0.1}
                max={5}
                most={LONGEST_WINDOW}
                step={0.1}
                unit=" s"
                reset={1}
                onChange={(window) =>
                  steadyBy(
                    store,
                    { window, ...(heading.window === steady.window ? { heading: { ...heading, window } } : {}) },
                    'steady-window',
                  )
                }
                onEnd={end}
              />
            )}
            <div className="flex items-center gap-2">
              <span className="w-22 shrink-0">Heading</span>
              <Select
                label="Heading follows"
                value={heading.follows}
                options={HEADINGS}
                onChange={(follows) => steadyBy(store, { heading: { ...heading, follows } })}
              />
            </div>
            {heading.follows !== 'world' && mode !== 'pinned' && (
              <Dial
                name="Its window"
                value={heading.window}
                min={0}
                max={5}
                most={LONGEST_WINDOW}
                step={0.1}
                unit=" s"
                reset={1}
                onChange={(window) => steadyBy(store, { heading: { ...heading, window } }, 'heading-window')}
                onEnd={end}
              />
            )}
          </>
        )}
        <div className="mt-2 flex flex-col gap-1">
          <p className="text-muted">
            <span className="figure">B</span>, held, shows it as it was filmed.
          </p>
          <KeepFraming />
        </div>
      </section>
      {mode === 'pinned' ? (
        <Pins steady={steady} motion={motion} />
      ) : mode === 'still' ? (
        <StillFrame frame={steady.frame} />
      ) : (
        <section className="p-3 text-muted">
          {mode === 'off'
            ? 'Nothing is steadied.'
            : `Each moment is held as the mean of ${steady.window.toFixed(1)} s to either side. A longer window is calmer; what the rig does on purpose comes later and softer.`}
        </section>
      )}
    </div>
  );
}

function StillFrame({ frame }: { frame: number }) {
  const store = useStudioStore();
  const time = useStudio((s) => s.time);
  const stretch = stretchOf(
    useTake(),
    useStudio((s) => s.footage.facts.rate),
  );
  return (
    <section className="flex flex-col gap-2 p-3" aria-label="Still">
      <p>
        Everything stays as in the frame at{' '}
        <button className="figure underline" onClick={() => store.getState().setTime(frame)}>
          {clock(frame * stretch)}
        </button>
      </p>
      <button className="button self-start" disabled={frame === time} onClick={() => steadyBy(store, { frame: time })}>
        As in this frame
      </button>
    </section>
  );
}

function Pins({ steady, motion }: { steady: Steady; motion: Motion }) {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const rate = useStudio((s) => s.footage.facts.rate);
  const stretch = stretchOf(take, rate);
  const put = (pins: Steady['pins']) => steadyBy(store, { pins });
  const here = steady.pins.find((p) => Math.abs(p.time - time) < 1e-6);
  const propose = async () => {
    const before = steady.pins;
    const pins = await askMotion('pins', motion, take);
    if (!pins) return;
    put(pins);
    if (before.length)
      toast('The pins were proposed anew.', { action: { label: 'Undo', onClick: () => store.getState().undo() } });
  };
  return (
    <section className="flex flex-col gap-1 p-3" aria-label="Pins">
      <div className="flex flex-wrap gap-2">
        <button className="button" disabled={!!here} onClick={() => put(setPin(steady.pins, { time, kind: 'filmed' }))}>
          Pin here
        </button>
        <button className="button" onClick={() => void propose()}>
          Propose pins
        </button>
      </div>
      {steady.pins.length === 0 && <p className="text-muted">No pins: everything is held as in the first frame.</p>}
      {steady.pins.map((pin) => (
        <div key={pin.time} className="flex items-center gap-2 border-t border-rule py-0.5" data-testid="pin-row">
          <button className="figure underline" onClick={() => store.getState().setTime(pin.time)}>
            {clock(pin.time * stretch)}
          </button>
          <Select
            label={`After the pin at ${clock(pin.time * stretch)}`}
            value={pin.kind}
            options={KINDS}
            onChange={(kind) => put(setPin(steady.pins, { ...pin, kind }))}
          />
          <button
            className="button h-6!"
            disabled={!!here}
            title="Moves this pin to the playhead"
            onClick={() => put(setPin(removePin(steady.pins, pin.time), { ...pin, time }))}
          >
            Move here
          </button>
          <button
            className="icon-button size-6!"
            aria-label={`Remove the pin at ${clock(pin.time * stretch)}`}
            title="Remove"
            onClick={() => put(removePin(steady.pins, pin.time))}
          >
            <Trash2 size={12} />
          </button>
        </div>
      ))}
    </section>
  );
}
