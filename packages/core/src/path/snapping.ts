/** What a dragged time catches on: the nearest of some moments, within reach. Seconds. */
export function caught(time: number, moments: readonly number[], reach: number): number {
  let best = time;
  let near = reach;
  for (const moment of moments) {
    const off = Math.abs(moment - time);
    if (off <= near) [best, near] = [moment, off];
  }
  return best;
}
