/** Scrubbing on the Score: a press or drag goes to a time; a click on the Sweep looks at the heading that was clicked as well. */
import { useRef, type RefObject } from 'react';
import { directionOf } from '@glimbo/core/geometry/sphere';
import type { Axis } from '../axes/lanes';
import { inFootage, pointOut } from '../follow/subjects';
import { useStudioStore } from '../state/store';

/** Pixels that a press may move and still be a click. */
const CLICK = 4;

type Press = React.PointerEvent<SVGSVGElement>;
export interface Scrub {
  press: (e: Press) => void;
  move: (e: Press) => void;
  /** On the Sweep, `width` pixels wide, where a press ends. */
  release: (e: Press, width: number) => void;
}

export function useScrub(root: RefObject<HTMLDivElement | null>, { timeAt }: Pick<Axis, 'timeAt'>): Scrub {
  const store = useStudioStore();
  const pressed = useRef<{ x: number; y: number } | null>(null);
  const go = (e: Press) => {
    const box = root.current!.getBoundingClientRect();
    store.getState().setTime(timeAt(e.clientY - box.top));
  };
  return {
    press(e) {
      e.currentTarget.setPointerCapture(e.pointerId);
      pressed.current = { x: e.clientX, y: e.clientY };
      store.getState().deselect();
      go(e);
    },
    move(e) {
      if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
      const from = pressed.current;
      if (from && Math.hypot(e.clientX - from.x, e.clientY - from.y) < CLICK) return;
      pressed.current = null;
      go(e);
    },
    release(e, width) {
      if (!pressed.current) return;
      pressed.current = null;
      const box = e.currentTarget.getBoundingClientRect();
      const heading = ((e.clientX - box.left) / width - 0.5) * 360;
      // The Sweep shows the corrected sphere: what was clicked is a direction of the world.
      if (store.getState().pointingOut !== 'nothing')
        return void pointOut(store, { direction: inFootage(store, directionOf(heading, 0)) });
      store.getState().glanceAt({ pan: heading, tilt: 0 });
    },
  };
}
