/** The playhead across the Score, with its time. */
import { wrapHeading } from '@glimbo/core/geometry/rotation';
import { headingAt } from '~/ui/chart';
import { clock } from '~/ui/format';
import { GUTTER, type Axis } from '../axes/lanes';
import { useClock, useStudio } from '../state/store';

/** Height of the time's label in pixels. */
const LABEL = 16;

export function Playhead({ height, y }: Pick<Axis, 'height' | 'y'>) {
  const time = useStudio((s) => s.time);
  const times = useClock();
  const at = y(time);
  return (
    <div
      className="pointer-events-none absolute left-0 z-10 w-full"
      style={{ top: at - 0.75, height: 1.5, background: 'var(--camera)' }}
      data-testid="playhead"
    >
      <span
        className="figure absolute px-1 text-[10px] leading-[16px]"
        style={{
          background: 'var(--camera)',
          color: 'var(--on-camera)',
          top: Math.max(-at, Math.min(height - at - LABEL, -LABEL / 2)),
          left: GUTTER,
        }}
      >
        {clock(times.shown(time))}
      </span>
    </div>
  );
}

/** Where the camera is looked elsewhere for a moment, on the Sweep at the playhead. */
export function GlanceMark({ y, width }: Pick<Axis, 'y'> & { width: number }) {
  const time = useStudio((s) => s.time);
  const glance = useStudio((s) => s.glance);
  if (!glance) return null;
  return (
    <circle
      cx={headingAt(wrapHeading(glance.pan), width)}
      cy={y(time)}
      r={7}
      fill="none"
      stroke="#fff"
      strokeWidth={2}
      pointerEvents="none"
    />
  );
}
