/** How far points of the picture move when the view changes. */
import { angleBetween } from '../geometry/rotation.js';
import { cameraOf, directionAt, pixelOf, type View } from './view.js';

/**
 * For points in pixels of a frame, how many pixels what is seen there in one view lies away in another; a frame's width where it is
 * not seen any more, 0 where nothing was seen.
 */
export function shifts(
  before: View,
  after: View,
  { width, height }: { width: number; height: number },
  points: readonly (readonly [number, number])[],
): number[] {
  const [from, to] = [cameraOf(before, width, height), cameraOf(after, width, height)];
  return points.map(([x, y]) => {
    const seen = directionAt(from, x, y);
    const now = seen && pixelOf(to, seen);
    return now ? Math.hypot(now.x - x, now.y - y) : seen ? width : 0;
  });
}

/**
 * For points in pixels of a frame, by how many degrees what is seen there in one view lies off what is seen in another; 0 where
 * nothing is.
 */
export function turns(
  before: View,
  after: View,
  { width, height }: { width: number; height: number },
  points: readonly (readonly [number, number])[],
): number[] {
  const [from, to] = [cameraOf(before, width, height), cameraOf(after, width, height)];
  return points.map(([x, y]) => {
    const [a, b] = [directionAt(from, x, y), directionAt(to, x, y)];
    return a && b ? angleBetween(a, b) : 0;
  });
}
