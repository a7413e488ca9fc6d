/** Steadying the take: how, how strongly, and what the heading follows. */
import { LONGEST_WINDOW, noSteady, type Heading, type Steady } from '@glimbo/core/steady/settings';
import { Choice } from '~/ui/Choice';
import { Dial } from '~/ui/Dial';
import { clock } from '~/ui/format';
import { Select } from '~/ui/Select';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';
import { BeforeAnalysis } from './BeforeAnalysis';
import { KeepFraming } from './OrientPart';
import { Pins } from './Pins';
import { MODES, setMode, steadyBy } from './steadying';

const HEADINGS: readonly (readonly [Heading, string])[] = [
  ['world', 'The world: turning is taken out'],
  ['rig', 'The rig: turns with it'],
  ['travel', 'The travel: faces the way it goes'],
];

export function SteadyPart() {
  const store = useStudioStore();
  const take = useTake();
  const motion = useStudio((s) => s.motion);
  const known = useStudio((s) => s.footage.motion !== null);
  const steady: Steady = { ...noSteady(), ...take.steady };
  const { mode, heading } = steady;
  const end = () => store.getState().endGesture();
  if (!motion) return <BeforeAnalysis known={known} />;
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
  const times = useClock();
  return (
    <section className="flex flex-col gap-2 p-3" aria-label="Still">
      <p>
        Everything stays as in the frame at{' '}
        <button className="figure underline" onClick={() => store.getState().setTime(frame)}>
          {clock(times.shown(frame))}
        </button>
      </p>
      <button className="button self-start" disabled={frame === time} onClick={() => steadyBy(store, { frame: time })}>
        As in this frame
      </button>
    </section>
  );
}
