/** The path's curves on the Score, with their beads: pan over the Sweep, another dial in each lane. */
import { useMemo } from 'react';
import { wrapHeading } from '@glimbo/core/geometry/rotation';
import { DEFAULT_VIEW } from '@glimbo/core/lens/view';
import { easeOf } from '@glimbo/core/path/channel';
import { viewKeysOf } from '@glimbo/core/path/edit';
import { isSelected, sameTime, type KeyRef } from '@glimbo/core/path/keys';
import { curveAt, keysOf, viewAt, type CurveName, type Curves, type Path } from '@glimbo/core/path/path';
import { curvesOf } from '@glimbo/core/take/curves';
import { brokenPath, headingAt } from '~/ui/chart';
import { clock } from '~/ui/format';
import { Bead } from '../path/Bead';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';
import { useBeadDrag } from './bead-drag';
import type { Box } from './box';
import { LANE_WIDTH, type Axis } from './lanes';

/** Pixels from one point of a curve to the next. */
const FINE = 2;

/** Points down the axis, each with its place in pixels. */
const pointsOf = ({ height, timeAt }: Axis, x: (time: number) => number): [number, number][] =>
  Array.from({ length: Math.ceil(height / FINE) + 1 }, (_, i) => [x(timeAt(i * FINE)), i * FINE]);

/** The keyframes that a keyframe of the view is made of. */
export const refsOf = (key: { time: number; channels: readonly CurveName[] }): KeyRef[] =>
  key.channels.map((channel) => ({ channel, time: key.time }));

const panPlace = (pan: number, width: number) => headingAt(wrapHeading(pan), width);

/**
 * The line of a path's pan down the Sweep, as an SVG path, broken where it leaps by more than a share of the width: over the Sweep's edge,
 * and for a smaller share at cuts too. `span`: only so much of it, in seconds.
 */
export function panLine(
  path: Path,
  { width, leap = 1 / 2, span, ...axis }: Axis & { width: number; leap?: number; span?: { from: number; to: number } },
): string {
  const points = pointsOf(axis, (time) => panPlace(viewAt(path, time).pan, width));
  const [top, bottom] = span ? [axis.y(span.from), axis.y(span.to)] : [-Infinity, Infinity];
  return brokenPath(
    points.filter(([, y]) => y >= top && y <= bottom),
    (a, b) => Math.abs(a[0] - b[0]) > width * leap,
  );
}

export function PanCurve({ width, ...axis }: Axis & { width: number }) {
  const store = useStudioStore();
  const { path } = useTake();
  const selection = useStudio((s) => s.selection);
  const keys = useMemo(() => viewKeysOf(path).filter((k) => k.channels.includes('pan')), [path]);
  const times = useClock();
  const bead = useBeadDrag(axis);
  const line = panLine(path, { width, ...axis });
  return (
    <>
      <path d={line} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={5} pointerEvents="none" />
      <path d={line} fill="none" stroke="#ff7048" strokeWidth={2} pointerEvents="none" data-testid="pan-curve" />
      <TriedCurve width={width} {...axis} />
      {keys.map((key, i) => (
        <Bead
          key={i}
          of={key.channels.join()}
          x={panPlace(key.view.pan, width)}
          y={axis.y(key.time)}
          ease={key.ease}
          small={key.channels.length === 1}
          selected={isSelected(selection, 'pan', key)}
          label={`Keyframe ${i + 1}`}
          value={`at ${clock(times.shown(key.time))}, pan ${Math.round(key.view.pan)}°`}
          onSelect={(how) => store.getState().pick(refsOf(key), how)}
          onDrag={(dx, dy, held) => bead.drag(key, dx, dy, { pan: (dx / width) * 360 }, held)}
          onStep={(across, down) => bead.step(key, down, { pan: across })}
          onEnd={bead.end}
        />
      ))}
    </>
  );
}

/** The pan of a path that is tried, dotted beside the take's. */
function TriedCurve(axis: Axis & { width: number }) {
  const tried = useStudio((s) => s.tried);
  if (!tried) return null;
  return (
    <path
      d={panLine(tried, axis)}
      fill="none"
      stroke="#fff"
      strokeWidth={2.4}
      strokeDasharray="1 5"
      strokeLinecap="round"
      pointerEvents="none"
      data-testid="tried-curve"
    />
  );
}

/** The keyframes of the view whose beads lie in a box on the Sweep. */
export const keysInSweep = (path: Path, { left, right, from, to }: Box, width: number): KeyRef[] =>
  viewKeysOf(path)
    .filter((k) => k.channels.includes('pan') && k.time >= from && k.time <= to)
    .filter((k) => panPlace(k.view.pan, width) >= left && panPlace(k.view.pan, width) <= right)
    .flatMap(refsOf);

/** A dial's channel with the values between which its lane runs; beads are not dragged below `least`. */
export interface DialScale {
  channel: Exclude<CurveName, 'pan'>;
  name: string;
  unit: string;
  min: number;
  max: number;
  least: number;
}

const INNER = LANE_WIDTH - 20;
const lanePlace = ({ min, max }: DialScale, value: number) =>
  10 + Math.max(0, Math.min(1, (value - min) / (max - min))) * INNER;

export function LaneCurve({ scale, ...axis }: Axis & { scale: DialScale }) {
  const store = useStudioStore();
  const take = useTake();
  const { path } = take;
  const curves = curvesOf(take);
  const selection = useStudio((s) => s.selection);
  const { channel, min, max, least, name, unit } = scale;
  const keys = keysOf(curves, channel);
  const viewKeys = useMemo(() => viewKeysOf(path), [path]);
  const times = useClock();
  const bead = useBeadDrag(axis);
  const x = (v: number) => lanePlace(scale, v);
  const points = pointsOf(axis, (time) => x(curveAt(curves, channel, time)));
  const middle = min < 0 ? 0 : ((DEFAULT_VIEW as Partial<Record<CurveName, number>>)[channel] ?? 0);
  /** A key of a keyframe of the view is picked with it, one of this channel alone by itself. */
  const refs = (time: number): KeyRef[] => {
    const whole = viewKeys.find((k) => sameTime(k.time, time));
    return whole?.channels.some((c) => c === channel) ? refsOf(whole) : [{ channel, time }];
  };
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
      {keys.map((key, i) => {
        const within = (by: number) => Math.max(least, Math.min(max, key.value + by)) - key.value;
        return (
          <Bead
            key={i}
            of={refs(key.time)
              .map((r) => r.channel)
              .join()}
            x={x(key.value)}
            y={axis.y(key.time)}
            ease={easeOf(key)}
            small={refs(key.time).length === 1}
            selected={isSelected(selection, channel, key)}
            label={`${name} of keyframe ${i + 1}`}
            value={`${key.value.toFixed(1)}${unit} at ${clock(times.shown(key.time))}`}
            onSelect={(how) => store.getState().pick(refs(key.time), how)}
            onDrag={(dx, dy, held) => bead.drag(key, dx, dy, { [channel]: (dx / INNER) * (max - min) }, held)}
            onStep={(across, down) => bead.step(key, down, { [channel]: within((across * (max - min)) / 180) })}
            onEnd={bead.end}
          />
        );
      })}
    </>
  );
}

/** The keys of a lane's channel that lie in a box in it. */
export const keysInLane = (path: Curves, scale: DialScale, { left, right, from, to }: Box): KeyRef[] =>
  keysOf(path, scale.channel)
    .filter((k) => k.time >= from && k.time <= to)
    .filter((k) => lanePlace(scale, k.value) >= left && lanePlace(scale, k.value) <= right)
    .map(({ time }) => ({ channel: scale.channel, time }));
