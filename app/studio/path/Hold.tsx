/** Holding the view until a time. */
import { Timer } from 'lucide-react';
import { useState } from 'react';
import { DropdownMenu } from 'radix-ui';
import { holdUntil, snap } from '@glimbo/core/path/edit';
import { NumberField } from '~/ui/Dial';
import { useClock, useStudio, useStudioStore } from '../state/store';

/** Makes the view stand still from the playhead until a time. */
export function Hold() {
  const store = useStudioStore();
  const time = useStudio((s) => s.time);
  const [open, setOpen] = useState(false);
  const { rate, duration } = store.getState().footage.facts;
  const times = useClock();
  /** `until` as it is shown: seconds as the footage is read. */
  const hold = (until: number) => {
    const to = snap(times.footage(until), rate);
    if (to > time) store.getState().edit((t) => ({ ...t, path: holdUntil(t.path, time, to) }));
    setOpen(false);
  };
  return (
    <DropdownMenu.Root open={open} onOpenChange={setOpen}>
      <DropdownMenu.Trigger className="icon-button" title="Hold the view until…" aria-label="Hold the view until">
        <Timer size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="menu p-2!" sideOffset={4}>
          <p className="mb-1 text-muted">Stand still from {times.shown(time).toFixed(2)} s until</p>
          {[0.5, 1, 2, 3]
            .filter((s) => time + times.footage(s) < duration)
            .map((s) => (
              <DropdownMenu.Item key={s} className="menu-item" onSelect={() => hold(times.shown(time) + s)}>
                {(times.shown(time) + s).toFixed(2)} s <span className="text-muted">({s} s)</span>
              </DropdownMenu.Item>
            ))}
          <div className="mt-1 flex items-center gap-2 px-2" onKeyDown={(e) => e.stopPropagation()}>
            or{' '}
            <NumberField
              label="Hold until, in seconds"
              value={Math.min(times.shown(duration), times.shown(time) + 1)}
              min={times.shown(time)}
              max={times.shown(duration)}
              digits={3}
              unit=" s"
              onCommit={hold}
            />
          </div>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
