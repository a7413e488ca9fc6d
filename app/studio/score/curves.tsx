/** The path's curves on the Score, with their beads: pan over the Sweep, another dial in the lane. */
import { useMemo, useRef } from 'react';
import { wrapHeading } from '@glimbo/core/geometry/rotation';
import { DEFAULT_VIEW, type View } from '@glimbo/core/lens/view';
import { viewKeysOf, moveViewKey, setViewKey, snap, type ViewKey } from '@glimbo/core/path/edit';
import { isSelected } from '@glimbo/core/path/keys';
import type { ChannelName, Path } from '@glimbo/core/path/path';
import { TAKE_ALONE, viewOf } from '@glimbo/core/view/view-of';
import { brokenPath, headingAt } from '~/ui/chart';
import { clock } from '~/ui/format';
import { Bead } from '../path/Bead';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';
import { LANE_WIDTH, type Axis } from './lanes';

/** Pixels from one point of a curve to the next. */
const FINE = 2;

/** Moves keyframes, always from where the drag began, so that nothing they pass over is lost. */
function useBeadDrag({ timeAt }: Axis) {
  const store = useStudioStore();
  const from = useRef<{ key: ViewKey; path: Path } | null>(null);
  const end = () => {
    from.current = null;
    store.getState().endGesture();
  };
  const put = (start: { key: ViewKey; path: Path }, to: number, change: Partial<View>) => {
    const { edit, selectView, follow, footage } = store.getState();
    const { rate, duration } = footage.facts;
    const time = Math.max(0, Math.min(duration, snap(to, rate)));
    const moved = moveViewKey(start.path, start.key.time, time);
    edit((t) => ({ ...t, path: setViewKey(moved, time, change) }), `bead-${start.key.time}`);
    selectView(time);
    // The Frame shows the keyframe that is being aimed.
    follow(time);
  };
  return {
    /** By pixels since the drag began. */
    drag(key: ViewKey, dy: number, change: (start: ViewKey) => Partial<View>) {
      const start = (from.current ??= { key, path: store.getState().take().path });
      put(start, start.key.time + timeAt(dy) - timeAt(0), change(start.key));
    },
    /** By whole frames down. */
    step(key: ViewKey, frames: number, change: Partial<View>) {
      const { take, footage } = store.getState();
      put({ key, path: take().path }, key.time + frames / footage.facts.rate, change);
    },
    end,
  };
}

/** The view's points down the axis, each with its place in pixels. */
function usePoints({ height, timeAt }: Axis, x: (view: View) => number): [number, number][] {
  const take = useTake();
  return Array.from({ length: Math.ceil(height / FINE) + 1 }, (_, i) => [
    x(viewOf(take, TAKE_ALONE, timeAt(i * FINE))),
    i * FINE,
  ]);
}

export function PanCurve({ width, ...axis }: Axis & { width: number }) {
  const store = useStudioStore();
  const { path } = useTake();
  const selection = useStudio((s) => s.selection);
  const keys = useMemo(() => viewKeysOf(path), [path]);
  const times = useClock();
  const bead = useBeadDrag(axis);
  const x = (pan: number) => headingAt(wrapHeading(pan), width);
  const points = usePoints(axis, (view) => x(view.pan));
  const line = brokenPath(points, (a, b) => Math.abs(a[0] - b[0]) > width / 2);
  return (
    <>
      <path d={line} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={5} pointerEvents="none" />
      <path d={line} fill="none" stroke="#ff7048" strokeWidth={2} pointerEvents="none" data-testid="pan-curve" />
      {keys.map((key, i) => (
        <Bead
          key={i}
          x={x(key.view.pan)}
          y={axis.y(key.time)}
          ease={key.ease}
          selected={isSelected(selection, key.channels[0]!, key)}
          label={`Keyframe ${i + 1}`}
          value={`at ${clock(times.shown(key.time))}, pan ${Math.round(key.view.pan)}°`}
          onSelect={() => store.getState().selectView(key.time)}
          onDrag={(dx, dy) => bead.drag(key, dy, (start) => ({ pan: start.view.pan + (dx / width) * 360 }))}
          onStep={(across, down) => bead.step(key, down, { pan: key.view.pan + across })}
          onEnd={bead.end}
        />
      ))}
    </>
  );
}

/** A dial's channel with the values between which its lane runs; beads are not dragged below `least`. */
export interface DialScale {
  channel: Exclude<ChannelName, 'pan'>;
  name: string;
  unit: string;
  min: number;
  max: number;
  least: number;
}

export function LaneCurve({ scale, ...axis }: Axis & { scale: DialScale }) {
  const store = useStudioStore();
  const { path } = useTake();
  const selection = useStudio((s) => s.selection);
  const { channel, min, max, least, name, unit } = scale;
  const keys = useMemo(() => viewKeysOf(path).filter((k) => k.channels.includes(channel)), [path, channel]);
  const times = useClock();
  const bead = useBeadDrag(axis);
  const inner = LANE_WIDTH - 20;
  const x = (v: number) => 10 + Math.max(0, Math.min(1, (v - min) / (max - min))) * inner;
  const within = (v: number) => Math.max(least, Math.min(max, v));
  const points = usePoints(axis, (view) => x(view[channel]));
  const middle = min < 0 ? 0 : DEFAULT_VIEW[channel];
  return (
    <>
      <line x1={x(middle)} x2={x(middle)} y1={0} y2={axis.height} stroke="var(--edge)" strokeDasharray="2 3" />
      <path
        d={brokenPath(points, () => false)}
        fill="none"
        stroke="var(--camera)"
        strokeWidth={1.8}
        pointerEvents="none"
      />
      {keys.map((key, i) => (
        <Bead
          key={i}
          x={x(key.view[channel])}
          y={axis.y(key.time)}
          ease={key.ease}
          selected={isSelected(selection, channel, key)}
          label={`${name} of keyframe ${i + 1}`}
          value={`${key.view[channel].toFixed(1)}${unit} at ${clock(times.shown(key.time))}`}
          onSelect={() => store.getState().selectView(key.time)}
          onDrag={(dx, dy) =>
            bead.drag(key, dy, (start) => ({ [channel]: within(start.view[channel] + (dx / inner) * (max - min)) }))
          }
          onStep={(across, down) =>
            bead.step(key, down, { [channel]: within(key.view[channel] + (across * (max - min)) / 180) })
          }
          onEnd={bead.end}
        />
      ))}
    </>
  );
}
