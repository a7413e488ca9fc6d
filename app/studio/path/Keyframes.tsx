/** The keyframes with exact times. */
import { ChevronDown, ChevronUp, Copy, Plus, Trash2 } from 'lucide-react';
import { EASES, type Ease } from '@glimbo/core/path/ease';
import { viewKeysOf, moveViewKey, neighbours, setEase, snap, type ViewKey } from '@glimbo/core/path/edit';
import { isSelected, sameTime, viewKeySelection } from '@glimbo/core/path/keys';
import { IconButton } from '~/ui/IconButton';
import { NumberField } from '~/ui/Dial';
import { duplicateHere, keyHere, removeHere } from '../shortcuts';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';
import { Hold } from './Hold';

const EASE_NAMES: Record<string, string> = {
  smooth: 'Smooth',
  linear: 'Straight',
  hold: 'Hold',
  'ease-in': 'Ease in',
  'ease-out': 'Ease out',
  'ease-in-out': 'Ease in and out',
  whip: 'Whip',
  jolt: 'Jolt',
};

export function Keyframes() {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const selection = useStudio((s) => s.selection);
  const viewKeys = viewKeysOf(take.path);
  const { rate } = store.getState().footage.facts;
  const near = neighbours(take.path, time);
  const go = (t: number | undefined) => {
    if (t === undefined) return;
    store.getState().setTime(t);
    store.getState().selectView(t);
  };
  const here = viewKeys.some((m) => sameTime(m.time, time));
  const ease = here || viewKeys.length === 0 ? null : viewKeys.findLast((m) => m.time < time);
  return (
    <section className="flex min-w-0 flex-col" aria-label="Keyframes">
      <div className="flex h-9 items-center gap-0.5 border-b border-rule px-2">
        <span className="label mr-auto whitespace-nowrap" data-testid="keyframe-count">
          {viewKeys.length > 0 && <span>{viewKeys.length} </span>}
          <span className={viewKeys.length ? 'hidden @[560px]:inline' : ''}>
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
          title="Duplicate the selected keyframe to the playhead (Ctrl D)"
          label="Duplicate to the playhead"
          disabled={selection.size === 0 || here}
          onClick={() => duplicateHere(store)}
        >
          <Copy size={14} />
        </IconButton>
        <Hold />
        <IconButton
          title="Remove the keyframe (Delete)"
          label="Remove the keyframe"
          disabled={selection.size === 0 && !here}
          onClick={() => removeHere(store)}
        >
          <Trash2 size={14} />
        </IconButton>
        <button className="button h-6!" onClick={() => keyHere(store)} title="Set a keyframe at the playhead (Enter)">
          <Plus size={13} />{' '}
          {here ? (
            <span>
              Set<span className="hidden @[560px]:inline"> again</span>
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
                <th className="font-medium">time</th>
                <th className="hidden px-2 text-right font-medium @[600px]:table-cell">pan, tilt, fov</th>
                <th className="font-medium">ease after</th>
              </tr>
            </thead>
            <tbody>
              {viewKeys.map((m, i) => (
                <Row
                  key={i}
                  number={i + 1}
                  moment={m}
                  selected={isSelected(selection, m.channels[0]!, m)}
                  passed={ease === m}
                  rate={rate}
                  onGo={() => go(m.time)}
                />
              ))}
            </tbody>
          </table>
        )}
      </div>
    </section>
  );
}

function Row({
  number,
  moment: m,
  selected,
  passed,
  rate,
  onGo,
}: {
  number: number;
  moment: ViewKey;
  selected: boolean;
  passed: boolean;
  rate: number;
  onGo: () => void;
}) {
  const store = useStudioStore();
  const { duration } = store.getState().footage.facts;
  const retime = (t: number) => {
    const to = snap(t, rate);
    store.getState().edit((take) => ({ ...take, path: moveViewKey(take.path, m.time, to) }));
    store.getState().setTime(to);
    store.getState().selectView(to);
  };
  const times = useClock();
  const name = typeof m.ease === 'string' ? m.ease : 'custom';
  return (
    <tr className={selected ? 'bg-rule' : passed ? 'bg-paper' : ''}>
      <td className="figure w-7 pl-1 text-muted">
        <button className="px-2" aria-label={`Go to keyframe ${number}`} aria-pressed={selected} onClick={onGo}>
          {number}
        </button>
      </td>
      <td className="py-px">
        <NumberField
          label={`Time of keyframe ${number}`}
          className="h-6! w-18"
          value={times.shown(m.time)}
          min={0}
          max={times.shown(duration)}
          digits={3}
          unit=" s"
          onCommit={(t) => retime(times.footage(t))}
        />
      </td>
      <td
        className="figure hidden px-2 text-right whitespace-nowrap @[600px]:table-cell"
        title={`Pan ${m.view.pan.toFixed(1)}°, tilt ${m.view.tilt.toFixed(1)}°, field of view ${m.view.fov.toFixed(1)}°`}
      >
        {m.view.pan.toFixed(0)}° {m.view.tilt.toFixed(0)}° <span className="text-muted">{m.view.fov.toFixed(0)}°</span>
      </td>
      <td className="w-30 pr-2 text-right">
        <select
          className="field h-6! w-full min-w-16 py-0"
          aria-label={`What leaves keyframe ${number}`}
          value={name}
          onChange={(e) =>
            store.getState().edit((take) => ({
              ...take,
              path: setEase(take.path, viewKeySelection(take.path, m.time), e.target.value as Ease),
            }))
          }
        >
          {[...EASES, ...(name === 'custom' ? ['custom'] : [])].map((e) => (
            <option key={e} value={e}>
              {EASE_NAMES[e] ?? 'Own curve'}
            </option>
          ))}
        </select>
      </td>
    </tr>
  );
}
