/** The pins of a take that is steadied between them: where it is as it was filmed. */
import { Trash2 } from 'lucide-react';
import { toast } from 'sonner';
import type { Motion } from '@glimbo/core/motion/motion';
import { removePin, setPin } from '@glimbo/core/steady/propose';
import type { PinKind, Steady } from '@glimbo/core/steady/settings';
import { clock } from '~/ui/format';
import { Select } from '~/ui/Select';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';
import { askMotion } from './motion-reader';
import { steadyBy } from './steadying';

const KINDS: readonly (readonly [PinKind, string])[] = [
  ['filmed', 'on to the next pin'],
  ['off', 'off from here on'],
  ['still', 'still from here on'],
];

export function Pins({ steady, motion }: { steady: Steady; motion: Motion }) {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const times = useClock();
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
            {clock(times.shown(pin.time))}
          </button>
          <Select
            label={`After the pin at ${clock(times.shown(pin.time))}`}
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
            aria-label={`Remove the pin at ${clock(times.shown(pin.time))}`}
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
