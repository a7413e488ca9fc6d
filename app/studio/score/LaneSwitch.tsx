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
          className={`px-2 py-1 text-left ${lane === l ? 'border-l-2 border-camera font-semibold' : 'border-l-2 border-transparent text-muted hover:text-ink'}`}
          onClick={() => store.getState().set({ lane: l })}
        >
          {laneName(l)}
        </button>
      ))}
    </div>
  );
}
