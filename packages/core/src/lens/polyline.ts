/** A line of world directions as it is seen in a frame. */
import type { Vec3 } from '../geometry/rotation.js';
import { pixelOf, type Camera } from './view.js';

/**
 * The pieces of a line that a camera sees, in pixels. It breaks where it goes out of sight, and where it jumps over more
 * than the frame: that is the far side of the projection, not a piece of the line.
 */
export function projectedLine(camera: Camera, directions: Iterable<Vec3>): [number, number][][] {
  const pieces: [number, number][][] = [];
  let before: { x: number; y: number } | null = null;
  for (const direction of directions) {
    const p = pixelOf(camera, direction);
    const joined = p && before && Math.hypot(p.x - before.x, p.y - before.y) < camera.width;
    if (p && joined) pieces.at(-1)!.push([p.x, p.y]);
    else if (p) pieces.push([[p.x, p.y]]);
    before = p;
  }
  return pieces;
}
