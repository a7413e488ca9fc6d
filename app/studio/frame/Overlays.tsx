/** Lines between Lookouts, bars, titles and pictures over the Frame: the same drawing as the export's. */
import { useMemo } from 'react';
import { overlaysOf } from '@glimbo/core/edit/overlays';
import { hasOverlays, overlaysSaid, overTake } from '@glimbo/core/plan/over-take';
import { useOverlayMaterials } from '../look/overlay-materials';
import { useStudio, useTake } from '../state/store';

export function Overlays({ width, height }: { width: number; height: number }) {
  const take = useTake();
  const overlays = overlaysOf(take);
  const time = useStudio((s) => s.time);
  const materials = useOverlayMaterials(overlays);
  // While they stand still nothing is drawn anew, however the time goes on.
  const said = hasOverlays(take) ? overlaysSaid(take, time) : '';
  const svg = useMemo(
    () => (width ? overTake(take, { width, height }, time, materials) : null),
    [said, width, height, materials], // eslint-disable-line react-hooks/exhaustive-deps -- what is present says what changed
  );
  if (!svg) return null;
  return (
    <div
      className="pointer-events-none absolute inset-0"
      data-testid="overlays"
      // Made here of shapes and paths; what users write is in it as outlines of letters only.
      dangerouslySetInnerHTML={{ __html: svg }}
    />
  );
}
