/** The dials of the view, the lens presets, and what aiming does now. */
import { useEffect, useState } from 'react';
import { DEFAULT_VIEW, type View } from '@glimbo/core/lens/view';
import { BEND_RANGE, FOV_MIN, maxFov } from '@glimbo/core/lens/projection';
import { applyPreset, isPreset, LENS_PRESETS, presetInWords, type LensPreset } from '@glimbo/core/lens/presets';
import { viewKeysOf } from '@glimbo/core/path/edit';
import type { Path } from '@glimbo/core/path/path';
import { TAKE_ALONE, viewOf } from '@glimbo/core/view/view-of';
import { wrapHeading } from '@glimbo/core/geometry/rotation';
import { Dial } from '~/ui/Dial';
import { useStudio, useStudioStore, useTake } from '../state/store';

export function Dials() {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const view = viewOf(take, TAKE_ALONE, time);
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
    store.getState().tryLens(preset && applyPreset(preset, view, before));
  };
  useEffect(() => () => store.getState().tryLens(null), [store]);
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
  const count = viewKeysOf(path).length;
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
