/** The wheel on the Score: goes through time, with Ctrl it zooms about the time under the pointer. */
import { useEffect, type RefObject } from 'react';
import { useStudioStore } from '../state/store';

/** Pixels of the wheel for a frame, and for a zoom by a factor of e. */
const FRAME = 25;
const ZOOM = 400;

export function useWheel(root: RefObject<HTMLDivElement | null>): void {
  const store = useStudioStore();
  // Not a React handler: those are passive and could not keep the page from zooming.
  useEffect(() => {
    const element = root.current;
    if (!element) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const { span, time, footage, setTime, zoomTime } = store.getState();
      const frames = Math.sign(e.deltaY) * Math.max(1, Math.round(Math.abs(e.deltaY) / FRAME));
      if (!(e.ctrlKey || e.metaKey)) return setTime(time + frames / footage.facts.rate);
      const box = element.getBoundingClientRect();
      zoomTime(Math.exp(e.deltaY / ZOOM), span.from + ((e.clientY - box.top) / box.height) * (span.to - span.from));
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [root, store]);
}
