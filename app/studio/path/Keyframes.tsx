/** The keyframes with exact times. */
import { ChevronDown, ChevronUp, Copy, Plus, Trash2 } from 'lucide-react';
import { EASES, type Ease } from '@glimbo/core/path/ease';
import { momentsOf, moveMoment, setEase, snap, type Moment } from '@glimbo/core/path/edit';
import { stretchOf } from '@glimbo/core/take/take';
import { NumberField } from '~/ui/Dial';
import { duplicateHere, keyHere, removeHere } from '../shortcuts';
import { neighbours } from '../Transport';
import { useStudio, useStudioStore, useTake } from '../store';

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
  const selected = useStudio((s) => s.selected);
  const moments = momentsOf(take.path);
  const { rate } = store.getState().footage.facts;
  const near = neighbours(take.path, time);
  const go = (t: number | undefined) => {
    if (t === undefined) return;
    store.getState().setTime(t);
    store.getState().select(t);
  };
  const here = moments.some((m) => Math.abs(m.time - time) < 1e-6);
  const ease = here || moments.length === 0 ? null : moments.findLast((m) => m.time < time);
  return (
    <section className="flex min-w-0 flex-col" aria-label="Keyframes">
      <div className="flex h-9 items-center gap-0.5 border-b border-rule px-2">
        <span className="label mr-auto whitespace-nowrap" data-testid="keyframe-count">
          {moments.length > 0 && <span>{moments.length} </span>}
          <span className={moments.length ? 'hidden @[560px]:inline' : ''}>
            {moments.length === 1 ? 'keyframe' : moments.length ? 'keyframes' : 'Keyframes'}
          </span>
        </span>
        <button
          className="icon-button"
          title="Previous keyframe (↑)"
          aria-label="Previous keyframe"
          disabled={near.previous === undefined}
          onClick={() => go(near.previous)}
        >
          <ChevronUp size={15} />
        </button>
        <button
          className="icon-button"
          title="Next keyframe (↓)"
          aria-label="Next keyframe"
          disabled={near.next === undefined}
          onClick={() => go(near.next)}
        >
          <ChevronDown size={15} />
        </button>
        <button
          className="icon-button"
          title="Duplicate the selected keyframe to the playhead (Ctrl D)"
          aria-label="Duplicate to the playhead"
          disabled={selected === null || here}
          onClick={() => duplicateHere(store)}
        >
          <Copy size={14} />
        </button>
        <Hold />
        <button
          className="icon-button"
          title="Remove the keyframe (Delete)"
          aria-label="Remove the keyframe"
          disabled={selected === null && !here}
          onClick={() => removeHere(store)}
        >
          <Trash2 size={14} />
        </button>
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
        {moments.length === 0 ? (
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
              {moments.map((m, i) => (
                <Row
                  key={i}
                  number={i + 1}
                  moment={m}
                  selected={selected === m.time}
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
  moment: Moment;
  selected: boolean;
  passed: boolean;
  rate: number;
  onGo: () => void;
}) {
  const store = useStudioStore();
  const { duration } = store.getState().footage.facts;
  const retime = (t: number) => {
    const to = snap(t, rate);
    store.getState().edit((take) => ({ ...take, path: moveMoment(take.path, m.time, to) }));
    store.getState().setTime(to);
    store.getState().select(to);
  };
  const stretch = stretchOf(store.getState().take(), rate);
  const name = typeof m.ease === 'string' ? m.ease : 'custom';
  return (
    <tr className={selected ? 'bg-rule' : passed ? 'bg-paper' : ''}>
      <td className="figure w-7 cursor-pointer pl-3 text-muted" onClick={onGo}>
        {number}
      </td>
      <td className="py-px">
        <NumberField
          label={`Time of keyframe ${number}`}
          className="h-6! w-18"
          value={m.time * stretch}
          min={0}
          max={duration * stretch}
          digits={3}
          unit=" s"
          onCommit={(t) => retime(t / stretch)}
        />
      </td>
      <td
        className="figure hidden cursor-pointer px-2 text-right whitespace-nowrap @[600px]:table-cell"
        onClick={onGo}
        title={`Pan ${m.view.pan.toFixed(1)}°, tilt ${m.view.tilt.toFixed(1)}°, field of view ${m.view.fov.toFixed(1)}°`}
      >
        {m.view.pan.toFixed(0)}° {m.view.tilt.toFixed(0)}° <span className="text-muted">{m.view.fov.toFixed(0)}°</span>
      </td>
      <td className="pr-2 text-right">
        <select
          className="field h-6! w-30 py-0"
          aria-label={`What leaves keyframe ${number}`}
          value={name}
          onChange={(e) =>
            store.getState().edit((take) => ({ ...take, path: setEase(take.path, m.time, e.target.value as Ease) }))
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
