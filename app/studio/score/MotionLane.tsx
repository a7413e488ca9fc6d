/** How fast the picture turns, as a lane: pan, tilt and roll side by side, before (grey) and after (teal); cuts, pins, trust. */
import { useMemo } from 'react';
import { TRUSTED } from '@glimbo/core/motion/motion';
import { extremes, framesOfRow } from '@glimbo/core/sweep/rows';
import { useTurning } from '../level/useTurning';
import { useStudio, useTake } from '../state/store';
import { LANE_WIDTH, type Axis } from '../axes/lanes';

/** Width of the strip that shows how far each frame is trusted. */
const TRUST = 5;
/** °/s at the edge of an axis's column; beyond it the curve is squeezed. */
const FULL = 60;

const squeeze = (rate: number) => Math.sign(rate) * Math.min(1, Math.sqrt(Math.abs(rate) / FULL));

export function MotionLane({ height, y, timeAt }: Axis) {
  const motion = useStudio((s) => s.motion);
  const { turning } = useTurning();
  const { steady } = useTake();
  const column = (LANE_WIDTH - TRUST) / 3;
  const lines = useMemo(() => {
    if (!motion || !turning) return null;
    const { rate, frames } = motion;
    /** The widest swing on either side in each row, so that a jolt of one frame is seen at any zoom. */
    const shape = (rates: Float32Array, axis: number) => {
      const middle = column * (axis + 0.5);
      const right: string[] = [];
      const left: string[] = [];
      for (let py = 0; py < height; py++) {
        const [least, most] = extremes(rates, framesOfRow({ rate, timeAt }, frames.length, py), 3, axis);
        right.push(`${(middle + 0.4 + squeeze(most) * (column / 2 - 2)).toFixed(1)} ${py}`);
        left.push(`${(middle - 0.4 + squeeze(least) * (column / 2 - 2)).toFixed(1)} ${py}`);
      }
      return `M${[...right, ...left.reverse()].join('L')}Z`;
    };
    return {
      before: [0, 1, 2].map((k) => shape(turning.before, k)),
      after: [0, 1, 2].map((k) => shape(turning.after, k)),
    };
  }, [motion, turning, height, timeAt, column]);
  const trust = useMemo(() => {
    if (!motion) return [];
    const rows: { py: number; size: number; low: boolean }[] = [];
    for (let py = 0; py < height; py += 3) {
      const part = motion.frames.slice(...framesOfRow({ rate: motion.rate, timeAt }, motion.frames.length, py, 3));
      const least = part.reduce((a, f) => Math.min(a, f.trust), 1);
      if (part.length) rows.push({ py, size: least, low: least < TRUSTED });
    }
    return rows;
  }, [motion, height, timeAt]);
  if (!motion)
    return (
      <text x={LANE_WIDTH / 2} y={24} textAnchor="middle" fill="var(--muted)" fontSize={12}>
        not analysed
      </text>
    );
  return (
    <g pointerEvents="none" data-testid="motion-lane">
      {motion.bad.map((b) => (
        <rect
          key={b.in}
          x={0}
          width={LANE_WIDTH}
          y={y(b.in)}
          height={Math.max(1, y(b.out) - y(b.in))}
          fill="var(--edge)"
          opacity={0.35}
        />
      ))}
      {[1, 2].map((k) => (
        <line key={k} x1={column * k} x2={column * k} y1={0} y2={height} stroke="var(--rule)" />
      ))}
      {lines?.before.map((d, k) => (
        <path key={k} d={d} fill="var(--muted)" opacity={0.55} data-testid="motion-before" />
      ))}
      {lines?.after.map((d, k) => (
        <path key={k} d={d} fill="var(--level)" data-testid="motion-after" />
      ))}
      {trust.map(({ py, size, low }) => (
        <rect
          key={py}
          x={LANE_WIDTH - TRUST}
          width={Math.max(1, size * TRUST)}
          y={py}
          height={3}
          fill={low ? 'var(--camera)' : 'var(--level)'}
        />
      ))}
      {motion.cuts.map((t) => (
        <g key={t}>
          <line
            x1={0}
            x2={LANE_WIDTH}
            y1={y(t)}
            y2={y(t)}
            stroke="var(--ink)"
            strokeWidth={1.5}
            strokeDasharray="6 2"
          />
          <text x={2} y={y(t) - 3} fontSize={10} fill="var(--ink)">
            cut
          </text>
        </g>
      ))}
      {steady?.mode === 'pinned' &&
        steady.pins.map((p) => (
          <path key={p.time} d={`M0 ${y(p.time) - 5}l7 5l-7 5z`} fill="var(--level)" data-testid="pin" />
        ))}
    </g>
  );
}
