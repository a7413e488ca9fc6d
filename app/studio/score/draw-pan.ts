/** Drawing a pan move onto the Sweep: where the pointer goes, the view looks, at the moments it passes. */
import { useRef } from 'react';
import { drawnSamples, perform } from '@glimbo/core/path/perform';
import { useStudioStore } from '../state/store';

/** What a drawn line may be off its keyframes, in degrees; and the seconds over which a hand's trembling is smoothed. */
const TOLERANCE = 2.5;
const WIDTH = 0.1;

export function useDrawPan(headingOf: (px: number) => number, timeAt: (py: number) => number) {
  const store = useStudioStore();
  const drawn = useRef<{ time: number; pan: number }[] | null>(null);
  const at = (e: React.PointerEvent<SVGSVGElement>) => {
    const { left, top } = e.currentTarget.getBoundingClientRect();
    return { time: timeAt(e.clientY - top), pan: headingOf(e.clientX - left) };
  };
  const show = (points: { time: number; pan: number }[]) => {
    const { take, footage, tryPath } = store.getState();
    const made = perform(take().path, drawnSamples(take().path, points), {
      width: WIDTH,
      tolerance: TOLERANCE,
      rate: footage.facts.rate,
    });
    if (made) tryPath(made.path, `${made.keys} keyframes, ${made.deviation.toFixed(1)}° from what was drawn at most.`);
  };
  return {
    begin(e: React.PointerEvent<SVGSVGElement>): boolean {
      if (!e.shiftKey || e.ctrlKey || e.metaKey) return false;
      e.currentTarget.setPointerCapture(e.pointerId);
      drawn.current = [at(e)];
      return true;
    },
    move(e: React.PointerEvent<SVGSVGElement>): boolean {
      if (!drawn.current) return false;
      drawn.current.push(at(e));
      show(drawn.current);
      return true;
    },
    end(): boolean {
      const was = drawn.current !== null;
      drawn.current = null;
      return was;
    },
  };
}
