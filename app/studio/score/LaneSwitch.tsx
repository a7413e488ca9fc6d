/** What stands beside the Sweep, and what the Sweep shows. */
import { useStudio, useStudioStore, useTake } from '../state/store';
import type { DeskSlice } from '../state/state';
import { LANES } from './lane-list';

interface ColumnProps<T extends string> {
  label: string;
  value: T;
  options: readonly { id: T; name: string; about?: string }[];
  onChoose: (id: T) => void;
}

/** One of a few, one below the other. */
function Column<T extends string>({ label, value, options, onChoose }: ColumnProps<T>) {
  return (
    <div className="flex flex-col" role="radiogroup" aria-label={label}>
      {options.map(({ id, name, about }) => (
        <button
          key={id}
          role="radio"
          aria-checked={value === id}
          title={about}
          className={`border-l-2 px-2 text-left leading-6 ${value === id ? 'border-ink font-semibold' : 'border-transparent text-muted hover:text-ink'}`}
          onClick={() => onChoose(id)}
        >
          {name}
        </button>
      ))}
    </div>
  );
}

/** The lanes, each open or not; as many as there is room for are shown. */
export function LaneSwitch() {
  const lanes = useStudio((s) => s.lanes);
  const store = useStudioStore();
  const take = useTake();
  return (
    <div className="grid grid-cols-2" role="group" aria-label="Lanes">
      {LANES.filter((l) => lanes.includes(l.id) || (l.offered?.(take) ?? true)).map(({ id, name, short = name }) => (
        <button
          key={id}
          aria-label={short === name ? name : `${short}, ${name.toLowerCase()}`}
          aria-pressed={lanes.includes(id)}
          title={`${name}: beside the Sweep or not`}
          className={`border-l-2 px-1 text-left text-xs leading-6 ${lanes.includes(id) ? 'border-ink font-semibold' : 'border-transparent text-muted hover:text-ink'}`}
          onClick={() => store.getState().toggleLane(id)}
        >
          {short}
        </button>
      ))}
    </div>
  );
}

const READINGS: ColumnProps<DeskSlice['sweepReading']>['options'] = [
  { id: 'sweep', name: 'Colours', about: 'What was where (V)' },
  { id: 'activity', name: 'Activity', about: 'What moved by itself (V)' },
];

export function SweepSwitch() {
  const reading = useStudio((s) => s.sweepReading);
  const store = useStudioStore();
  return (
    <Column
      label="The Sweep shows"
      value={reading}
      options={READINGS}
      onChoose={(id) => store.getState().readSweepAs(id)}
    />
  );
}
