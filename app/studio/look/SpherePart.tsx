/** What is done to the sphere itself: the patch over the tripod, the sector that is kept, and its twin. */
import { ImagePlus, Locate } from 'lucide-react';
import { useEffect } from 'react';
import { toast } from 'sonner';
import { PATCH_LIMITS, USUAL_PATCH, type Patch, type PatchKind } from '@glimbo/core/look/patch';
import { withLook } from '@glimbo/core/edit/look';
import { nameOfMaterial } from '~/model/material';
import { Choice } from '~/ui/Choice';
import { Dial } from '~/ui/Dial';
import { chooseFiles } from '~/ui/files';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { keepMaterial } from './materials';
import { SectorFields } from './SectorFields';

type PatchDial = 'size' | 'feather' | 'pan' | 'tilt';
const DIALS: readonly { id: PatchDial; name: string }[] = [
  { id: 'size', name: 'Size' },
  { id: 'feather', name: 'Feather' },
  { id: 'pan', name: 'Heading' },
  { id: 'tilt', name: 'Tilt' },
];

export function SpherePart() {
  const store = useStudioStore();
  const patch = useTake().look?.patch;
  useEffect(() => {
    store.getState().outlinePatch(true);
    return () => {
      store.getState().outlinePatch(false);
      store.getState().placePatch(false);
    };
  }, [store]);
  return (
    <div className="grid h-full grid-cols-2 divide-x divide-rule">
      <section className="overflow-auto px-3 py-1.5" aria-label="Patch">
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={!!patch}
            onChange={(e) =>
              store.getState().edit((t) => withLook(t, { patch: e.target.checked ? USUAL_PATCH : undefined }))
            }
          />
          Patch over the tripod
        </label>
        {patch ? (
          <>
            <Dials patch={patch} />
            <Filling patch={patch} />
          </>
        ) : (
          <p className="mt-1 text-muted">
            Covers what holds the camera: with a colour, an image seen from above, or what goes on from its rim.
          </p>
        )}
      </section>
      <SectorFields />
    </div>
  );
}

function useChange(patch: Patch) {
  const store = useStudioStore();
  return (change: Partial<Patch>, gesture?: string) =>
    store.getState().edit((t) => withLook(t, { patch: { ...(t.look?.patch ?? patch), ...change } }), gesture);
}

function Dials({ patch }: { patch: Patch }) {
  const store = useStudioStore();
  const change = useChange(patch);
  return (
    <>
      {DIALS.map(({ id, name }) => (
        <Dial
          key={id}
          name={name}
          value={patch[id]}
          min={Math.max(-180, PATCH_LIMITS[id].least)}
          max={Math.min(180, PATCH_LIMITS[id].most)}
          step={0.5}
          unit="°"
          reset={USUAL_PATCH[id]}
          onChange={(v) => change({ [id]: v }, `patch-${id}`)}
          onEnd={() => store.getState().endGesture()}
        />
      ))}
    </>
  );
}

function Filling({ patch }: { patch: Patch }) {
  const store = useStudioStore();
  const placing = useStudio((s) => s.placingPatch);
  const change = useChange(patch);
  const takeImage = async (file: File) => {
    try {
      change({ kind: 'image', file: await keepMaterial(file.name, file) });
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  return (
    <div className="mt-1.5 flex flex-col gap-1.5">
      <Choice<PatchKind>
        label="With"
        value={patch.kind}
        options={[
          ['fill', 'Fill', 'What goes on from its rim, smoothly'],
          ['colour', 'Colour'],
          ['image', 'Image', 'A picture as seen from above'],
        ]}
        onChange={(kind) => change({ kind })}
      />
      {patch.kind !== 'fill' && (
        <label className="flex items-center gap-2">
          <span className="w-22">Colour</span>
          <input
            type="color"
            className="h-6 w-8"
            aria-label="Colour of the patch"
            value={patch.colour}
            onChange={(e) => change({ colour: e.target.value }, 'patch-colour')}
          />
        </label>
      )}
      {patch.kind === 'image' && (
        <div className="flex items-center gap-2">
          <button className="button h-6!" onClick={() => chooseFiles('.png,.svg', takeImage)}>
            <ImagePlus size={13} /> Choose an image
          </button>
          <span className="min-w-0 truncate text-muted">{patch.file ? nameOfMaterial(patch.file) : 'none yet'}</span>
        </div>
      )}
      <Choice<Patch['to']>
        label="Holds to"
        value={patch.to}
        options={[
          ['rig', 'The rig', 'Where the tripod is, however the picture is levelled'],
          ['world', 'The world', 'Where it is in the steadied and levelled picture'],
        ]}
        onChange={(to) => change({ to })}
      />
      <div className="flex flex-wrap gap-1">
        <button className="button h-6!" onClick={() => change({ pan: 0, tilt: -90 })}>
          Nadir
        </button>
        <button className="button h-6!" onClick={() => change({ pan: 0, tilt: 90 })}>
          Zenith
        </button>
        <button className="button h-6!" aria-pressed={placing} onClick={() => store.getState().placePatch(!placing)}>
          <Locate size={13} /> Place it
        </button>
      </div>
      {placing && <p className="text-muted">Press or drag on the Map or in the Frame where its middle should be.</p>}
    </div>
  );
}
