/** Thumbnails down the time axis, and the tabs of the in and out points. */
import type { ReactNode } from 'react';
import { apply } from '@glimbo/core/geometry/rotation';
import { mountOf } from '@glimbo/core/correction/correction';
import { setIn, setOut } from '@glimbo/core/edit/range';
import { tickText, timeTicks } from '@glimbo/core/time/ticks';
import { reachOf } from '~/model/footage';
import { clock } from '~/ui/format';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';
import { GUTTER, type Axis } from '../axes/lanes';

export function TimeColumn({ height, y, timeAt }: Axis) {
  const store = useStudioStore();
  const take = useTake();
  const gathered = useStudio((s) => s.footage.gathered);
  const { footage } = store.getState();
  const { duration, rate } = footage.facts;
  const times = useClock();
  const thumbs: ReactNode[] = [];
  if (gathered) {
    const reach = reachOf(footage);
    const size = 36;
    const over = apply(mountOf(take), [0, 1, 0])[1] < -0.5;
    for (let py = 0; py < height; py += size + 2) {
      const t = timeAt(py + size / 2);
      if (t >= reach) break;
      const n = Math.min(gathered.thumbnails.count, 1 + Math.floor(t / gathered.thumbnails.interval));
      thumbs.push(
        <image
          key={py}
          href={`/media/footage/${footage.id}/thumb-${String(n).padStart(4, '0')}.jpg?v=${footage.version}`}
          x={0}
          y={py}
          width={GUTTER}
          height={size}
          preserveAspectRatio="xMidYMid slice"
          // What was filmed upside down is turned over here too.
          transform={over ? `rotate(180 ${GUTTER / 2} ${py + size / 2})` : undefined}
        />,
      );
    }
  }
  const ticks = timeTicks(times.shown(timeAt(0)), times.shown(timeAt(height)), height, rate * times.speed);
  const move = (which: 'in' | 'out', t: number) => {
    const set = which === 'in' ? setIn : setOut;
    store.getState().edit((k) => ({ ...k, range: set(k.range, t, footage.facts) }), `range-${which}`);
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
      <g pointerEvents="none" data-testid="time-ticks">
        {ticks.times.map((t) => (
          <g key={t} transform={`translate(0 ${y(times.footage(t))})`}>
            <line x1={0} x2={GUTTER} stroke="#fff" strokeOpacity={0.6} strokeWidth={1} />
            <text
              x={3}
              y={10.5}

              className="figure"
              fontSize={10}
              fill="#fff"
              stroke="#000"
              strokeWidth={3}
              paintOrder="stroke"
            >
              {tickText(t, ticks.digits)}
            </text>
          </g>
        ))}
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
            aria-valuetext={clock(times.shown(take.range[which]))}
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
