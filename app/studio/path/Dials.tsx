/** The dials of the view, the lens presets, and what aiming does now. */
import { useEffect, useState } from 'react';
import type { View } from '@glimbo/core/lens/view';
import { applyPreset, isPreset, LENS_PRESETS, presetInWords, type LensPreset } from '@glimbo/core/lens/presets';
import { viewKeysOf } from '@glimbo/core/path/edit';
import type { Path } from '@glimbo/core/path/path';
import { aimOf } from '@glimbo/core/view/view-of';
import { wrapHeading } from '@glimbo/core/geometry/rotation';
import { Plus, X } from 'lucide-react';
import { IconButton } from '~/ui/IconButton';
import { forgetItem, keepItem, useKept } from '../state/kept';
import { ChannelKeys } from './ChannelKeys';
import { VALUE_DIALS } from '../fields/value-dials';
import { ViewDial } from '../fields/ViewDial';
import { useStudio, useFollowed, useStudioStore, useTake } from '../state/store';

export function Dials() {
  const take = useTake();
  const time = useStudio((s) => s.time);
  const view = aimOf(take, { ...useFollowed(), lookout: useStudio((s) => s.aimed()) }, time);
  return (
    <section className="min-w-0 overflow-auto px-3 py-1" aria-label="Dials">
      {VALUE_DIALS.map((dial) => (
        <ViewDial
          key={dial.channel}
          dial={dial}
          view={view}
          more={<ChannelKeys channel={dial.channel} name={dial.name} />}
        />
      ))}
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
        className="mt-0.5 flex flex-wrap gap-1"
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
        <OwnLenses view={view} />
      </div>
      <p className="mt-0.5 leading-tight text-muted" data-testid="path-hint">
        {pointed ? presetInWords(pointed, view, before) : <Hint path={path} pan={view.pan} />}
      </p>
    </>
  );
}

/** Lenses of one's own: the present one is kept, used again, removed. */
function OwnLenses({ view }: { view: View }) {
  const store = useStudioStore();
  const own = useKept('glimbo-lens');
  return (
    <>
      {own.map((item) => (
        <span key={item.id} className="flex">
          <button
            className="button h-6! px-1.5! text-xs"
            onClick={() => store.getState().dial({ fov: item.document.fov, bend: item.document.bend })}
          >
            {item.document.name}
          </button>
          <IconButton
            label={`Remove the lens ${item.document.name}`}
            className="size-6!"
            onClick={() => void forgetItem(item)}
          >
            <X size={11} />
          </IconButton>
        </span>
      ))}
      <button
        className="button h-6! px-1.5! text-xs"
        title="Keep this field of view and bend as a lens of your own"
        onClick={() => {
          const name = `Lens ${Math.round(view.fov)}°${view.bend ? `, ${view.bend.toFixed(1)}` : ''}`;
          void keepItem({ format: 'glimbo-lens', version: 1, name, fov: view.fov, bend: view.bend });
        }}
      >
        <Plus size={11} /> Keep
      </button>
    </>
  );
}

/** What aiming does now. */
function Hint({ path, pan }: { path: Path; pan: number }) {
  const correcting = useStudio((s) => s.correcting);
  const take = useTake();
  const count = viewKeysOf(path).length;
  return (
    <>
      {correcting !== 'no'
        ? `Aiming changes ${take.frame.aspect} alone; the path and the other formats stay.`
        : count === 0
          ? 'No keyframes yet: aim in the Frame, and the first is set.'
          : count === 1
            ? 'One keyframe: the view stands still. Go on in time and aim again to move.'
            : 'Aiming or changing a dial sets a keyframe at the playhead.'}
      {Math.abs(pan) > 180 && <span className="figure"> Heading {wrapHeading(pan).toFixed(1)}°.</span>}
    </>
  );
}
