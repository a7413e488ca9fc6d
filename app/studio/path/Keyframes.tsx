/** The keyframes with exact times and values. */
import { useState } from 'react';
import { viewKeysOf } from '@glimbo/core/path/edit';
import { isSelected, refsOf, sameTime } from '@glimbo/core/path/keys';
import { Select } from '~/ui/Select';
import { VALUE_DIALS } from '../fields/value-dials';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { KeyframeRow, shownFrom } from './KeyframeRow';
import { KeyframeTools } from './KeyframeTools';
import { useTimeWriting, WRITINGS, type Writing } from './time-writing';

export function Keyframes() {
  const store = useStudioStore();
  const { path } = useTake();
  const time = useStudio((s) => s.time);
  const selection = useStudio((s) => s.selection);
  const viewKeys = viewKeysOf(path);
  const writing = useTimeWriting();
  /** Where picking with Shift begins. */
  const [anchor, setAnchor] = useState(0);
  const pick = (i: number, e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    const { pick: pickKeys, setTime } = store.getState();
    const key = viewKeys[i]!;
    if (e.shiftKey) {
      const [a, b] = [Math.min(anchor, i), Math.max(anchor, i)];
      return pickKeys(viewKeys.slice(a, b + 1).flatMap(refsOf), 'only');
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
      <KeyframeTools count={viewKeys.length} here={here} />
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
                <KeyframeRow
                  // By its place: a keyframe whose time is typed stays the row that it was.
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
