/** The Source station: the footage's facts, and the in and out points. */
import { NumberField } from '~/ui/Dial';
import { bytes, clock, rateText } from '~/ui/format';
import { snap } from '@glimbo/core/path/edit';
import { useStudio, useStudioStore, useTake } from './store';

export function SourceBench() {
  const store = useStudioStore();
  const take = useTake();
  const footage = useStudio((s) => s.footage);
  const { facts } = footage;
  const set = (change: Partial<typeof take.range>) => {
    const range = { ...take.range, ...change };
    store
      .getState()
      .edit((t) => ({ ...t, range: { in: snap(range.in, facts.rate), out: snap(range.out, facts.rate) } }));
  };
  const rows: [string, string][] = [
    ['File', footage.file],
    ['Picture', `${facts.width} × ${facts.height}, ${facts.codec}, ${facts.pixelFormat}`],
    ['Frame rate', `${rateText(facts.rate)}${footage.variableRate ? ', made constant' : ''}`],
    ['Duration', `${clock(facts.duration)} (${facts.frames} frames)`],
    [
      'Sound',
      facts.sound
        ? `${facts.sound.codec}, ${facts.sound.channels} channels, ${facts.sound.sampleRate / 1000} kHz`
        : 'none',
    ],
    ['Spherical metadata', facts.spherical ?? 'none; taken as a full sphere'],
    ['Size', `${bytes(facts.size)}, ${(facts.bitRate / 1e6).toFixed(1)} Mbit/s, ${facts.container}`],
    ['Proxy', footage.gathered ? `${footage.gathered.proxy.width} × ${footage.gathered.proxy.height}` : 'being made'],
  ];
  const one = 1 / facts.rate;
  return (
    <div className="grid h-full grid-cols-[1fr_auto] divide-x divide-rule">
      <dl className="grid auto-rows-min grid-cols-[auto_1fr] gap-x-4 gap-y-1 overflow-auto p-3">
        {rows.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-muted">{name}</dt>
            <dd className="figure truncate pt-px" title={value}>
              {value}
            </dd>
          </div>
        ))}
      </dl>
      <section className="w-64 p-3" aria-label="Range">
        <h2 className="label mb-2">Range of this take</h2>
        <div className="grid grid-cols-[auto_1fr] items-center gap-2">
          In{' '}
          <NumberField
            label="In point"
            value={take.range.in}
            min={0}
            max={take.range.out - one}
            digits={3}
            unit=" s"
            onCommit={(v) => set({ in: v })}
          />
          Out{' '}
          <NumberField
            label="Out point"
            value={take.range.out}
            min={take.range.in + one}
            max={facts.duration}
            digits={3}
            unit=" s"
            onCommit={(v) => set({ out: v })}
          />
        </div>
        <p className="figure my-2 text-muted">
          {clock(take.range.out - take.range.in)}, {Math.round((take.range.out - take.range.in) * facts.rate)} frames
        </p>
        <button
          className="button"
          onClick={() => set({ in: 0, out: facts.duration })}
          disabled={take.range.in === 0 && take.range.out === facts.duration}
        >
          Take the whole footage
        </button>
      </section>
    </div>
  );
}
