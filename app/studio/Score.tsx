/** The Score: thumbnails and times, the Sweep, and one lane beside it, all on the same time axis, running down. */
import { useEffect, useMemo, useRef, type ReactNode } from 'react';
import { evaluate } from '@glimbo/core/path/channel';
import { momentsOf, moveMoment, setMoment, snap, type Moment } from '@glimbo/core/path/edit';
import { viewAt, keysOf } from '@glimbo/core/path/path';
import { DEFAULT_VIEW } from '@glimbo/core/lens/view';
import { wrapHeading } from '@glimbo/core/geometry/rotation';
import { clock } from '~/ui/format';
import { Bead } from './Bead';
import { LANES, useStudio, useStudioStore, useTake, type Lane } from './store';

export const GUTTER = 72;
export const LANE_WIDTH = 96;
export const LANE_RANGES: Record<Lane, { min: number; max: number; name: string; unit: string }> = {
  tilt: { min: -90, max: 90, name: 'Tilt', unit: '°' },
  roll: { min: -90, max: 90, name: 'Roll', unit: '°' },
  fov: { min: 0, max: 350, name: 'Field of view', unit: '°' },
  bend: { min: 0, max: 4, name: 'Bend', unit: '' },
};

export function Score({ width, height }: { width: number; height: number }) {
  const store = useStudioStore();
  const take = useTake();
  const { footage } = store.getState();
  const span = useStudio((s) => s.span);
  const time = useStudio((s) => s.time);
  const lane = useStudio((s) => s.lane);
  const { duration, rate } = footage.facts;
  const y = (t: number) => ((t - span.from) / (span.to - span.from)) * height;
  const timeAt = (py: number) => span.from + (py / height) * (span.to - span.from);
  const sweepWidth = width - GUTTER - LANE_WIDTH;
  const root = useRef<HTMLDivElement>(null);

  // Not a React handler: those are passive and could not keep the page from zooming.
  useEffect(() => {
    const element = root.current;
    if (!element) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const { span: s, time: now, setTime, set } = store.getState();
      if (!(e.ctrlKey || e.metaKey))
        return setTime(now + (Math.sign(e.deltaY) * Math.max(1, Math.round(Math.abs(e.deltaY) / 25))) / rate);
      const box = element.getBoundingClientRect();
      const f = (e.clientY - box.top) / box.height;
      const about = s.from + f * (s.to - s.from);
      const length = Math.min(duration, Math.max(0.5, (s.to - s.from) * 1.0025 ** e.deltaY));
      const from = Math.max(0, Math.min(duration - length, about - f * length));
      set({ span: { from, to: from + length } });
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [store, duration, rate]);

  const go = (e: React.PointerEvent) => {
    const box = root.current!.getBoundingClientRect();
    store.getState().setTime(timeAt(e.clientY - box.top));
  };
  const scrub = {
    onPointerDown: (e: React.PointerEvent<SVGSVGElement>) => {
      e.currentTarget.setPointerCapture(e.pointerId);
      store.getState().select(null);
      go(e);
    },
    onPointerMove: (e: React.PointerEvent<SVGSVGElement>) => e.currentTarget.hasPointerCapture(e.pointerId) && go(e),
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
      <TimeColumn height={height} y={y} timeAt={timeAt} />
      <div className="relative overflow-hidden" style={{ width: sweepWidth, height }}>
        <SweepPicture height={height} />
        <svg
          width={sweepWidth}
          height={height}
          className="absolute inset-0 cursor-row-resize touch-none"
          role="img"
          aria-label={`Sweep: heading across, time down, with the path's pan over it, from ${clock(span.from)} to ${clock(span.to)}`}
          data-testid="sweep"
          {...scrub}
        >
          {shade}
          {[-135, -90, -45, 0, 45, 90, 135].map((lon) => (
            <line
              key={lon}
              x1={(lon / 360 + 0.5) * sweepWidth}
              x2={(lon / 360 + 0.5) * sweepWidth}
              y1={0}
              y2={height}
              stroke="#fff"
              strokeOpacity={lon === 0 ? 0.4 : 0.18}
              strokeDasharray={lon === 0 ? '' : '2 4'}
            />
          ))}
          <PanCurve width={sweepWidth} height={height} y={y} timeAt={timeAt} />
        </svg>
      </div>
      <svg
        width={LANE_WIDTH}
        height={height}
        className="touch-none border-l border-edge bg-sheet"
        role="img"
        aria-label={`${LANE_RANGES[lane].name} over time`}
        data-testid="lane"
        {...scrub}
      >
        <LaneCurve lane={lane} height={height} y={y} timeAt={timeAt} />
        {shade}
      </svg>
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
          {clock(time)}
        </span>
      </div>
    </div>
  );
}

/** The part of the Sweep's picture that is shown, stretched over the Score's height. */
function SweepPicture({ height }: { height: number }) {
  const { footage } = useStudioStore().getState();
  const gathered = useStudio((s) => s.footage.gathered);
  const span = useStudio((s) => s.span);
  if (!gathered) return null;
  const { duration } = footage.facts;
  const full = (height * duration) / (span.to - span.from);
  return (
    <img
      src={`/media/footage/${footage.id}/sweep.png`}
      alt=""
      draggable={false}
      className="absolute left-0 w-full max-w-none"
      style={{
        height: full,
        top: -(span.from / duration) * full,
        imageRendering: full > gathered.sweep.rows * 3 ? 'pixelated' : 'auto',
      }}
    />
  );
}

function TimeColumn({
  height,
  y,
  timeAt,
}: {
  height: number;
  y: (t: number) => number;
  timeAt: (py: number) => number;
}) {
  const store = useStudioStore();
  const take = useTake();
  const gathered = useStudio((s) => s.footage.gathered);
  const { footage } = store.getState();
  const { duration, rate } = footage.facts;
  const thumbs: ReactNode[] = [];
  if (gathered) {
    const size = 36;
    for (let py = 0; py < height; py += size + 2) {
      const t = timeAt(py + size / 2);
      if (t > duration) break;
      const n = Math.min(gathered.thumbnails.count, 1 + Math.floor(t / gathered.thumbnails.interval));
      thumbs.push(
        <image
          key={py}
          href={`/media/footage/${footage.id}/thumb-${String(n).padStart(4, '0')}.jpg`}
          x={0}
          y={py}
          width={GUTTER}
          height={size}
          preserveAspectRatio="xMidYMid slice"
        />,
      );
    }
  }
  const move = (which: 'in' | 'out', t: number) => {
    const at = snap(t, rate);
    store.getState().edit((k) => {
      const range =
        which === 'in'
          ? { ...k.range, in: Math.max(0, Math.min(at, k.range.out - 1 / rate)) }
          : { ...k.range, out: Math.min(duration, Math.max(at, k.range.in + 1 / rate)) };
      return { ...k, range };
    }, `range-${which}`);
  };
  return (
    <svg
      width={GUTTER}
      height={height}
      className="shrink-0 touch-none border-r border-edge bg-well"
      data-testid="thumbnails"
    >
      <g
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          store.getState().setTime(timeAt(e.nativeEvent.offsetY));
        }}
        onPointerMove={(e) =>
          e.currentTarget.hasPointerCapture(e.pointerId) && store.getState().setTime(timeAt(e.nativeEvent.offsetY))
        }
      >
        <rect width={GUTTER} height={height} fill="transparent" />
        {thumbs}
      </g>
      {(['in', 'out'] as const).map((which) => {
        const at = y(take.range[which]);
        const tab = which === 'in' ? at : at - 15;
        return (
          <g
            key={which}
            role="slider"
            tabIndex={0}
            aria-label={which === 'in' ? 'In point' : 'Out point'}
            aria-valuemin={0}
            aria-valuemax={duration}
            aria-valuenow={take.range[which]}
            aria-valuetext={clock(take.range[which])}
            className="cursor-ns-resize"
            onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
            onPointerMove={(e) => {
              if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
              const box = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
              move(which, timeAt(e.clientY - box.top));
            }}
            onPointerUp={() => store.getState().endGesture()}
            onKeyDown={(e) => {
              if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return;
              e.preventDefault();
              e.stopPropagation();
              move(
                which,
                store.getState().take().range[which] +
                  ((e.key === 'ArrowUp' ? -1 : 1) * (e.shiftKey ? rate : 1)) / rate,
              );
            }}
          >
            <line x1={0} x2={GUTTER} y1={at} y2={at} stroke="var(--sheet)" strokeWidth={2} />
            <rect x={GUTTER - 30} y={tab} width={30} height={15} fill="var(--sheet)" />
            <text x={GUTTER - 15} y={tab + 11} textAnchor="middle" className="figure" fill="var(--ink)" fontSize={10}>
              {which}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

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
    },
    start: () => from.current?.moment,
    end() {
      from.current = null;
      store.getState().endGesture();
    },
  };
}

interface CurveProps {
  height: number;
  y: (t: number) => number;
  timeAt: (py: number) => number;
}

function PanCurve({ width, height, y, timeAt }: CurveProps & { width: number }) {
  const store = useStudioStore();
  const take = useTake();
  const selected = useStudio((s) => s.selected);
  const moments = useMemo(() => momentsOf(take.path), [take.path]);
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
          label={`Keyframe ${i + 1} at ${clock(m.time)}, pan ${Math.round(m.view.pan)}°`}
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

function LaneCurve({ lane, height, y, timeAt }: CurveProps & { lane: Lane }) {
  const store = useStudioStore();
  const take = useTake();
  const selected = useStudio((s) => s.selected);
  const { min, max, name, unit } = LANE_RANGES[lane];
  const moments = useMemo(() => momentsOf(take.path), [take.path]);
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
            label={`${name} ${m.view[lane].toFixed(1)}${unit} at ${clock(m.time)}`}
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

export function LaneSwitch() {
  const lane = useStudio((s) => s.lane);
  const store = useStudioStore();
  return (
    <div className="flex flex-col" role="radiogroup" aria-label="Lane">
      {LANES.map((l) => (
        <button
          key={l}
          role="radio"
          aria-checked={lane === l}
          className={`px-2 py-1 text-left ${lane === l ? 'border-l-2 border-camera font-semibold' : 'border-l-2 border-transparent text-muted hover:text-ink'}`}
          onClick={() => store.getState().set({ lane: l })}
        >
          {LANE_RANGES[l].name}
        </button>
      ))}
    </div>
  );
}
