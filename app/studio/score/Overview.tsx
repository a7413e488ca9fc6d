/** Where the shown part lies in the whole footage, once the time is zoomed: a slim bar whose block can be dragged. */
import { useRef } from 'react';
import { clock } from '~/ui/format';
import { useClock, useStudio, useStudioStore } from '../state/store';
import { GUTTER } from '../axes/lanes';

const WIDTH = 9;
/** Pixels that the block is high at least, so that it can be grabbed. */
const LEAST = 14;

export function Overview({ height }: { height: number }) {
  const store = useStudioStore();
  const span = useStudio((s) => s.span);
  const time = useStudio((s) => s.time);
  const times = useClock();
  const { duration, rate } = store.getState().footage.facts;
  const grip = useRef<{ y: number; from: number } | null>(null);
  const length = span.to - span.from;
  if (length > duration - 0.5 / rate) return null;
  const y = (t: number) => (t / duration) * height;
  const shown = (t: number) => clock(times.shown(t), 1);
  const moveTo = (from: number) => {
    const at = Math.max(0, Math.min(duration - length, from));
    store.getState().showSpan({ from: at, to: at + length });
  };
  const block = Math.max(LEAST, y(length));
  return (
    <svg
      width={WIDTH}
      height={height}
      className="absolute top-0 z-10 cursor-ns-resize touch-none"
      style={{ left: GUTTER }}
      role="scrollbar"
      tabIndex={0}
      aria-label="Shown part of the footage"
      aria-controls="score-sweep"
      aria-orientation="vertical"
      aria-valuemin={0}
      aria-valuemax={Math.round(duration - length)}
      aria-valuenow={Math.round(span.from)}
      aria-valuetext={`${shown(span.from)} to ${shown(span.to)} of ${shown(duration)}`}
      data-testid="overview"
      onKeyDown={(e) => {
        if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return;
        e.preventDefault();
        e.stopPropagation();
        moveTo(span.from + ((e.key === 'ArrowUp' ? -1 : 1) * length) / 4);
      }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        const at = e.nativeEvent.offsetY;
        const inside = at >= y(span.from) && at <= y(span.from) + block;
        const from = inside ? span.from : (at / height) * duration - length / 2;
        if (!inside) moveTo(from);
        grip.current = { y: e.clientY, from: Math.max(0, Math.min(duration - length, from)) };
      }}
      onPointerMove={(e) => {
        if (grip.current) moveTo(grip.current.from + ((e.clientY - grip.current.y) / height) * duration);
      }}
      onPointerUp={() => void (grip.current = null)}
      onPointerCancel={() => void (grip.current = null)}
    >
      <title>{`${shown(span.from)} to ${shown(span.to)} of ${shown(duration)}`}</title>
      <rect width={WIDTH} height={height} fill="#000" opacity={0.55} />
      <rect x={1.5} y={y(span.from)} width={WIDTH - 3} height={block} fill="#fff" opacity={0.85} />
      <rect x={0} y={y(time) - 0.75} width={WIDTH} height={1.5} fill="#ff7048" />
    </svg>
  );
}
