/** In and out point of the take, and the rate at which the footage's frames are read. */
import { setIn, setOut } from '@glimbo/core/edit/range';
import { shownLength } from '@glimbo/core/time/clock';
import { NumberField } from '~/ui/Dial';
import { clock, rateText } from '~/ui/format';
import { Select } from '~/ui/Select';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';

const READINGS = [24, 25, 30, 48, 50, 60];

export function RangePart() {
  const store = useStudioStore();
  const take = useTake();
  const { facts } = useStudio((s) => s.footage);
  const times = useClock();
  const one = 1 / facts.rate;
  const set = (change: Partial<typeof take.range>) =>
    store.getState().edit((t) => {
      const begun =
        change.in === undefined
          ? t.range
          : setIn(t.range, change.in, facts, change.out === undefined ? 'stop' : 'yield');
      return { ...t, range: change.out === undefined ? begun : setOut(begun, change.out, facts) };
    });
  const read = (rate: number) =>
    store.getState().edit(({ reading: _, ...t }) => (Math.abs(rate - facts.rate) < 1e-6 ? t : { ...t, reading: rate }));
  const reading = take.reading ?? facts.rate;
  const options = [...new Set([facts.rate, ...READINGS, reading])]
    .sort((a, b) => a - b)
    .map((r) => [String(r), r === facts.rate ? `${rateText(r)}, as filmed` : rateText(r)] as const);
  return (
    <div className="flex flex-wrap gap-x-10 gap-y-4 p-3">
      <section aria-label="Range">
        <h2 className="label mb-2">Range of this take</h2>
        <div className="grid grid-cols-[2.5rem_6rem_auto] items-center gap-2">
          In
          <NumberField
            label="In point"
            className="w-24"
            value={times.shown(take.range.in)}
            min={0}
            max={times.shown(take.range.out - one)}
            digits={3}
            unit=" s"
            onCommit={(v) => set({ in: times.footage(v) })}
          />
          <span className="text-muted">key I</span>
          Out
          <NumberField
            label="Out point"
            className="w-24"
            value={times.shown(take.range.out)}
            min={times.shown(take.range.in + one)}
            max={times.shown(facts.duration)}
            digits={3}
            unit=" s"
            onCommit={(v) => set({ out: times.footage(v) })}
          />
          <span className="text-muted">key O</span>
        </div>
        <p className="figure my-2 text-muted">
          {clock(shownLength(times, take.range))}, {Math.round((take.range.out - take.range.in) * facts.rate)} frames
        </p>
        <button
          className="button"
          onClick={() => set({ in: 0, out: facts.duration })}
          disabled={take.range.in === 0 && take.range.out === facts.duration}
        >
          Take the whole footage
        </button>
      </section>
      <section className="max-w-80" aria-label="Frame rate reading">
        <h2 className="label mb-2">Frame rate reading</h2>
        <div className="flex items-center gap-2">
          <Select label="Read as" value={String(reading)} options={options} onChange={(v) => read(Number(v))} />
          <NumberField
            label="Read as, frames a second"
            className="w-20"
            value={reading}
            min={1}
            max={240}
            digits={2}
            unit=" fps"
            onCommit={read}
          />
        </div>
        <p className="mt-2 text-muted">
          {times.speed === 1
            ? 'Frames run as they were filmed. 30 read as 24 runs slower and smoother; the file and the proxy stay as they are.'
            : `Each frame stays on screen ${times.speed < 1 ? 'longer' : 'shorter'}: speed ${Number((100 * times.speed).toFixed(1))} %, picture and sound alike. The whole footage lasts ${clock(times.shown(facts.duration))}.`}
        </p>
      </section>
    </div>
  );
}
