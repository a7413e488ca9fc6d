/**
 * A keyframe as a bead: a ring for smooth, a half-disc for hold, a dot for the rest; a key of one channel alone is a small one.
 * It is dragged, and moved with the arrow keys while it has the focus: in the direction in which it would be dragged.
 */
import { useDrag } from '@use-gesture/react';
import { memo, useRef } from 'react';
import type { Ease } from '@glimbo/core/curve/ease';
import type { Picking } from '@glimbo/core/path/keys';

/** What is held while something is dragged. */
export interface Held {
  /** Along one axis only. */
  oneAxis: boolean;
  /** Nothing is caught on. */
  free: boolean;
}

interface Props {
  x: number;
  y: number;
  ease: Ease;
  selected: boolean;
  small?: boolean;
  /** What else belongs to the keyframe that it stands for, such as its channels: what it does follows from this too. */
  of?: string;
  label: string;
  /** What it says of itself now, read out after its label. */
  value: string;
  onSelect: (how: Picking) => void;
  /** Movement since the drag began, in pixels. */
  onDrag: (dx: number, dy: number, held: Held) => void;
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

/** How a press picks: with Ctrl or ⌘ in and out by turns, with Shift besides what is selected. */
const pickingOf = (e: { ctrlKey: boolean; metaKey: boolean; shiftKey: boolean }): Picking =>
  e.ctrlKey || e.metaKey ? 'toggle' : e.shiftKey ? 'more' : 'only';

/** Drawn anew only when it looks otherwise: of many, a drag moves few. What it does follows from what it shows. */
export const Bead = memo(
  DrawnBead,
  (a, b) =>
    a.x === b.x &&
    a.y === b.y &&
    a.ease === b.ease &&
    a.selected === b.selected &&
    a.small === b.small &&
    a.of === b.of &&
    a.label === b.label &&
    a.value === b.value,
);

function DrawnBead({ x, y, ease, selected, small, label, value, onSelect, onDrag, onStep, onEnd }: Props) {
  const byPointer = useRef(false);
  const bind = useDrag(
    ({ event, first, last, movement: [dx, dy], tap, memo }) => {
      event.stopPropagation();
      const how = pickingOf(event as PointerEvent);
      // One of several that are selected takes all of them along; a press alone picks it out of them.
      if (first && (!selected || how !== 'only')) onSelect(how);
      const several = first ? selected && how === 'only' : (memo as boolean);
      if (!tap && (dx || dy)) onDrag(dx, dy, { oneAxis: event.shiftKey, free: event.altKey });
      if (last && tap && several) onSelect('only');
      if (last) {
        byPointer.current = false;
        onEnd();
      }
      return several;
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
      onPointerDownCapture={() => (byPointer.current = true)}
      onKeyDown={step}
      onKeyUp={(e) => e.key in STEPS && onEnd()}
      onFocus={() => byPointer.current || selected || onSelect('only')}
    >
      <circle r={TARGET} fill="transparent" />
      <g transform={small ? 'scale(0.68)' : undefined}>
        <circle r={6.6} fill="var(--sheet)" opacity={0.85} />
        <BeadShape ease={ease} selected={selected} />
      </g>
    </g>
  );
}

/** What leaves a keyframe, as a form. */
export function BeadShape({ ease, selected }: { ease: Ease; selected: boolean }) {
  if (ease === 'hold')
    return (
      <path
        d="M0 -5.5 A5.5 5.5 0 0 1 0 5.5 Z"
        fill="var(--camera)"
        stroke="var(--camera)"
        strokeWidth={selected ? 3.5 : 1.5}
      />
    );
  if (ease === 'smooth')
    return <circle r={5} fill={selected ? 'var(--camera)' : 'var(--sheet)'} stroke="var(--camera)" strokeWidth={2.4} />;
  return <circle r={selected ? 6 : 4.2} fill="var(--camera)" />;
}
