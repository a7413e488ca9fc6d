/** What belongs to the camera that films the Frame: its shutter, the hand that holds it, its exposure. */
import { SHAKE_LIMITS, USUAL_SHAKE, type Shake } from '@glimbo/core/look/shake';
import { SHUTTER } from '@glimbo/core/look/look';
import { withShake, withShutter } from '@glimbo/core/edit/look';
import { Dial } from '~/ui/Dial';
import { useStudioStore, useTake } from '../state/store';
import { MeterFields } from './MeterFields';

const SHAKE_DIALS: readonly { id: keyof Shake; name: string; unit: string; digits: number }[] = [
  { id: 'position', name: 'Shake', unit: ' %', digits: 1 },
  { id: 'roll', name: 'Shake, roll', unit: '°', digits: 1 },
  { id: 'roughness', name: 'Roughness', unit: '', digits: 0 },
];

export function CameraPart() {
  const store = useStudioStore();
  const { look } = useTake();
  const shake = look?.shake ?? USUAL_SHAKE;
  const end = () => store.getState().endGesture();
  return (
    <div className="grid h-full grid-cols-2 divide-x divide-rule">
      <section className="overflow-auto px-3 py-1.5" aria-label="Blur and shake">
        <Dial
          name="Motion blur"
          value={look?.shutter ?? 0}
          min={SHUTTER.least}
          max={SHUTTER.most}
          step={1}
          digits={0}
          unit="°"
          reset={0}
          onChange={(v) => store.getState().edit((t) => withShutter(t, v), 'shutter')}
          onEnd={end}
        />
        {SHAKE_DIALS.map(({ id, name, unit, digits }) => (
          <Dial
            key={id}
            name={name}
            value={shake[id]}
            min={SHAKE_LIMITS[id].least}
            max={SHAKE_LIMITS[id].most}
            step={10 ** -digits}
            digits={digits}
            unit={unit}
            reset={USUAL_SHAKE[id]}
            onChange={(v) => store.getState().edit((t) => withShake(t, { [id]: v }), `shake-${id}`)}
            onEnd={end}
          />
        ))}
        <button
          className="button mt-0.5 h-6!"
          disabled={!look?.shake}
          onClick={() =>
            store.getState().edit((t) => withShake(t, { seed: (shake.seed % SHAKE_LIMITS.seed.most) + 1 }))
          }
          title="The same shake by chance otherwise"
        >
          Another hand
        </button>
        <p className="mt-1 text-muted">
          The shutter: 360° is a frame’s time, 180° as films have it; drawn when the Frame stands still. Shake: how far
          the picture moves, in the mean, in shares of its height.
        </p>
      </section>
      <MeterFields />
    </div>
  );
}
