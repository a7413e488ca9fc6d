/** A segment's value curve and its speed curve side by side, time running down, each with the same two handles. */
import { useDrag } from '@use-gesture/react';
import { extent, line, scaleLinear } from 'd3';
import { useMemo, useRef } from 'react';
import { evaluate, slopeAt, type Keyframe } from '@glimbo/core/curve/channel';
import type { Bezier, Ease } from '@glimbo/core/curve/ease';
import { keysOf, type ChannelName } from '@glimbo/core/path/path';
import { arrivingAt, leavingAt, meanSpeed, speedsOf, type Segment } from '@glimbo/core/path/shape';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { dialOf } from '../fields/value-dials';

interface Props {
  channel: ChannelName;
  segment: Segment;
  width: number;
  height: number;
  onShape: (ease: Ease, gesture?: string) => void;
}

const STEPS = 64;
const MARGIN = 22;
/** Handles this near to flat are flat, unless Alt is held. */
const FLAT = 0.04;

export function SegmentCurves({ channel, segment, width, height, onShape }: Props) {
  const keys = keysOf(useTake().path, channel);
  const store = useStudioStore();
  const time = useStudio((s) => s.time);
  const { a, b, curve } = segment;
  const half = width / 2;
  const y = scaleLinear([a.time, b.time], [MARGIN, height - MARGIN]);
  const points = useMemo(
    () =>
      Array.from({ length: STEPS + 1 }, (_, i) => {
        const t = a.time + ((b.time - a.time) * (i === STEPS ? STEPS - 1e-6 : i)) / STEPS;
        return { t, value: evaluate(keys as Keyframe[], t, 0), speed: slopeAt(keys as Keyframe[], t) };
      }),
    [keys, a, b],
  );
  const x = scaleFor(
    points.map((p) => p.value),
    [MARGIN, half - MARGIN],
  );
  const v = scaleFor([0, ...points.map((p) => p.speed)], [half + MARGIN, width - MARGIN]);
  const draw = (place: (p: (typeof points)[number]) => number) =>
    line<(typeof points)[number]>(
      (p) => place(p),
      (p) => y(p.t),
    )(points) ?? '';
  const shaped = (to: Bezier) => onShape(to, `shape-${channel}-${segment.index}`);
  const end = () => store.getState().endGesture();
  const { name, unit } = dialOf(channel);
  return (
    <svg
      width={width}
      height={height}
      role="group"
      aria-label={`${name} of the segment at the playhead: value and speed`}
    >
      <text x={6} y={13} fill="var(--muted)" fontSize={11}>
        {name}
        {unit && `, ${unit}`}
      </text>
      <text x={half + 6} y={13} fill="var(--muted)" fontSize={11}>
        Speed{unit && `, ${unit}/s`}
      </text>
      <line x1={half} x2={half} y1={0} y2={height} stroke="var(--rule)" />
      <line x1={v(0)} x2={v(0)} y1={MARGIN} y2={height - MARGIN} stroke="var(--edge)" strokeDasharray="2 3" />
      {[a, b].map((k, i) => (
        <g key={i} fontSize={10} fill="var(--muted)" className="figure">
          <line x1={MARGIN / 2} x2={width - MARGIN / 2} y1={y(k.time)} y2={y(k.time)} stroke="var(--rule)" />
          <text x={Math.min(half - 48, Math.max(2, x(k.value) + 6))} y={y(k.time) + (i ? 14 : -5)}>
            {k.value.toFixed(1)}
          </text>
        </g>
      ))}
      {time >= a.time && time <= b.time && (
        <line x1={0} x2={width} y1={y(time)} y2={y(time)} stroke="var(--camera)" strokeWidth={1.2} />
      )}
      <path d={draw((p) => x(p.value))} fill="none" stroke="var(--camera)" strokeWidth={2} data-testid="value-curve" />
      <path d={draw((p) => v(p.speed))} fill="none" stroke="var(--ink)" strokeWidth={1.6} data-testid="speed-curve" />
      {curve && b.value !== a.value && (
        <Handles segment={segment} curve={curve} x={x} v={v} y={y} onShape={shaped} onEnd={end} />
      )}
    </svg>
  );
}

type Scale = ReturnType<typeof scaleLinear<number, number>>;

