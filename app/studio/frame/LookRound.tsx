/** The names over the four panes of the look round; a click looks that way in the Frame. */
import type { Matrix3 } from '@glimbo/core/geometry/rotation';
import { useStudioStore } from '../state/store';

export const DIRECTIONS = [
  { name: 'Front', pan: 0, left: 0, top: 0 },
  { name: 'Right', pan: 90, left: 0.5, top: 0 },
  { name: 'Back', pan: 180, left: 0, top: 0.5 },
  { name: 'Left', pan: -90, left: 0.5, top: 0.5 },
] as const;

/** Field of view of each pane: a little more than a quarter turn, so that nothing falls between two. */
const FOV = 96;

/** The four panes with a hair's breadth between them. */
export const lookRoundPanes = (shift: number, correction: Matrix3) =>
  DIRECTIONS.map(({ pan, left, top }) => ({
    view: { pan: pan + shift, tilt: 0, roll: 0, fov: FOV, bend: 0.35, shiftX: 0, shiftY: 0 },
    correction,
    left,
    top,
    width: 0.498,
    height: 0.497,
  }));

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
