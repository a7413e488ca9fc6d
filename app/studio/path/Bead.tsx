/**
 * A keyframe as a bead: a ring for smooth, a half-disc for hold, a dot for the rest. It is dragged, and moved with the arrow
 * keys while it has the focus: in the direction in which it would be dragged.
 */
import { useDrag } from '@use-gesture/react';
import type { Ease } from '@glimbo/core/path/ease';

interface Props {
  x: number;
  y: number;
  ease: Ease;
  selected: boolean;
  label: string;
  /** What it says of itself now, read out after its label. */
  value: string;
  onSelect: () => void;
  /** Movement since the drag began, in pixels. */
  onDrag: (dx: number, dy: number) => void;
  /** One step by key: columns to the right and rows down; ten with Shift. */
  onStep: (across: number, down: number) => void;
  onEnd: () => void;
}

const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Radius in pixels of what can be grabbed. */
const TARGET = 12;

export function Bead({ x, y, ease, selected, label, value, onSelect, onDrag, onStep, onEnd }: Props) {
  const solid = selected ? 'var(--camera)' : 'var(--sheet)';
  const bind = useDrag(
    ({ event, first, last, movement: [dx, dy], tap }) => {
      event.stopPropagation();
      if (first) onSelect();
      if (!tap && (dx || dy)) onDrag(dx, dy);
      if (last) onEnd();
    },
    { pointer: { keys: false } },
  );
  const step = (e: React.KeyboardEvent) => {
    const by = STEPS[e.key];
    if (!by || e.ctrlKey || e.metaKey || e.altKey) return;
    e.preventDefault();
    e.stopPropagation();
    const times = e.shiftKey ? 10 : 1;
    onStep(by[0] * times, by[1] * times);
  };
  return (
    <g
      {...bind()}
      transform={`translate(${x} ${y})`}
      role="button"
      tabIndex={0}
      aria-label={`${label}, ${value}`}
      aria-pressed={selected}
      aria-roledescription="keyframe"
      className="cursor-grab touch-none active:cursor-grabbing"
      onKeyDown={step}
      onKeyUp={(e) => e.key in STEPS && onEnd()}
      onFocus={onSelect}
    >
      <circle r={TARGET} fill="transparent" />
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
