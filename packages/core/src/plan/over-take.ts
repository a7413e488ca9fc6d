/** What lies over a take's picture at a moment: lines between its Lookouts, and over them its overlays. */
import { linesOf } from '../lookouts/layout.js';
import { onAir } from '../lookouts/lookouts.js';
import type { Take } from '../take/take.js';
import { overlaySvg, presentOverlays, type Materials } from '../overlay/svg.js';

type Overlaid = Pick<Take, 'look' | 'lookouts'>;

/** Whether anything ever lies over it. */
export const hasOverlays = ({ look, lookouts }: Overlaid): boolean =>
  !!look?.overlays?.length || !!(lookouts?.line && lookouts.cuts.some((c) => c.shows && c.shows.layout !== 'one'));

const layoutAt = ({ lookouts }: Overlaid, time: number) => onAir(lookouts, time)?.layout ?? 'one';

/** What the drawing of a moment depends on: where it is the same, the drawing is. */
export const overlaysSaid = (take: Overlaid, time: number): string =>
  JSON.stringify([layoutAt(take, time), take.lookouts?.line, presentOverlays(take.look?.overlays ?? [], time)]);

/** The drawing of a moment in a frame of width × height pixels, as SVG; null where nothing is seen. */
export function overTake(
  take: Overlaid,
  size: { width: number; height: number },
  time: number,
  materials: Materials,
): string | null {
  const lines = linesOf(layoutAt(take, time), take.lookouts?.line, size);
  return overlaySvg(take.look?.overlays ?? [], size, time, materials, lines);
}
