/** The path's curves on the Score, with their beads: pan over the Sweep, another dial in each lane. */
import { useMemo } from 'react';
import { wrapHeading } from '@glimbo/core/geometry/rotation';
import { DEFAULT_VIEW } from '@glimbo/core/lens/view';
import { easeOf } from '@glimbo/core/curve/channel';
import { viewKeysOf } from '@glimbo/core/path/edit';
import { isSelected, refsOf, sameTime, type KeyRef } from '@glimbo/core/path/keys';
import { curveAt, keysOf, type CurveName, type Curves, type Path } from '@glimbo/core/path/path';
import { curvesOf } from '@glimbo/core/edit/curves';
import { brokenPath } from '~/ui/chart';
import { clock } from '~/ui/format';
import { Bead } from '../axes/Bead';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';
import { useBeadDrag } from './bead-drag';
import type { Box } from '../axes/box';
import { LANE_WIDTH, type Axis } from '../axes/lanes';
import { panLine, panPlace, pointsOf } from '../axes/heading-line';
import { isLed, OnAirCurve } from './OnAirCurve';

export function PanCurve({ width, ...axis }: Axis & { width: number }) {
  const store = useStudioStore();
  const take = useTake();
  const { path } = take;
  const led = isLed(take);
  const selection = useStudio((s) => s.selection);
  const keys = useMemo(() => viewKeysOf(path).filter((k) => k.channels.includes('pan')), [path]);
  const times = useClock();
  const bead = useBeadDrag(axis);
  const line = panLine(path, { width, ...axis });
  return (
    <>
      {!led && <path d={line} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={5} pointerEvents="none" />}
      <path
        d={line}
        fill="none"
        stroke="#ff7048"
        strokeWidth={led ? 1.4 : 2}
        strokeDasharray={led ? '2 4' : undefined}
        pointerEvents="none"
        data-testid="pan-curve"
      />
      <OnAirCurve width={width} {...axis} />
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
  /** Whether it goes on at the other side where it leaves one: headings. */
  wraps?: boolean;
}

const INNER = LANE_WIDTH - 20;
const lanePlace = ({ min, max, wraps }: DialScale, value: number) =>
  10 + Math.max(0, Math.min(1, ((wraps ? wrapHeading(value) : value) - min) / (max - min))) * INNER;

export function LaneCurve({ scale, ...axis }: Axis & { scale: DialScale }) {
  const store = useStudioStore();
  const take = useTake();
  const { path } = take;
  const curves = curvesOf(take);
  const selection = useStudio((s) => s.selection);
  const { channel, min, max, least, name, unit, wraps } = scale;
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
        d={brokenPath(points, (a, b) => wraps === true && Math.abs(a[0] - b[0]) > INNER / 2)}
        fill="none"
        stroke="var(--camera)"
        strokeWidth={1.8}
        pointerEvents="none"
      />
      {keys.map((key, i) => {
        const within = (by: number) => (wraps ? by : Math.max(least, Math.min(max, key.value + by)) - key.value);
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
