/** One keyframe of the table: its time, values and ease, each of which can be typed. */
import { memo } from 'react';
import { moveViewKey, setEase, setViewKey, snap, type ViewKey } from '@glimbo/core/path/edit';
import { viewKeySelection } from '@glimbo/core/path/keys';
import { NumberField } from '~/ui/Dial';
import { VALUE_DIALS, type ValueDial } from '../fields/value-dials';
import { useStudioStore } from '../state/store';
import { EaseSelect } from './EaseSelect';
import { useTimeWriting } from './time-writing';

/** From which width of the bench on a dial's values have room. */
export const shownFrom = ({ channel }: ValueDial) =>
  channel === 'pan' ? 'hidden @[640px]:table-cell' : 'hidden @[900px]:table-cell';

interface RowProps {
  number: number;
  of: ViewKey;
  selected: boolean;
  passed: boolean;
  /** Where picking with Shift begins, and how many there are: picking follows from them. */
  anchor: string;
  onPick: (e: React.MouseEvent) => void;
}

/** Whether two keyframes of the view say the same. A drag makes all of them anew and changes few. */
const saysTheSame = (a: ViewKey, b: ViewKey): boolean =>
  a === b ||
  (a.time === b.time &&
    String(a.channels) === String(b.channels) &&
    String(a.ease) === String(b.ease) &&
    VALUE_DIALS.every(({ channel }) => a.view[channel] === b.view[channel]));

/** Drawn anew only when it says something else. */
export const KeyframeRow = memo(
  DrawnRow,
  (a, b) =>
    a.number === b.number &&
    a.selected === b.selected &&
    a.passed === b.passed &&
    a.anchor === b.anchor &&
    saysTheSame(a.of, b.of),
);

function DrawnRow({ number, of: m, selected, passed, onPick }: RowProps) {
  const store = useStudioStore();
  const { rate } = store.getState().footage.facts;
  const writing = useTimeWriting();
  const retime = (t: number) => {
    const to = snap(t, rate);
    store.getState().edit((take) => ({ ...take, path: moveViewKey(take.path, m.time, to) }));
    store.getState().setTime(to);
    store.getState().selectView(to);
  };
  const set = ({ channel }: ValueDial, value: number) =>
    store.getState().edit((take) => ({ ...take, path: setViewKey(take.path, m.time, { [channel]: value }) }));
  return (
    <tr className={selected ? 'bg-rule' : passed ? 'bg-paper' : ''}>
      <td className="figure w-7 pl-1 text-muted">
        <button className="px-2" aria-label={`Go to keyframe ${number}`} aria-pressed={selected} onClick={onPick}>
          {number}
        </button>
      </td>
      <td className="py-px">
        <writing.Field label={`Time of keyframe ${number}`} value={m.time} onCommit={retime} />
      </td>
      {VALUE_DIALS.map((d) => (
        <td key={d.channel} className={`py-px text-right ${shownFrom(d)}`}>
          {m.channels.includes(d.channel) ? (
            <NumberField
              label={`${d.name} of keyframe ${number}`}
              className="h-6! w-15"
              value={m.view[d.channel]}
              min={d.least}
              max={d.most}
              digits={d.digits}
              unit={d.unit}
              onCommit={(v) => set(d, v)}
            />
          ) : (
            <span className="figure px-1 text-muted" title="Not keyed here">
              ({m.view[d.channel].toFixed(d.digits)})
            </span>
          )}
        </td>
      ))}
      <td className="w-34 pr-2 pl-1 text-right">
        <EaseSelect
          label={`What leaves keyframe ${number}`}
          ease={m.ease}
          onChange={(e) =>
            store.getState().edit((take) => ({
              ...take,
              path: setEase(take.path, viewKeySelection(take.path, m.time), e),
            }))
          }
        />
      </td>
    </tr>
  );
}
