/** Picking many keyframes with a box: drawn with Ctrl or ⌘ held; with Shift besides, it adds to what is selected. */
import { useRef, useState } from 'react';
import type { KeyRef } from '@glimbo/core/path/keys';
import { useStudioStore } from '../state/store';

/** A box in a chart: pixels across, seconds down. */
export interface Box {
  left: number;
  right: number;
  from: number;
  to: number;
}

interface Corner {
  x: number;
  y: number;
}

interface Drawn {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

const boxed = (a: Corner, b: Corner): Drawn => ({
  left: Math.min(a.x, b.x),
  right: Math.max(a.x, b.x),
  top: Math.min(a.y, b.y),
  bottom: Math.max(a.y, b.y),
});

/** A box over an SVG element; `keysIn` says which keyframes lie in it, in the element's own pixels. */
export function useBox(keysIn: (box: Drawn) => KeyRef[]) {
  const store = useStudioStore();
  const from = useRef<(Corner & { more: boolean }) | null>(null);
  const [box, setBox] = useState<Drawn | null>(null);
  const cornerOf = (e: React.PointerEvent<SVGSVGElement>): Corner => {
    const { left, top } = e.currentTarget.getBoundingClientRect();
    return { x: e.clientX - left, y: e.clientY - top };
  };
  return {
    /** Whether a press begins a box. */
    begin(e: React.PointerEvent<SVGSVGElement>): boolean {
      if (!e.ctrlKey && !e.metaKey) return false;
      e.currentTarget.setPointerCapture(e.pointerId);
      from.current = { ...cornerOf(e), more: e.shiftKey };
      return true;
    },
    /** Whether a movement belongs to a box. */
    move(e: React.PointerEvent<SVGSVGElement>): boolean {
      if (!from.current) return false;
      setBox(boxed(from.current, cornerOf(e)));
      return true;
    },
    end(): boolean {
      const { current: begun } = from;
      if (!begun) return false;
      if (box) store.getState().pick(keysIn(box), begun.more ? 'more' : 'only');
      from.current = null;
      setBox(null);
      return true;
    },
    shape: box && (
      <rect
        x={box.left}
        y={box.top}
        width={box.right - box.left}
        height={box.bottom - box.top}
        fill="var(--camera)"
        fillOpacity={0.12}
        stroke="var(--camera)"
        strokeDasharray="4 3"
        pointerEvents="none"
        data-testid="box"
      />
    ),
  };
}
