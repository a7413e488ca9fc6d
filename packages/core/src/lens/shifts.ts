/** How far points of the picture move when the view changes. */
import { angleBetween } from '../geometry/rotation.js';
import { cameraOf, directionAt, pixelOf, type View } from './view.js';

/** How far what is seen at a point lies away in another view. */
export interface Move {
  /** Pixels; a frame's width where it is not seen any more, 0 where nothing was seen. */
  pixels: number;
  /** Degrees between what is seen at the point before and after; 0 where nothing is. */
  degrees: number;
}

/** The moves of points in pixels of a frame. */
export function movesOf(
  before: View,
  after: View,
  { width, height }: { width: number; height: number },
  points: readonly (readonly [number, number])[],
): Move[] {
  const [from, to] = [cameraOf(before, width, height), cameraOf(after, width, height)];
  return points.map(([x, y]) => {
    const [was, is] = [directionAt(from, x, y), directionAt(to, x, y)];
    const now = was && pixelOf(to, was);
    return {
      pixels: now ? Math.hypot(now.x - x, now.y - y) : was ? width : 0,
      degrees: was && is ? angleBetween(was, is) : 0,
    };
  });
}
