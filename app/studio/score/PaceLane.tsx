/** The pace as a lane: the speed, growing by doubling from left to right, and the clip's own seconds as ticks. */
import { scaleLog } from 'd3';
import { useRef } from 'react';
import { PACE_LIMITS, withoutPaceKey, withPaceKey, type Pace, type PaceKey } from '@glimbo/core/pace/pace';
import { snap } from '@glimbo/core/path/edit';
import { timeTicks } from '@glimbo/core/time/ticks';
import { brokenPath } from '~/ui/chart';
import { clock } from '~/ui/format';
import { Bead } from '../axes/Bead';
import { changePace, usePaceMap } from '../path/pace-edits';
import { useClock, useStudioStore, useTake } from '../state/store';
import { LANE_WIDTH, type Axis } from '../axes/lanes';

const FINE = 2;
const place = scaleLog([PACE_LIMITS.slowest, PACE_LIMITS.fastest], [8, LANE_WIDTH - 8]);
const within = (speed: number) => Math.max(PACE_LIMITS.slowest, Math.min(PACE_LIMITS.fastest, speed));

export function PaceLane({ height, y, timeAt }: Axis) {
  const store = useStudioStore();
  const { pace } = useTake();
  const map = usePaceMap();
  const times = useClock();
  const begun = useRef<{ key: PaceKey; pace: Pace } | null>(null);
  const points = Array.from({ length: Math.ceil(height / FINE) + 1 }, (_, i): [number, number] => [
    place(map.speedAt(timeAt(i * FINE)) / times.speed),
    i * FINE,
  ]);
  const ticks = timeTicks(map.clip(timeAt(0)), map.clip(timeAt(height)), height, 30).times.filter(
    (t) => t >= 0 && t <= map.length,
  );
  const move = (start: { key: PaceKey; pace: Pace }, dx: number, seconds: number) => {
    const { footage, follow } = store.getState();
    const { rate, duration } = footage.facts;
    const time = Math.max(0, Math.min(duration, snap(start.key.time + seconds, rate)));
    const speed = within(place.invert(place(start.key.speed) + dx));
    changePace(
      store,
      () => withPaceKey(withoutPaceKey(start.pace, start.key.time), { ...start.key, time, speed }),
      'pace-bead',
    );
    follow(time);
  };
  const end = () => {
    begun.current = null;
    store.getState().endGesture();
  };
  return (
    <>
      <line x1={place(1)} x2={place(1)} y1={0} y2={height} stroke="var(--edge)" strokeDasharray="2 3" />
      {ticks.map((t) => {
        const at = y(map.footage(t));
        return (
          <g key={t} className="figure" fill="var(--muted)" fontSize={9}>
            <line x1={LANE_WIDTH - 6} x2={LANE_WIDTH} y1={at} y2={at} stroke="var(--edge)" />
            {at > 10 && (
              <text x={LANE_WIDTH - 8} y={at + 3} textAnchor="end">
                {clock(t, 0)}
              </text>
            )}
          </g>
        );
      })}
      <path
        d={brokenPath(points, () => false)}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1.6}
        data-testid="pace-curve"
      />
      {pace?.keys.map((key, i) => (
        <Bead
          key={i}
          of={JSON.stringify(pace)}
          x={place(key.speed)}
          y={y(key.time)}
          ease={key.held ? 'hold' : (key.ease ?? 'smooth')}
          selected={false}
          label={`Speed ${i + 1}`}
          value={`${key.speed.toFixed(2)}× at ${clock(times.shown(key.time))}${key.held ? `, held ${key.held} s` : ''}`}
          onSelect={() => store.getState().setTime(key.time)}
          onDrag={(dx, dy) => move((begun.current ??= { key, pace }), dx, timeAt(dy) - timeAt(0))}
          onStep={(across, down) => move({ key, pace }, across, down / store.getState().footage.facts.rate)}
          onEnd={end}
        />
      ))}
      {!pace && (
        <text x={LANE_WIDTH / 2} y={24} textAnchor="middle" fill="var(--muted)" fontSize={11}>
          as it is read
        </text>
      )}
    </>
  );
}
