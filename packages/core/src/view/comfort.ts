/** How fast the picture moves, and where that is too fast to be seen. */
import { movesOf } from '../lens/shifts.js';
import type { View } from '../lens/view.js';

/** The picture moves by more than this share of its width from one frame to the next: too fast without motion blur. */
export const COMFORT = 1 / 7;

/** Height in pixels of the frame that is measured in. */
const MEASURING = 900;

/** Five points of the middle: turning about the view's own axis moves all of them but one. In quarters of the height. */
const POINTS = [
  [0, 0],
  [-1, 0],
  [1, 0],
  [0, -1],
  [0, 1],
] as const;

/** By what share of its width the middle of a picture of a ratio (width to height) moves from one view to another. */
export function movement(before: View, after: View, ratio: number): number {
  if (sameView(before, after)) return 0;
  const [width, height] = [ratio * MEASURING, MEASURING];
  const points = POINTS.map(([x, y]) => [width / 2 + (x * height) / 4, height / 2 + (y * height) / 4] as const);
  const moved = movesOf(before, after, { width, height }, points).map((m) => m.pixels);
  return moved.reduce((a, b) => a + b, 0) / moved.length / width;
}

const sameView = (a: View, b: View) => (Object.keys(a) as (keyof View)[]).every((dial) => a[dial] === b[dial]);

/**
 * Stretches in seconds in which the view moves too fast, seen every frame of a rate. `viewAt` gives the view at a time; a cut is no
 * movement: `isCut` says whether one lies between two times.
 */
export function tooFast(
  viewAt: (time: number) => View,
  { from, to, rate, ratio }: { from: number; to: number; rate: number; ratio: number },
  isCut: (from: number, to: number) => boolean = () => false,
): { from: number; to: number }[] {
  const found: { from: number; to: number }[] = [];
  let before = viewAt(from);
  for (let n = 1; n <= Math.round((to - from) * rate); n++) {
    const time = from + n / rate;
    const now = viewAt(time);
    if (movement(before, now, ratio) > COMFORT && !isCut(time - 1 / rate, time)) {
      const last = found.at(-1);
      if (last && time - 1.5 / rate <= last.to) last.to = time;
      else found.push({ from: time - 1 / rate, to: time });
    }
    before = now;
  }
  return found;
}
