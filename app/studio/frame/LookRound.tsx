/** The names over the four panes of the look round; a click looks that way in the Frame. */
import { DIRECTIONS } from '../picture/look-round';
import { useStudioStore } from '../state/store';

export function LookRoundLabels({ width, height }: { width: number; height: number }) {
  const store = useStudioStore();
  return (
    <div className="absolute" style={{ width, height }} data-testid="look-round">
      {DIRECTIONS.map(({ name, pan, left, top }) => (
        <button
          key={name}
          className="absolute h-1/2 w-1/2 text-left align-top outline-offset-[-2px] hover:bg-white/5"
          style={{ left: `${left * 100}%`, top: `${top * 100}%` }}
          title={`Look ${name.toLowerCase()} in the Frame`}
          onClick={() => {
            store.getState().lookAllRound(false);
            store.getState().glanceAt({ pan, tilt: 0 });
          }}
        >
          <span className="absolute top-1 left-1 bg-black/70 px-1.5 py-0.5 text-white">
            {name} <span className="figure opacity-80">{pan}°</span>
          </span>
        </button>
      ))}
    </div>
  );
}
