/** How the rig was mounted, and where ahead is. */
import { useEffect } from 'react';
import type { Angles } from '@glimbo/core/geometry/rotation';
import { axisTowards } from '@glimbo/core/level/looks';
import type { Motion } from '@glimbo/core/motion/motion';
import { mountOf } from '@glimbo/core/take/correction';
import { apply, dot } from '@glimbo/core/geometry/rotation';
import { Choice } from '~/ui/Choice';
import { Dial, NumberField } from '~/ui/Dial';
import { centreHere } from '../orient';
import { useStudio, useStudioStore, useTake } from '../store';

const UPRIGHT: Angles = { pan: 0, tilt: 0, roll: 0 };
const MOUNTS = [
  ['upright', 'Upright', UPRIGHT],
  ['over', 'Upside down', { pan: 0, tilt: 0, roll: 180 }],
  ['left', 'Left side', { pan: 0, tilt: 0, roll: 90 }],
  ['right', 'Right side', { pan: 0, tilt: 0, roll: -90 }],
] as const;

/** The mount that puts the sky on top, if that is another than the take's. */
function proposal(motion: Motion | null, mount: ReturnType<typeof mountOf>) {
  if (!motion?.sky || Math.hypot(...motion.sky) < 0.25) return null;
  const sky = axisTowards(motion.sky);
  if (dot(apply(mount, sky), [0, 1, 0]) > 0.7) return null;
  return MOUNTS.find(([, , angles]) => dot(apply(mountOf({ orientation: { mount: angles } }), sky), [0, 1, 0]) > 0.9) ?? null; // prettier-ignore
}

export function OrientPart() {
  const store = useStudioStore();
  const take = useTake();
  const motion = useStudio((s) => s.motion);
  const turning = useStudio((s) => s.turning);
  const mount = take.orientation?.mount ?? UPRIGHT;
  const centre = take.orientation?.centre ?? { pan: 0, tilt: 0 };
  const named = MOUNTS.find(([, , m]) => m.pan === mount.pan && m.tilt === mount.tilt && m.roll === mount.roll)?.[0];
  const proposed = proposal(motion, mountOf(take));
  // Leaving the part, dragging aims again.
  useEffect(() => () => store.getState().set({ turning: false }), [store]);
  const setMount = (m: Angles, gesture?: string) =>
    store.getState().correct({ orientation: { ...take.orientation, mount: m } }, gesture);
  const dial = (name: 'pan' | 'tilt' | 'roll', label: string, range: number) => (
    <Dial name={label} value={mount[name]} min={-range} max={range} step={0.5} unit="°" reset={0} onChange={(v) => setMount({ ...mount, [name]: v }, `mount-${name}`)} onEnd={() => store.getState().endGesture()} />
  );
  return (
    <div className="grid grid-cols-[minmax(420px,1.5fr)_minmax(230px,1fr)] divide-x divide-rule">
      <section className="flex flex-col gap-1 p-3" aria-label="Mount">
        <Choice label="Mount" value={named ?? 'free'} options={MOUNTS.map(([id, name]) => [id, name] as const)} onChange={(id) => setMount(MOUNTS.find((m) => m[0] === id)![2])} />
        {proposed && (
          <p className="flex items-center gap-2 text-level">
            The sky is not on top.
            <button className="button" onClick={() => setMount(proposed[2])}>
              {proposed[1]}
            </button>
          </p>
        )}
        {dial('pan', 'Mount pan', 180)}
        {dial('tilt', 'Mount tilt', 90)}
        {dial('roll', 'Mount roll', 180)}
        <button className="button self-start" aria-pressed={turning} onClick={() => store.getState().set({ turning: !turning })}>
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
          <NumberField label="Heading of ahead" value={centre.pan} min={-180} max={180} unit="°" onCommit={(pan) => store.getState().correct({ orientation: { ...take.orientation, centre: { ...centre, pan } } })} />
          <button className="button" disabled={centre.pan === 0 && centre.tilt === 0} onClick={() => store.getState().correct({ orientation: { ...take.orientation, centre: { pan: 0, tilt: 0 } } })}>
            As filmed
          </button>
        </div>
        <KeepFraming />
      </section>
    </div>
  );
} // prettier-ignore

/** Whether what was framed stays framed when the correction changes. */
export function KeepFraming() {
  const store = useStudioStore();
  const keep = useStudio((s) => s.keepFraming);
  return (
    <label className="flex items-center gap-2" title="Every keyframe stays on what it was on. Off: the dials keep their numbers and the world turns under them.">
      <input type="checkbox" checked={keep} onChange={(e) => store.getState().set({ keepFraming: e.target.checked })} />
      Keep the framing when this changes
    </label>
  );
} // prettier-ignore
