/** The keyframes with exact times and values. */
import { ChevronDown, ChevronUp, Copy, Plus, Trash2 } from 'lucide-react';
import { memo, useState } from 'react';
import { moveViewKey, neighbours, setEase, setViewKey, snap, viewKeysOf, type ViewKey } from '@glimbo/core/path/edit';
import { isSelected, sameTime, viewKeySelection, type KeyRef, refsOf } from '@glimbo/core/path/keys';
import { VALUE_DIALS, type ValueDial } from '../fields/value-dials';
import { IconButton } from '~/ui/IconButton';
import { NumberField } from '~/ui/Dial';
import { Select } from '~/ui/Select';
import { duplicateHere, insertHere, keyHere, removeHere } from '../commands/path-edits';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { useTimeWriting, WRITINGS, type Writing } from './time-writing';
import { EaseSelect } from './EaseSelect';
import { EditMenu } from './EditMenu';
import { Hold } from './Hold';
import { OtherTakes } from '../fields/OtherTakes';

/** From which width of the bench on a dial's values have room. */
const shownFrom = ({ channel }: ValueDial) =>
  channel === 'pan' ? 'hidden @[640px]:table-cell' : 'hidden @[900px]:table-cell';

export function Keyframes() {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const selection = useStudio((s) => s.selection);
  const viewKeys = viewKeysOf(take.path);
  const near = neighbours(take.path, time);
  const writing = useTimeWriting();
  /** Where picking with Shift begins. */
  const [anchor, setAnchor] = useState(0);
  const [others, setOthers] = useState(false);
  const go = (t: number | undefined) => {
    if (t === undefined) return;
    store.getState().setTime(t);
    store.getState().selectView(t);
  };
  const pick = (i: number, e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    const { pick: pickKeys, setTime } = store.getState();
    const key = viewKeys[i]!;
    if (e.shiftKey) {
      const [a, b] = [Math.min(anchor, i), Math.max(anchor, i)];
      return pickKeys(
        viewKeys.slice(a, b + 1).flatMap((k): KeyRef[] => refsOf(k)),
        'only',
      );
    }
    setAnchor(i);
    if (e.ctrlKey || e.metaKey) return pickKeys(refsOf(key), 'toggle');
    setTime(key.time);
    pickKeys(refsOf(key), 'only');
  };
  const here = viewKeys.some((m) => sameTime(m.time, time));
  const passed = here || viewKeys.length === 0 ? null : viewKeys.findLast((m) => m.time < time);
  return (
    <section className="flex min-w-0 flex-col" aria-label="Keyframes">
      <div className="flex h-9 items-center gap-0.5 border-b border-rule px-2">
        <span
          className="label mr-auto whitespace-nowrap"
          title={`${viewKeys.length} ${viewKeys.length === 1 ? 'keyframe' : 'keyframes'}`}
          data-testid="keyframe-count"
        >
          {viewKeys.length > 0 && <span>{viewKeys.length} </span>}
          <span className={viewKeys.length ? 'hidden @[760px]:inline' : ''}>
            {viewKeys.length === 1 ? 'keyframe' : viewKeys.length ? 'keyframes' : 'Keyframes'}
          </span>
        </span>
        <IconButton
          title="Previous keyframe (↑)"
          label="Previous keyframe"
          disabled={near.previous === undefined}
          onClick={() => go(near.previous)}
        >
          <ChevronUp size={15} />
        </IconButton>
        <IconButton
          title="Next keyframe (↓)"
          label="Next keyframe"
          disabled={near.next === undefined}
          onClick={() => go(near.next)}
        >
          <ChevronDown size={15} />
        </IconButton>
        <IconButton
          title="Duplicate the selected keyframes to the playhead (Ctrl D)"
          label="Duplicate to the playhead"
          disabled={selection.size === 0 || here}
          onClick={() => duplicateHere(store)}
        >
          <Copy size={14} />
        </IconButton>
        <Hold />
        <EditMenu onOthers={() => setOthers(true)} />
        {others && <OtherTakes onClose={() => setOthers(false)} />}
        <IconButton
          title="Remove the keyframe (Delete)"
          label="Remove the keyframe"
          disabled={selection.size === 0 && !here}
          onClick={() => removeHere(store)}
        >
          <Trash2 size={14} />
        </IconButton>
        <button
          className="button h-6!"
          onClick={(e) => (e.shiftKey ? insertHere(store) : keyHere(store))}
          title="Set a keyframe at the playhead (Enter); in between without a change of the curve (Shift Enter)"
        >
          <Plus size={13} />{' '}
          {here ? (
            <span>
              Set<span className="hidden @[760px]:inline"> again</span>
            </span>
          ) : (
            'Set'
          )}
        </button>
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        {viewKeys.length === 0 ? (
          <p className="p-3 text-muted">
            A keyframe fixes the whole view at a moment. Go to a moment and aim in the Frame; go on in time and aim
            again. Enter sets one of the view as it is.
          </p>
        ) : (
          <table className="w-full">
            <thead>
              <tr className="label text-left">
                <th />
                <th className="font-medium">
                  <Select<Writing>
                    label="Times as"
                    value={writing.id}
                    options={WRITINGS}
                    onChange={writing.choose}
                    className="h-6! border-0! bg-transparent! px-0! text-[11px]"
                  />
                </th>
                {VALUE_DIALS.map((d) => (
                  <th key={d.channel} className={`px-1 text-right font-medium ${shownFrom(d)}`}>
                    {d.short}
                  </th>
                ))}
                <th className="pl-1 font-medium">ease after</th>
              </tr>
            </thead>
            <tbody>
              {viewKeys.map((m, i) => (
                <Row
                  key={i}
                  number={i + 1}
                  of={m}
                  selected={isSelected(selection, m.channels[0]!, m)}
                  passed={passed === m}
                  anchor={`${anchor} of ${viewKeys.length}`}
                  onPick={(e) => pick(i, e)}
                />
              ))}
            </tbody>
          </table>
        )}
      </div>
    </section>
  );
}

interface RowProps {
  number: number;
  of: ViewKey;
  selected: boolean;
  passed: boolean;
  /** Where picking with Shift begins, and how many there are: picking follows from them. */
  anchor: string;
  onPick: (e: React.MouseEvent) => void;
}

/** Drawn anew only when it says something else: a drag changes few of many. */
const Row = memo(
  DrawnRow,
  (a, b) =>
    a.number === b.number &&
    a.selected === b.selected &&
    a.passed === b.passed &&
    a.anchor === b.anchor &&
    JSON.stringify(a.of) === JSON.stringify(b.of),
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
