/** The Score: thumbnails and times, the Sweep, and the lanes beside it, all on the same time axis, running down. */
import { useCallback, useEffect, useRef, type ReactNode } from 'react';
import { wrapHeading } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { curvesOf } from '@glimbo/core/edit/curves';
import { headingAt } from '~/ui/chart';
import { clock } from '~/ui/format';
import { NotYet } from './NotYet';
import { SketchOnSweep } from '../sketch/SketchOnSweep';
import { SubjectStreaks } from '../follow/SubjectMarks';
import { inFootage, pointOut } from '../follow/subjects';
import { keysInSweep, PanCurve } from './curves';
import { useBox } from '../axes/box';
import { useDrawPan } from './draw-pan';
import type { Lane } from './lane-list';
import { GUTTER, LANE_WIDTH, type Axis } from '../axes/lanes';
import { LevelMarks } from './LevelMarks';
import { Marks } from './Marks';
import { Meridians } from '../axes/Meridians';
import { Overview } from './Overview';
import { SweepPicture } from './SweepPicture';
import { TimeColumn } from './TimeColumn';
import { useAsksForPlace, useClock, useStudio, useStudioStore, useTake } from '../state/store';

/** Pixels that a press may move and still be a click. */
const CLICK = 4;

export function Score({ width, height, lanes }: { width: number; height: number; lanes: readonly Lane[] }) {
  const store = useStudioStore();
  const take = useTake();
  const { footage } = store.getState();
  const span = useStudio((s) => s.span);
  const time = useStudio((s) => s.time);
  const glance = useStudio((s) => s.glance);
  const asksForPlace = useAsksForPlace();
  const { rate } = footage.facts;
  const times = useClock();
  // The same ones for as long as the part in sight is, so that lanes are not drawn anew with every step of the playhead.
  const y = useCallback((t: number) => ((t - span.from) / (span.to - span.from)) * height, [span, height]);
  const timeAt = useCallback((py: number) => span.from + (py / height) * (span.to - span.from), [span, height]);
  const axis = { height, y, timeAt };
  const sweepWidth = width - GUTTER - LANE_WIDTH * lanes.length;
  const root = useRef<HTMLDivElement>(null);
  const pressed = useRef<{ x: number; y: number } | null>(null);

  // Not a React handler: those are passive and could not keep the page from zooming.
  useEffect(() => {
    const element = root.current;
    if (!element) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const { span: s, time: now, setTime, zoomTime } = store.getState();
      if (!(e.ctrlKey || e.metaKey))
        return setTime(now + (Math.sign(e.deltaY) * Math.max(1, Math.round(Math.abs(e.deltaY) / 25))) / rate);
      const box = element.getBoundingClientRect();
      zoomTime(1.0025 ** e.deltaY, s.from + ((e.clientY - box.top) / box.height) * (s.to - s.from));
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [store, rate]);

  const go = (e: React.PointerEvent) => {
    const box = root.current!.getBoundingClientRect();
    store.getState().setTime(timeAt(e.clientY - box.top));
  };
  const box = useBox(({ left, right, top, bottom }) =>
    keysInSweep(take.path, { left, right, from: timeAt(top), to: timeAt(bottom) }, sweepWidth),
  );
  const pen = useDrawPan((px) => (px / sweepWidth - 0.5) * 360, timeAt);
  const scrub = {
    onPointerDown: (e: React.PointerEvent<SVGSVGElement>) => {
      e.currentTarget.setPointerCapture(e.pointerId);
      pressed.current = { x: e.clientX, y: e.clientY };
      store.getState().deselect();
      go(e);
    },
    onPointerMove: (e: React.PointerEvent<SVGSVGElement>) => {
      if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
      const from = pressed.current;
      if (from && Math.hypot(e.clientX - from.x, e.clientY - from.y) < CLICK) return;
      pressed.current = null;
      go(e);
    },
  };
  /** A click on the Sweep, other than a drag, also looks at the heading that was clicked. */
  const lookThere = (e: React.PointerEvent<SVGSVGElement>) => {
    if (!pressed.current) return;
    pressed.current = null;
    const box = e.currentTarget.getBoundingClientRect();
    const heading = ((e.clientX - box.left) / sweepWidth - 0.5) * 360;
    // The Sweep shows the corrected sphere: what was clicked is a direction of the world.
    if (store.getState().pointingOut !== 'nothing')
      return void pointOut(store, { direction: inFootage(store, directionOf(heading, 0)) });
    store.getState().glanceAt({ pan: heading, tilt: 0 });
  };
  const shade = (
    <>
      <rect x={0} width="100%" y={-1} height={Math.max(0, y(take.range.in) + 1)} fill="var(--well)" opacity={0.55} />
      <rect
        x={0}
        width="100%"
        y={y(take.range.out)}
        height={Math.max(0, height - y(take.range.out))}
        fill="var(--well)"
        opacity={0.55}
      />
    </>
  );

  return (
    <div ref={root} className="relative flex bg-well" style={{ width, height }} data-testid="score">
      <TimeColumn {...axis} />
      <Overview height={height} />
      <div className="relative overflow-hidden" style={{ width: sweepWidth, height }}>
        <SweepPicture width={sweepWidth} height={height} />
        <svg
          width={sweepWidth}
          height={height}
          className="absolute inset-0 cursor-crosshair touch-none"
          id="score-sweep"
          role="group"
          aria-label={`Sweep: heading across, time down, with the path's pan over it, from ${clock(times.shown(span.from))} to ${clock(times.shown(span.to))}`}
          data-testid="sweep"
          onPointerDown={(e) => box.begin(e) || pen.begin(e) || scrub.onPointerDown(e)}
          onPointerMove={(e) => box.move(e) || pen.move(e) || scrub.onPointerMove(e)}
          onPointerUp={(e) => box.end() || pen.end() || lookThere(e)}
        >
          <NotYet {...axis} width={sweepWidth} />
          {shade}
          <Meridians width={sweepWidth} height={height} ahead={0.4} others={0.18} />
          <Marks {...axis} width={sweepWidth} />
          <SubjectStreaks width={sweepWidth} y={y} span={span} />
          <LevelMarks {...axis} />
          <g pointerEvents={asksForPlace ? 'none' : undefined}>
            <PanCurve width={sweepWidth} {...axis} />
          </g>
          <SketchOnSweep {...axis} width={sweepWidth} />
          {box.shape}
          {glance && (
            <circle
              cx={headingAt(wrapHeading(glance.pan), sweepWidth)}
              cy={y(time)}
              r={7}
              fill="none"
              stroke="#fff"
              strokeWidth={2}
              pointerEvents="none"
            />
          )}
        </svg>
      </div>
      {lanes.map((lane) => (
        <LaneRoom key={lane.id} lane={lane} axis={axis} scrub={scrub} shade={shade} />
      ))}
      <div
        className="pointer-events-none absolute left-0 z-10 w-full"
        style={{ top: y(time) - 0.75, height: 1.5, background: 'var(--camera)' }}
        data-testid="playhead"
      >
        <span
          className="figure absolute px-1 text-[10px] leading-[16px]"
          style={{
            background: 'var(--camera)',
            color: 'var(--on-camera)',
            top: Math.max(-y(time), Math.min(height - y(time) - 16, -8)),
            left: GUTTER,
          }}
        >
          {clock(times.shown(time))}
        </span>
      </div>
    </div>
  );
}

interface Scrub {
  onPointerDown: (e: React.PointerEvent<SVGSVGElement>) => void;
  onPointerMove: (e: React.PointerEvent<SVGSVGElement>) => void;
}

/** A lane in its place: pressed it scrubs as the Sweep does, with Ctrl it boxes its own keys. */
function LaneRoom({ lane, axis, scrub, shade }: { lane: Lane; axis: Axis; scrub: Scrub; shade: ReactNode }) {
  const { name, Draw, keysIn } = lane;
  const path = curvesOf(useTake());
  const { timeAt } = axis;
  const box = useBox(
    ({ left, right, top, bottom }) => keysIn?.(path, { left, right, from: timeAt(top), to: timeAt(bottom) }) ?? [],
  );
  return (
    <svg
      width={LANE_WIDTH}
      height={axis.height}
      className="shrink-0 touch-none border-l border-edge bg-sheet"
      role="group"
      aria-label={`${name} over time`}
      data-testid="lane"
      data-lane={lane.id}
      onPointerDown={(e) => box.begin(e) || scrub.onPointerDown(e)}
      onPointerMove={(e) => box.move(e) || scrub.onPointerMove(e)}
      onPointerUp={() => box.end()}
    >
      <Draw {...axis} />
      {shade}
      {box.shape}
    </svg>
  );
}
