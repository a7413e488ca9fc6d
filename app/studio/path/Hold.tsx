/** Holding the view until a time. */
import { Timer } from 'lucide-react';
import { useState } from 'react';
import { DropdownMenu } from 'radix-ui';
import { holdUntil, snap } from '@glimbo/core/path/edit';
import { stretchOf } from '@glimbo/core/take/take';
import { NumberField } from '~/ui/Dial';
import { useStudio, useStudioStore, useTake } from '../store';

/** Makes the view stand still from the playhead until a time. */
export function Hold() {
  const store = useStudioStore();
  const time = useStudio((s) => s.time);
  const [open, setOpen] = useState(false);
  const { rate, duration } = store.getState().footage.facts;
  const stretch = stretchOf(useTake(), rate);
  /** `until` as it is shown: seconds as the footage is read. */
  const hold = (until: number) => {
    const to = snap(until / stretch, rate);
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
          <p className="mb-1 text-muted">Stand still from {(time * stretch).toFixed(2)} s until</p>
          {[0.5, 1, 2, 3]
            .filter((s) => time + s / stretch < duration)
            .map((s) => (
              <DropdownMenu.Item key={s} className="menu-item" onSelect={() => hold(time * stretch + s)}>
                {(time * stretch + s).toFixed(2)} s <span className="text-muted">({s} s)</span>
              </DropdownMenu.Item>
            ))}
          <div className="mt-1 flex items-center gap-2 px-2" onKeyDown={(e) => e.stopPropagation()}>
            or{' '}
            <NumberField
              label="Hold until, in seconds"
              value={Math.min(duration * stretch, time * stretch + 1)}
              min={time * stretch}
              max={duration * stretch}
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
