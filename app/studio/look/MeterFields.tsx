/** The Meter: on or off, its target and limits, held or turned into keyframes. */
import { useState } from 'react';
import { toast } from 'sonner';
import { METER_LIMITS, USUAL_METER, type Meter } from '@glimbo/core/look/meter';
import { withLook } from '@glimbo/core/edit/look';
import { meteredByItself, meterToKeys } from '@glimbo/core/edit/metering';
import { Dial } from '~/ui/Dial';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { lightHere } from './useLight';

type MeterDial = 'target' | 'limit' | 'smooth';
const METER_DIALS: readonly { id: MeterDial; name: string; unit: string; digits: number }[] = [
  { id: 'target', name: 'Target', unit: ' EV', digits: 1 },
  { id: 'limit', name: 'At most', unit: ' EV', digits: 1 },
  { id: 'smooth', name: 'Smooth over', unit: ' s', digits: 2 },
];

export function MeterFields() {
  const store = useStudioStore();
  const { look } = useTake();
  const meter = look?.meter;
  const [measuring, setMeasuring] = useState(false);
  const switchOn = async () => {
    setMeasuring(true);
    try {
      const light = await lightHere(store);
      const { correction, edit, showLane } = store.getState();
      edit((t) => meteredByItself(t, USUAL_METER, light, correction(t)));
      showLane('meter');
    } catch (error) {
      toast.error((error as Error).message, { id: 'light' });
    }
    setMeasuring(false);
  };
  return (
    <section className="overflow-auto px-3 py-1.5" aria-label="Meter">
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={!!meter}
          disabled={measuring}
          onChange={(e) =>
            e.target.checked ? void switchOn() : store.getState().edit((t) => withLook(t, { meter: undefined }))
          }
        />
        Meter
        <span className="text-muted" role="status">
          {measuring ? 'The light of the footage is being measured …' : ''}
        </span>
      </label>
      {meter ? (
        <Metered meter={meter} />
      ) : (
        <p className="mt-1 text-muted">
          The virtual camera’s own exposure: what the Frame sees along its path decides it, smoothly and ahead of time,
          as through a tunnel.
        </p>
      )}
    </section>
  );
}

function Metered({ meter }: { meter: Meter }) {
  const store = useStudioStore();
  const time = useStudio((s) => s.time);
  const metering = useStudio((s) => s.metering());
  const set = (change: Partial<Meter>, gesture?: string) =>
    store.getState().edit((t) => withLook(t, { meter: { ...meter, ...change } }), gesture);
  const toKeys = () => {
    const { footage, edit, showLane } = store.getState();
    if (!metering) return;
    let off = 0;
    edit((t) => {
      const keyed = meterToKeys(t, metering, footage.facts.rate);
      off = keyed.off;
      return keyed.take;
    });
    showLane('exposure');
    toast(`The Meter became keyframes of the exposure, off by ${off.toFixed(2)} EV at most.`);
  };
  return (
    <>
      {METER_DIALS.map(({ id, name, unit, digits }) => (
        <Dial
          key={id}
          name={name}
          value={meter[id]}
          min={METER_LIMITS[id].least}
          max={METER_LIMITS[id].most}
          step={10 ** -digits}
          digits={digits}
          unit={unit}
          reset={USUAL_METER[id]}
          onChange={(v) => set({ [id]: v }, `meter-${id}`)}
          onEnd={() => store.getState().endGesture()}
        />
      ))}
      <div className="mt-1 flex flex-wrap items-center gap-1.5">
        <button
          className="button h-6!"
          aria-pressed={meter.lock !== undefined}
          onClick={() => set({ lock: meter.lock === undefined ? time : undefined })}
          title="Holds the exposure of the playhead through the whole take"
        >
          Lock here
        </button>
        <button className="button h-6!" disabled={!metering} onClick={toKeys}>
          To keyframes
        </button>
        <span className="figure text-muted" data-testid="meter-now">
          {metering
            ? `${metering(time) < 0 ? '−' : '+'}${Math.abs(metering(time)).toFixed(2)} EV here`
            : 'being measured …'}
        </span>
      </div>
    </>
  );
}
