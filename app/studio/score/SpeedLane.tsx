/** How fast the view turns at each moment, °/s, with the stretches in which that is too fast to be seen. */
import { useMemo } from 'react';
import { speedAt } from '@glimbo/core/path/path';
import { pathOf } from '~/ui/chart';
import { useTooFast } from '../path/useTooFast';
import { useStudio, useTake } from '../state/store';
import { LANE_WIDTH, type Axis } from '../axes/lanes';

/** Speed at the lane's right edge, °/s. */
export const FASTEST = 180;
const FINE = 2;

export function SpeedLane({ height, y, timeAt }: Axis) {
  const { path } = useTake();
  const rate = useStudio((s) => s.footage.facts.rate);
  const fast = useTooFast();
  const shape = useMemo(() => {
    const x = (speed: number) => 6 + (Math.min(FASTEST, speed) / FASTEST) * (LANE_WIDTH - 12);
    const points = Array.from(
      { length: Math.ceil(height / FINE) + 1 },
      (_, i) => [x(speedAt(path, timeAt(i * FINE), rate)), i * FINE] as const,
    );
    return pathOf([points]);
  }, [path, rate, height, timeAt]);
  return (
    <g data-testid="speed-lane">
      {fast.map(({ from, to }) => (
        <rect
          key={from}
          x={0}
          y={y(from) - 1}
          width={LANE_WIDTH}
          height={Math.max(3, y(to) - y(from) + 2)}
          fill="var(--camera)"
          fillOpacity={0.22}
          data-testid="comfort-mark"
        >
          <title>Too fast to be seen: the picture moves by more than a seventh of its width from frame to frame</title>
        </rect>
      ))}
      <path d={shape} fill="none" stroke="var(--ink)" strokeWidth={1.5} pointerEvents="none" />
    </g>
  );
}
