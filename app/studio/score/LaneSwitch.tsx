/** Which lane stands beside the Sweep. */
import { useStudio, useStudioStore } from '../store';
import { laneName, LANES } from './lanes';

export function LaneSwitch() {
  const lane = useStudio((s) => s.lane);
  const store = useStudioStore();
  return (
    <div className="flex flex-col" role="radiogroup" aria-label="Lane">
      {LANES.map((l) => (
        <button
          key={l}
          role="radio"
          aria-checked={lane === l}
          className={`px-2 text-left leading-5 ${lane === l ? 'border-l-2 border-camera font-semibold' : 'border-l-2 border-transparent text-muted hover:text-ink'}`}
          onClick={() => store.getState().set({ lane: l })}
        >
          {laneName(l)}
        </button>
      ))}
    </div>
  );
}

/** What the Sweep shows. */
export function SweepSwitch() {
  const reading = useStudio((s) => s.sweepReading);
  const store = useStudioStore();
  return (
    <div className="flex flex-col" role="radiogroup" aria-label="The Sweep shows">
      {(
        [
          ['sweep', 'Colours'],
          ['activity', 'Activity'],
        ] as const
      ).map(([id, name]) => (
        <button
          key={id}
          role="radio"
          aria-checked={reading === id}
          title={id === 'sweep' ? 'What was where (V)' : 'What moved by itself (V)'}
          className={`px-2 text-left leading-5 ${reading === id ? 'border-l-2 border-ink font-semibold' : 'border-l-2 border-transparent text-muted hover:text-ink'}`}
          onClick={() => store.getState().set({ sweepReading: id })}
        >
          {name}
        </button>
      ))}
    </div>
  );
}
