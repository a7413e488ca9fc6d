/** Where the picture moves too fast to be seen, with what mends it, and the motion blur that carries it. */
import { useMemo } from 'react';
import { mendsOf } from '@glimbo/core/path/mends';
import type { Path } from '@glimbo/core/path/path';
import { SHUTTER } from '@glimbo/core/look/look';
import { withShutter } from '@glimbo/core/edit/look';
import { NumberField } from '~/ui/Dial';
import { clock } from '~/ui/format';
import { useClock, useStudioStore, useTake } from '../state/store';
import { useTooFast } from './useTooFast';

export function TooFast() {
  const store = useStudioStore();
  const times = useClock();
  const found = useTooFast();
  const first = found[0];
  const { rate } = store.getState().footage.facts;
  const mends = useMemo(
    () => (first ? mendsOf(store.getState().take().path, first, rate) : null),
    [store, first, rate],
  );
  if (!first || !mends) return null;
  const put = (path: Path) => store.getState().edit((t) => ({ ...t, path }));
  return (
    <div className="flex flex-wrap items-center gap-1.5 border-t border-rule pt-1.5" data-testid="too-fast">
      <span>
        Too fast to be seen from{' '}
        <button className="figure underline" onClick={() => store.getState().setTime(first.from)}>
          {clock(times.shown(first.from))}
        </button>
        {found.length > 1 && `, and ${found.length - 1} more`}
      </span>
      <button
        className="button h-6! px-1.5!"
        disabled={!mends.longer}
        title="The keyframe that ends it comes later, as far as the next one lets it"
        onClick={() => put(mends.longer!)}
      >
        Longer
      </button>
      <button
        className="button h-6! px-1.5!"
        title={`The picture is blurred along its way, by a shutter of ${SHUTTER.usual}°; in the whole take`}
        onClick={() => store.getState().edit((t) => withShutter(t, SHUTTER.usual))}
      >
        Blurred
      </button>
      <button
        className="button h-6! px-1.5!"
        title="Evenly from one keyframe to the other, so that the middle is no faster than it must be"
        onClick={() => put(mends.slower)}
      >
        Slower in the middle
      </button>
    </div>
  );
}

/** The shutter of the whole take. */
export function MotionBlur() {
  const store = useStudioStore();
  const { look } = useTake();
  return (
    <div
      className="flex flex-wrap items-center gap-1.5"
      title="How long the shutter is open: 360° is a frame's time. What moves fast is blurred along its way; 0° is sharp."
    >
      Motion blur
      <NumberField
        label="Shutter in degrees"
        className="h-6! w-16"
        value={look?.shutter ?? 0}
        min={SHUTTER.least}
        max={SHUTTER.most}
        digits={0}
        unit="°"
        onCommit={(shutter) => store.getState().edit((t) => withShutter(t, shutter))}
      />
      <span className="text-muted">
        {look?.shutter ? 'seen here once it stands still' : `0° is sharp, ${SHUTTER.usual}° as films have it`}
      </span>
    </div>
  );
}
