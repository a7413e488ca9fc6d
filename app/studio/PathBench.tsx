/** The Path station: dials, lens presets, and the keyframes with exact times. */
import { ChevronDown, ChevronUp, Copy, Plus, Timer, Trash2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { DropdownMenu } from 'radix-ui';
import { DEFAULT_VIEW, type View } from '@glimbo/core/lens/view';
import { BEND_RANGE, FOV_MIN, maxFov } from '@glimbo/core/lens/projection';
import { applyPreset, isPreset, LENS_PRESETS, presetInWords, type LensPreset } from '@glimbo/core/lens/presets';
import { EASES, type Ease } from '@glimbo/core/path/ease';
import { holdUntil, momentsOf, moveMoment, setEase, snap, type Moment } from '@glimbo/core/path/edit';
import { stretchOf } from '@glimbo/core/take/take';
import { viewAt, type Path } from '@glimbo/core/path/path';
import { wrapHeading } from '@glimbo/core/geometry/rotation';
import { Dial, NumberField } from '~/ui/Dial';
import { duplicateHere, keyHere, removeHere } from './shortcuts';
import { neighbours } from './Transport';
import { useStudio, useStudioStore, useTake } from './store';

const EASE_NAMES: Record<string, string> = {
  smooth: 'Smooth',
  linear: 'Straight',
  hold: 'Hold',
  'ease-in': 'Ease in',
  'ease-out': 'Ease out',
  'ease-in-out': 'Ease in and out',
  whip: 'Whip',
  jolt: 'Jolt',
};

export function PathBench() {
  return (
    <div className="@container h-full">
      <div className="grid h-full grid-cols-[minmax(0,1.1fr)_minmax(0,1fr)] divide-x divide-rule">
        <Dials />
        <Keyframes />
      </div>
    </div>
  );
}

function Dials() {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const view = viewAt(take.path, time);
  const turn = (name: keyof View) => (value: number) => store.getState().dial({ [name]: value }, `dial-${name}`);
  const end = () => store.getState().endGesture();
  const common = { onEnd: end, unit: '°', step: 0.1 };
  return (
    <section className="min-w-0 overflow-auto px-3 py-1.5" aria-label="Dials">
      <Dial
        {...common}
        name="Pan"
        value={view.pan}
        min={-180}
        max={180}
        least={-36000}
        most={36000}
        reset={0}
        onChange={turn('pan')}
      />
      <Dial
        {...common}
        name="Tilt"
        value={view.tilt}
        min={-90}
        max={90}
        least={-360}
        most={360}
        reset={0}
        onChange={turn('tilt')}
      />
      <Dial
        {...common}
        name="Roll"
        value={view.roll}
        min={-180}
        max={180}
        least={-3600}
        most={3600}
        reset={0}
        onChange={turn('roll')}
      />
      <Dial
        {...common}
        name="Field of view"
        value={view.fov}
        min={FOV_MIN}
        max={maxFov(view.bend)}
        reset={DEFAULT_VIEW.fov}
        onChange={turn('fov')}
      />
      <Dial
        {...common}
        name="Bend"
        value={view.bend}
        min={BEND_RANGE.min}
        max={BEND_RANGE.max}
        step={0.01}
        digits={2}
        unit=""
        reset={0}
        onChange={turn('bend')}
      />
      <Presets view={view} />
    </section>
  );
}

/** The lens presets. What one will do is shown in the Frame and said in words while it is pointed at. */
function Presets({ view }: { view: View }) {
  const store = useStudioStore();
  const path = useTake().path;
  const before = useStudio((s) => s.tiltBefore);
  const [pointed, setPointed] = useState<LensPreset | null>(null);
  const look = (preset: LensPreset | null) => {
    setPointed(preset);
    store.getState().set({ tryOut: preset && applyPreset(preset, view, before) });
  };
  useEffect(() => () => store.getState().set({ tryOut: null }), [store]);
  return (
    <>
      <div
        className="mt-1 flex flex-wrap gap-1"
        role="group"
        aria-label="Lens presets"
        onPointerLeave={() => look(null)}
      >
        {LENS_PRESETS.map((p) => (
          <button
            key={p.id}
            className="button h-6! px-1.5! text-xs"
            aria-pressed={isPreset(p, view)}
            onPointerEnter={() => look(p)}
            onFocus={(e) => e.currentTarget.matches(':focus-visible') && look(p)}
            onBlur={() => look(null)}
            onClick={() => {
              setPointed(null);
              store.getState().usePreset(p);
            }}
          >
            {p.name}
          </button>
        ))}
      </div>
      <p className="mt-1 text-muted" data-testid="path-hint">
        {pointed ? presetInWords(pointed, view, before) : <Hint path={path} pan={view.pan} />}
      </p>
    </>
  );
}

/** What aiming does now. */
function Hint({ path, pan }: { path: Path; pan: number }) {
  const count = momentsOf(path).length;
  return (
    <>
      {count === 0
        ? 'No keyframes yet: aim in the Frame, and the first is set.'
        : count === 1
          ? 'One keyframe: the view stands still. Go on in time and aim again to move.'
          : 'Aiming or changing a dial sets a keyframe at the playhead.'}
      {Math.abs(pan) > 180 && <span className="figure"> Heading {wrapHeading(pan).toFixed(1)}°.</span>}
    </>
  );
}

function Keyframes() {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const selected = useStudio((s) => s.selected);
  const moments = momentsOf(take.path);
  const { rate } = store.getState().footage.facts;
  const near = neighbours(take.path, time);
  const go = (t: number | undefined) => {
    if (t === undefined) return;
    store.getState().setTime(t);
    store.getState().select(t);
  };
  const here = moments.some((m) => Math.abs(m.time - time) < 1e-6);
  const ease = here || moments.length === 0 ? null : moments.findLast((m) => m.time < time);
  return (
    <section className="flex min-w-0 flex-col" aria-label="Keyframes">
      <div className="flex h-9 items-center gap-0.5 border-b border-rule px-2">
        <span className="label mr-auto whitespace-nowrap" data-testid="keyframe-count">
          {moments.length > 0 && <span>{moments.length} </span>}
          <span className={moments.length ? 'hidden @[560px]:inline' : ''}>
            {moments.length === 1 ? 'keyframe' : moments.length ? 'keyframes' : 'Keyframes'}
          </span>
        </span>
        <button
          className="icon-button"
          title="Previous keyframe (↑)"
          aria-label="Previous keyframe"
          disabled={near.previous === undefined}
          onClick={() => go(near.previous)}
        >
          <ChevronUp size={15} />
        </button>
        <button
          className="icon-button"
          title="Next keyframe (↓)"
          aria-label="Next keyframe"
          disabled={near.next === undefined}
          onClick={() => go(near.next)}
        >
          <ChevronDown size={15} />
        </button>
        <button
          className="icon-button"
          title="Duplicate the selected keyframe to the playhead (Ctrl D)"
          aria-label="Duplicate to the playhead"
          disabled={selected === null || here}
          onClick={() => duplicateHere(store)}
        >
          <Copy size={14} />
        </button>
        <Hold />
        <button
          className="icon-button"
          title="Remove the keyframe (Delete)"
          aria-label="Remove the keyframe"
          disabled={selected === null && !here}
          onClick={() => removeHere(store)}
        >
          <Trash2 size={14} />
        </button>
        <button className="button h-6!" onClick={() => keyHere(store)} title="Set a keyframe at the playhead (Enter)">
          <Plus size={13} />{' '}
          {here ? (
            <span>
              Set<span className="hidden @[560px]:inline"> again</span>
            </span>
          ) : (
            'Set'
          )}
        </button>
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        {moments.length === 0 ? (
          <p className="p-3 text-muted">
            A keyframe fixes the whole view at a moment. Go to a moment and aim in the Frame; go on in time and aim
            again. Enter sets one of the view as it is.
          </p>
        ) : (
          <table className="w-full">
            <thead>
              <tr className="label text-left">
                <th />
                <th className="font-medium">time</th>
                <th className="hidden px-2 text-right font-medium @[600px]:table-cell">pan, tilt, fov</th>
                <th className="font-medium">ease after</th>
              </tr>
            </thead>
            <tbody>
              {moments.map((m, i) => (
                <Row
                  key={i}
                  number={i + 1}
                  moment={m}
                  selected={selected === m.time}
                  passed={ease === m}
                  rate={rate}
                  onGo={() => go(m.time)}
                />
              ))}
            </tbody>
          </table>
        )}
      </div>
    </section>
  );
}

function Row({
  number,
  moment: m,
  selected,
  passed,
  rate,
  onGo,
}: {
  number: number;
  moment: Moment;
  selected: boolean;
  passed: boolean;
  rate: number;
  onGo: () => void;
}) {
  const store = useStudioStore();
  const { duration } = store.getState().footage.facts;
  const retime = (t: number) => {
    const to = snap(t, rate);
    store.getState().edit((take) => ({ ...take, path: moveMoment(take.path, m.time, to) }));
    store.getState().setTime(to);
    store.getState().select(to);
  };
  const stretch = stretchOf(store.getState().take(), rate);
  const name = typeof m.ease === 'string' ? m.ease : 'custom';
  return (
    <tr className={selected ? 'bg-rule' : passed ? 'bg-paper' : ''}>
      <td className="figure w-7 cursor-pointer pl-3 text-muted" onClick={onGo}>
        {number}
      </td>
      <td className="py-px">
        <NumberField
          label={`Time of keyframe ${number}`}
          className="h-6! w-18"
          value={m.time * stretch}
          min={0}
          max={duration * stretch}
          digits={3}
          unit=" s"
          onCommit={(t) => retime(t / stretch)}
        />
      </td>
      <td
        className="figure hidden cursor-pointer px-2 text-right whitespace-nowrap @[600px]:table-cell"
        onClick={onGo}
        title={`Pan ${m.view.pan.toFixed(1)}°, tilt ${m.view.tilt.toFixed(1)}°, field of view ${m.view.fov.toFixed(1)}°`}
      >
        {m.view.pan.toFixed(0)}° {m.view.tilt.toFixed(0)}° <span className="text-muted">{m.view.fov.toFixed(0)}°</span>
      </td>
      <td className="pr-2 text-right">
        <select
          className="field h-6! w-26 py-0"
          aria-label={`What leaves keyframe ${number}`}
          value={name}
          onChange={(e) =>
            store.getState().edit((take) => ({ ...take, path: setEase(take.path, m.time, e.target.value as Ease) }))
          }
        >
          {[...EASES, ...(name === 'custom' ? ['custom'] : [])].map((e) => (
            <option key={e} value={e}>
              {EASE_NAMES[e] ?? 'Own curve'}
            </option>
          ))}
        </select>
      </td>
    </tr>
  );
}

/** Makes the view stand still from the playhead until a time. */
function Hold() {
  const store = useStudioStore();
  const time = useStudio((s) => s.time);
  const [open, setOpen] = useState(false);
  const { rate, duration } = store.getState().footage.facts;
  const stretch = stretchOf(useTake(), rate);
  /** `until` as it is shown: seconds as the footage is read. */
  const hold = (until: number) => {
    const to = snap(until / stretch, rate);
    if (to > time) store.getState().edit((t) => ({ ...t, path: holdUntil(t.path, time, to) }));
    setOpen(false);
  };
  return (
    <DropdownMenu.Root open={open} onOpenChange={setOpen}>
      <DropdownMenu.Trigger className="icon-button" title="Hold the view until…" aria-label="Hold the view until">
        <Timer size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="menu p-2!" sideOffset={4}>
          <p className="mb-1 text-muted">Stand still from {(time * stretch).toFixed(2)} s until</p>
          {[0.5, 1, 2, 3]
            .filter((s) => time + s / stretch < duration)
            .map((s) => (
              <DropdownMenu.Item key={s} className="menu-item" onSelect={() => hold(time * stretch + s)}>
                {(time * stretch + s).toFixed(2)} s <span className="text-muted">({s} s)</span>
              </DropdownMenu.Item>
            ))}
          <div className="mt-1 flex items-center gap-2 px-2" onKeyDown={(e) => e.stopPropagation()}>
            or{' '}
            <NumberField
              label="Hold until, in seconds"
              value={Math.min(duration * stretch, time * stretch + 1)}
              min={time * stretch}
              max={duration * stretch}
              digits={3}
              unit=" s"
              onCommit={hold}
            />
          </div>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
