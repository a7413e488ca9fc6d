/** The seam of a two-lens source as a closed line of directions, for drawing it over Map and Frame. */
import type { Vec3 } from '../geometry/rotation.js';
import { bandDirection } from './overlap.js';
import { seamAt, SEAM_POINTS, type Source } from './source.js';

/** Directions along the seam at a time, the first again at the end; null if there is none. */
export function seamLine(source: Source, time: number): Vec3[] | null {
  if (source.kind !== 'two-lenses') return null;
  const offsets = seamAt(source, time);
  return Array.from({ length: SEAM_POINTS + 1 }, (_, i) =>
    bandDirection((360 * i) / SEAM_POINTS, offsets[i % SEAM_POINTS]!),
  );
}