/** A scale with some room on both sides; of a constant, around it. */
function scaleFor(values: readonly number[], range: [number, number]): Scale {
  const [low = 0, high = 0] = extent(values) as [number, number];
  const room = Math.max(1e-3, (high - low) * 0.15, high === low ? 1 : 0);
  return scaleLinear([low - room, high + room], range);
}

interface HandlesProps {
  segment: Segment;
  curve: Bezier;
  x: Scale;
  v: Scale;
  y: Scale;
  onShape: (to: Bezier) => void;
  onEnd: () => void;
}

const clamp = (n: number, least: number, most: number) => Math.max(least, Math.min(most, n));

function Handles({ segment, curve, x, v, y, onShape, onEnd }: HandlesProps) {
  const { a, b } = segment;
  const [rise, length] = [b.value - a.value, b.time - a.time];
  const speeds = speedsOf(segment, curve);
  const flat = (share: number, at: number, free: boolean) => (!free && Math.abs(share - at) < FLAT ? at : share);
  const timeShare = (py: number) => clamp((y.invert(py) - a.time) / length, 0, 1);
  const valueShare = (px: number) => clamp((x.invert(px) - a.value) / rise, -5, 6);
  const mean = meanSpeed(segment);
  const capped = (speed: number) => clamp(speed, -8 * Math.abs(mean), 8 * Math.abs(mean));
  const places: {
    label: string;
    from: [number, number];
    at: [number, number];
    move: (px: number, py: number, free: boolean) => Bezier;
  }[] = [
    {
      label: 'Value handle leaving',
      from: [x(a.value), y(a.time)],
      at: [x(a.value + curve[1] * rise), y(a.time + curve[0] * length)],
      move: (px, py, free) => [timeShare(py), flat(valueShare(px), 0, free), curve[2], curve[3]],
    },
    {
      label: 'Value handle arriving',
      from: [x(b.value), y(b.time)],
      at: [x(a.value + curve[3] * rise), y(a.time + curve[2] * length)],
      move: (px, py, free) => [curve[0], curve[1], timeShare(py), flat(valueShare(px), 1, free)],
    },
    {
      label: 'Speed handle leaving',
      from: [v(speeds.start), y(a.time)],
      at: [v(speeds.start), y(a.time + curve[0] * length)],
      move: (px, py) => leavingAt(segment, curve, capped(v.invert(px)), timeShare(py)),
    },
    {
      label: 'Speed handle arriving',
      from: [v(speeds.end), y(b.time)],
      at: [v(speeds.end), y(a.time + curve[2] * length)],
      move: (px, py) => arrivingAt(segment, curve, capped(v.invert(px)), timeShare(py)),
    },
  ];
  return places.map((p) => <Handle key={p.label} {...p} onShape={onShape} onEnd={onEnd} />);
}

interface HandleProps {
  label: string;
  from: [number, number];
  at: [number, number];
  move: (px: number, py: number, free: boolean) => Bezier;
  onShape: (to: Bezier) => void;
  onEnd: () => void;
}

const KEYS: Record<string, [number, number]> = {
  ArrowLeft: [-3, 0],
  ArrowRight: [3, 0],
  ArrowUp: [0, -3],
  ArrowDown: [0, 3],
};

function Handle({ label, from, at, move, onShape, onEnd }: HandleProps) {
  const begun = useRef<[number, number]>(at);
  const bind = useDrag(
    ({ event, first, last, movement: [dx, dy] }) => {
      event.stopPropagation();
      if (first) begun.current = at;
      if (dx || dy) onShape(move(begun.current[0] + dx, begun.current[1] + dy, event.altKey));
      if (last) onEnd();
    },
    { pointer: { keys: false } },
  );
  return (
    <g
      {...bind()}
      role="button"
      tabIndex={0}
      aria-label={label}
      className="cursor-grab touch-none"
      onKeyDown={(e) => {
        const by = KEYS[e.key];
        if (!by) return;
        e.preventDefault();
        e.stopPropagation();
        onShape(move(at[0] + by[0], at[1] + by[1], true));
      }}
      onKeyUp={onEnd}
    >
      <line x1={from[0]} y1={from[1]} x2={at[0]} y2={at[1]} stroke="var(--edge)" strokeWidth={1.2} />
      <circle cx={at[0]} cy={at[1]} r={12} fill="transparent" />
      <rect
        x={at[0] - 4}
        y={at[1] - 4}
        width={8}
        height={8}
        fill="var(--sheet)"
        stroke="var(--ink)"
        strokeWidth={1.6}
      />
    </g>
  );
}
