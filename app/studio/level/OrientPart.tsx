/** How the rig was mounted, and where ahead is. */
import { useEffect } from 'react';
import type { Angles } from '@glimbo/core/geometry/rotation';
import { mountNamed, MOUNTS, proposedMount, UPRIGHT, type MountName } from '@glimbo/core/level/mounts';
import { Choice } from '~/ui/Choice';
import { Dial, NumberField } from '~/ui/Dial';
import { centreHere } from './orient';
import { TurnFields } from './TurnFields';
import { useStudio, useStudioStore, useTake } from '../state/store';

const NAMES = [
  ['upright', 'Upright'],
  ['over', 'Upside down'],
  ['left', 'Left side'],
  ['right', 'Right side'],
] as const satisfies readonly (readonly [MountName, string])[];

export function OrientPart() {
  const store = useStudioStore();
  const take = useTake();
  const stands = useStudio((s) => s.motion?.stands);
  const turning = useStudio((s) => s.turning);
  const mount = take.orientation?.mount ?? UPRIGHT;
  const centre = take.orientation?.centre ?? { pan: 0, tilt: 0 };
  const proposed = proposedMount(stands, mount);
  // Leaving the part, dragging aims again.
  useEffect(() => () => store.getState().grabMount(false), [store]);
  const setMount = (m: Angles, gesture?: string) =>
    store.getState().correct({ orientation: { ...take.orientation, mount: m } }, gesture);
  const dial = (name: 'pan' | 'tilt' | 'roll', label: string, range: number) => (
    <Dial
      name={label}
      value={mount[name]}
      min={-range}
      max={range}
      step={0.5}
      unit="°"
      reset={0}
      onChange={(v) => setMount({ ...mount, [name]: v }, `mount-${name}`)}
      onEnd={() => store.getState().endGesture()}
    />
  );
  return (
    <div className="grid grid-cols-[minmax(432px,1.5fr)_minmax(230px,1fr)] divide-x divide-rule">
      <section className="flex flex-col gap-1 p-3" aria-label="Mount">
        <Choice
          label="Mount"
          value={mountNamed(mount) ?? 'free'}
          options={NAMES}
          onChange={(name) => name !== 'free' && setMount(MOUNTS[name])}
        />
        {proposed && (
          <p className="flex items-center gap-2 text-level">
            Up is not on top ({Math.floor(100 * stands!.confidence)} % sure).
            <button className="button" onClick={() => setMount(MOUNTS[proposed])}>
              {NAMES.find(([name]) => name === proposed)![1]}
            </button>
          </p>
        )}
        {dial('pan', 'Mount pan', 180)}
        {dial('tilt', 'Mount tilt', 90)}
        {dial('roll', 'Mount roll', 180)}
        <button
          className="button self-start"
          aria-pressed={turning}
          onClick={() => store.getState().grabMount(!turning)}
        >
          {turning ? 'Dragging the Frame turns the mount' : 'Turn it by dragging the Frame'}
        </button>
      </section>
      <section className="flex flex-col gap-2 p-3" aria-label="Centre">
        <h2 className="label">Ahead</h2>
        <button className="button self-start" onClick={() => centreHere(store)}>
          What the Frame looks at is ahead
        </button>
        <p className="text-muted">
          <span className="figure">X</span> makes what is under the pointer ahead, in the Frame and on the Map.
        </p>
        <div className="flex items-center gap-2">
          Heading
          <NumberField
            label="Heading of ahead"
            value={centre.pan}
            min={-180}
            max={180}
            unit="°"
            onCommit={(pan) =>
              store.getState().correct({ orientation: { ...take.orientation, centre: { ...centre, pan } } })
            }
          />
          <button
            className="button"
            disabled={centre.pan === 0 && centre.tilt === 0}
            onClick={() =>
              store.getState().correct({ orientation: { ...take.orientation, centre: { pan: 0, tilt: 0 } } })
            }
          >
            As filmed
          </button>
        </div>
        <KeepFraming />
        <TurnFields />
      </section>
    </div>
  );
}

/** Whether what was framed stays framed when the correction changes. */
export function KeepFraming() {
  const store = useStudioStore();
  const keep = useStudio((s) => s.keepFraming);
  return (
    <label
      className="flex items-center gap-2"
      title="Every keyframe stays on what it was on. Off: the dials keep their numbers and the world turns under them."
    >
      <input type="checkbox" checked={keep} onChange={(e) => store.getState().setKeepFraming(e.target.checked)} />
      Keep the framing when this changes
    </label>
  );
}
