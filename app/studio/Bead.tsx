/** A keyframe as a bead: a ring for smooth, a half-disc for hold, a dot for the rest. Can be dragged and reached by keyboard. */
import { useRef, type KeyboardEvent } from 'react';
import type { Ease } from '@glimbo/core/path/ease';

interface Props {
  x: number;
  y: number;
  ease: Ease;
  selected: boolean;
  label: string;
  onSelect: () => void;
  /** Movement since the drag began, in pixels. */
  onDrag: (dx: number, dy: number) => void;
  onEnd: () => void;
  onKey?: (e: KeyboardEvent) => void;
}

export function Bead({ x, y, ease, selected, label, onSelect, onDrag, onEnd, onKey }: Props) {
  const start = useRef<{ x: number; y: number } | null>(null);
  const solid = selected ? 'var(--camera)' : 'var(--sheet)';
  return (
    <g
      transform={`translate(${x} ${y})`}
      role="button"
      tabIndex={0}
      aria-label={label}
      aria-pressed={selected}
      className="cursor-grab active:cursor-grabbing"
      onKeyDown={onKey}
      onFocus={onSelect}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        start.current = { x: e.clientX, y: e.clientY };
        onSelect();
      }}
      onPointerMove={(e) => start.current && onDrag(e.clientX - start.current.x, e.clientY - start.current.y)}
      onPointerUp={() => {
        start.current = null;
        onEnd();
      }}
      onPointerCancel={() => {
        start.current = null;
        onEnd();
      }}
    >
      <circle r={11} fill="transparent" />
      <circle r={6.6} fill="var(--sheet)" opacity={0.85} />
      {ease === 'hold' ? (
        <path
          d="M0 -5.5 A5.5 5.5 0 0 1 0 5.5 Z"
          fill="var(--camera)"
          stroke="var(--camera)"
          strokeWidth={selected ? 3.5 : 1.5}
        />
      ) : ease === 'smooth' ? (
        <circle r={5} fill={solid} stroke="var(--camera)" strokeWidth={2.4} />
      ) : (
        <circle r={selected ? 6 : 4.2} fill="var(--camera)" />
      )}
    </g>
  );
}
