/** The path's curves on the Score, with their beads: pan over the Sweep, another dial in the lane. */
import { useMemo, useRef } from 'react';
import { evaluate } from '@glimbo/core/path/channel';
import { wrapHeading } from '@glimbo/core/geometry/rotation';
import { DEFAULT_VIEW } from '@glimbo/core/lens/view';
import { momentsOf, moveMoment, setMoment, snap, type Moment } from '@glimbo/core/path/edit';
import { viewAt, keysOf } from '@glimbo/core/path/path';
import { stretchOf } from '@glimbo/core/take/take';
import { clock } from '~/ui/format';
import { Bead } from '../Bead';
import { useStudio, useStudioStore, useTake } from '../store';
import { LANE_RANGES, LANE_WIDTH, type Axis, type DialLane } from './lanes';

/** The line of a curve, broken where `broken` says that two neighbouring points do not belong together. */
function polyline(points: [number, number][], broken: (a: [number, number], b: [number, number]) => boolean): string {
  return points
    .map((p, i) => `${i === 0 || broken(points[i - 1]!, p) ? 'M' : 'L'}${p[0].toFixed(1)} ${p[1].toFixed(1)}`)
    .join('');
}

function useBeadDrag() {
  const store = useStudioStore();
  const from = useRef<{
    moment: Moment;
    path: ReturnType<typeof store.getState>['history']['steps'][number]['path'];
    time: number;
  } | null>(null);
  return {
    /** Moves a moment to a time and value, always from where the drag began, so that nothing it passes over is lost. */
    drag(moment: Moment, to: number, change: Parameters<typeof setMoment>[2]) {
      from.current ??= { moment, path: store.getState().take().path, time: moment.time };
      const start = from.current;
      const { rate, duration } = store.getState().footage.facts;
      const time = Math.max(0, Math.min(duration, snap(to, rate)));
      const moved = moveMoment(start.path, start.time, time);
      store.getState().edit((t) => ({ ...t, path: setMoment(moved, time, change) }), `bead-${start.time}`);
      store.getState().select(time);
      // The Frame shows the moment that is being aimed.
      store.getState().follow(time);
    },
    start: () => from.current?.moment,
    end() {
      from.current = null;
      store.getState().endGesture();
    },
  };
}

export function PanCurve({ width, height, y, timeAt }: Axis & { width: number }) {
  const store = useStudioStore();
  const take = useTake();
  const selected = useStudio((s) => s.selected);
  const moments = useMemo(() => momentsOf(take.path), [take.path]);
  const stretch = stretchOf(take, store.getState().footage.facts.rate);
  const bead = useBeadDrag();
  const x = (pan: number) => (wrapHeading(pan) / 360 + 0.5) * width;
  const points = Array.from({ length: Math.ceil(height / 2) + 1 }, (_, i): [number, number] => [
    x(viewAt(take.path, timeAt(i * 2)).pan),
    i * 2,
  ]);
  const line = polyline(points, (a, b) => Math.abs(a[0] - b[0]) > width / 2);
  return (
    <>
      <path d={line} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={5} pointerEvents="none" />
      <path d={line} fill="none" stroke="#ff7048" strokeWidth={2} pointerEvents="none" data-testid="pan-curve" />
      {moments.map((m, i) => (
        <Bead
          key={i}
          x={x(m.view.pan)}
          y={y(m.time)}
          ease={m.ease}
          selected={selected === m.time}
          label={`Keyframe ${i + 1} at ${clock(m.time * stretch)}, pan ${Math.round(m.view.pan)}°`}
          onSelect={() => store.getState().select(m.time)}
          onDrag={(dx, dy) => {
            const start = bead.start() ?? m;
            bead.drag(m, start.time + (timeAt(dy) - timeAt(0)), { pan: start.view.pan + (dx / width) * 360 });
          }}
          onEnd={bead.end}
        />
      ))}
    </>
  );
}

export function LaneCurve({ lane, height, y, timeAt }: Axis & { lane: DialLane }) {
  const store = useStudioStore();
  const take = useTake();
  const selected = useStudio((s) => s.selected);
  const { min, max, name, unit } = LANE_RANGES[lane];
  const moments = useMemo(() => momentsOf(take.path), [take.path]);
  const stretch = stretchOf(take, store.getState().footage.facts.rate);
  const bead = useBeadDrag();
  const inner = LANE_WIDTH - 20;
  const x = (v: number) => 10 + Math.max(0, Math.min(1, (v - min) / (max - min))) * inner;
  const points = Array.from({ length: Math.ceil(height / 2) + 1 }, (_, i): [number, number] => [
    x(evaluate(take.path[lane], timeAt(i * 2), DEFAULT_VIEW[lane])),
    i * 2,
  ]);
  const middle = lane === 'tilt' || lane === 'roll' ? 0 : DEFAULT_VIEW[lane];
  return (
    <>
      <line x1={x(middle)} x2={x(middle)} y1={0} y2={height} stroke="var(--edge)" strokeDasharray="2 3" />
      <path
        d={polyline(points, () => false)}
        fill="none"
        stroke="var(--camera)"
        strokeWidth={1.8}
        pointerEvents="none"
      />
      {moments
        .filter((m) => keysOf(take.path, lane).some((k) => Math.abs(k.time - m.time) < 1e-6))
        .map((m, i) => (
          <Bead
            key={i}
            x={x(m.view[lane])}
            y={y(m.time)}
            ease={m.ease}
            selected={selected === m.time}
            label={`${name} ${m.view[lane].toFixed(1)}${unit} at ${clock(m.time * stretch)}`}
            onSelect={() => store.getState().select(m.time)}
            onDrag={(dx, dy) => {
              const start = bead.start() ?? m;
              const value = Math.max(
                lane === 'fov' ? 5 : min,
                Math.min(max, start.view[lane] + (dx / inner) * (max - min)),
              );
              bead.drag(m, start.time + (timeAt(dy) - timeAt(0)), { [lane]: value });
            }}
            onEnd={bead.end}
          />
        ))}
    </>
  );
}
