/** The Score: thumbnails and times, the Sweep, and the lanes beside it, all on the same time axis, running down. */
import { useMemo, useRef } from 'react';
import { clock } from '~/ui/format';
import { useBox } from '../axes/box';
import { GUTTER, LANE_WIDTH, type Axis } from '../axes/lanes';
import { Meridians } from '../axes/Meridians';
import { SubjectStreaks } from '../follow/SubjectMarks';
import { ActivityNotYet } from '../follow/found/ActivityNotYet';
import { FoundStreaks } from '../follow/found/FoundMarks';
import { SketchOnSweep } from '../sketch/SketchOnSweep';
import { useAsksForPlace, useClock, useStudio, useTake } from '../state/store';
import { keysInSweep, PanCurve } from './curves';
import { useDrawPan } from './draw-pan';
import type { Lane } from './lane-list';
import { LaneRoom } from './LaneRoom';
import { LevelMarks } from './LevelMarks';
import { Marks } from './Marks';
import { NotYet } from './NotYet';
import { Overview } from './Overview';
import { GlanceMark, Playhead } from './Playhead';
import { SweepPicture } from './SweepPicture';
import { TimeColumn } from './TimeColumn';
import { useScrub, type Scrub } from './useScrub';
import { useWheel } from './useWheel';

export function Score({ width, height, lanes }: { width: number; height: number; lanes: readonly Lane[] }) {
  const root = useRef<HTMLDivElement>(null);
  const axis = useAxis(height);
  const scrub = useScrub(root, axis);
  useWheel(root);
  const shade = <OutOfTake {...axis} />;
  return (
    <div ref={root} className="relative flex bg-well" style={{ width, height }} data-testid="score">
      <TimeColumn {...axis} />
      <Overview height={height} />
      <Sweep axis={axis} width={width - GUTTER - LANE_WIDTH * lanes.length} scrub={scrub} shade={shade} />
      {lanes.map((lane) => (
        <LaneRoom key={lane.id} lane={lane} axis={axis} scrub={scrub} shade={shade} />
      ))}
      <Playhead {...axis} />
    </div>
  );
}

/** The axis of the part in sight: the same one for as long as that is, so that lanes are not drawn anew with every step of the playhead. */
function useAxis(height: number): Axis {
  const { from, to } = useStudio((s) => s.span);
  return useMemo(
    () => ({
      height,
      y: (t) => ((t - from) / (to - from)) * height,
      timeAt: (py) => from + (py / height) * (to - from),
    }),
    [from, to, height],
  );
}

/** What lies before the in point and after the out point is darkened. */
function OutOfTake({ height, y }: Axis) {
  const { range } = useTake();
  const [before, after] = [y(range.in), y(range.out)];
  return (
    <>
      <rect x={0} width="100%" y={-1} height={Math.max(0, before + 1)} fill="var(--well)" opacity={0.55} />
      <rect x={0} width="100%" y={after} height={Math.max(0, height - after)} fill="var(--well)" opacity={0.55} />
    </>
  );
}

interface SweepProps {
  axis: Axis;
  width: number;
  scrub: Scrub;
  shade: React.ReactNode;
}

/** The Sweep with all that lies over it. */
function Sweep({ axis, width, scrub, shade }: SweepProps) {
  const { path } = useTake();
  const { height, y, timeAt } = axis;
  const span = useStudio((s) => s.span);
  const times = useClock();
  const asksForPlace = useAsksForPlace();
  const box = useBox(({ left, right, top, bottom }) =>
    keysInSweep(path, { left, right, from: timeAt(top), to: timeAt(bottom) }, width),
  );
  const pen = useDrawPan((px) => (px / width - 0.5) * 360, timeAt);
  return (
    <div className="relative overflow-hidden" style={{ width, height }}>
      <SweepPicture width={width} height={height} />
      <svg
        width={width}
        height={height}
        className="absolute inset-0 cursor-crosshair touch-none"
        id="score-sweep"
        role="group"
        aria-label={`Sweep: heading across, time down, with the path's pan over it, from ${clock(times.shown(span.from))} to ${clock(times.shown(span.to))}`}
        data-testid="sweep"
        onPointerDown={(e) => box.begin(e) || pen.begin(e) || scrub.press(e)}
        onPointerMove={(e) => box.move(e) || pen.move(e) || scrub.move(e)}
        onPointerUp={(e) => box.end() || pen.end() || scrub.release(e, width)}
      >
        <NotYet {...axis} width={width} />
        {shade}
        <Meridians width={width} height={height} ahead={0.4} others={0.18} />
        <Marks {...axis} width={width} />
        <FoundStreaks width={width} y={y} span={span} />
        <SubjectStreaks width={width} y={y} span={span} />
        <LevelMarks {...axis} />
        <g pointerEvents={asksForPlace ? 'none' : undefined}>
          <PanCurve width={width} {...axis} />
        </g>
        <SketchOnSweep {...axis} width={width} />
        {box.shape}
        <GlanceMark y={y} width={width} />
      </svg>
      <ActivityNotYet />
    </div>
  );
}
