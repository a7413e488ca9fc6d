/** What can be done about a stretch in which the view moves too fast. */
import { neighbours, snap } from './edit.js';
import { shiftKeys } from './group.js';
import { viewKeySelection } from './keys.js';
import { keysOf, type Path } from './path.js';
import { segmentAt, shapeSegment } from './shape.js';

/** How much later a keyframe comes at once: half as long again. */
const LONGER = 0.5;

export interface Mends {
  /** The keyframe that ends it comes later, as far as the next one lets it; null where there is no room. */
  longer: Path | null;
  /** Evenly from one keyframe to the other. */
  slower: Path;
}

/** The mends of a stretch in seconds, snapped to a rate's frames; null where no keyframes lie round it. */
export function mendsOf(path: Path, { from, to }: { from: number; to: number }, rate: number): Mends | null {
  const middle = (from + to) / 2;
  const channel = segmentAt(keysOf(path, 'pan'), middle) ? 'pan' : 'fov';
  const segment = segmentAt(keysOf(path, channel), middle);
  if (!segment) return null;
  const room = (neighbours(path, segment.b.time).next ?? Infinity) - segment.b.time - 1 / rate;
  const by = snap(Math.min(room, (segment.b.time - segment.a.time) * LONGER), rate);
  return {
    longer: by > 0 ? shiftKeys(path, viewKeySelection(path, segment.b.time), by) : null,
    slower: shapeSegment(path, channel, segment.index, 'linear', { together: true }),
  };
}
