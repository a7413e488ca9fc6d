/** Bars, titles and pictures over the Frame: the same drawing as the export's. */
import { useMemo } from 'react';
import { overlaysOf } from '@glimbo/core/overlay/edit';
import { overlaySvg, presentOverlays } from '@glimbo/core/overlay/svg';
import { useOverlayMaterials } from '../look/overlay-materials';
import { useStudio, useTake } from '../state/store';

export function Overlays({ width, height }: { width: number; height: number }) {
  const overlays = overlaysOf(useTake());
  const time = useStudio((s) => s.time);
  const materials = useOverlayMaterials(overlays);
  // While they stand still nothing is drawn anew, however the time goes on.
  const said = overlays.length ? JSON.stringify(presentOverlays(overlays, time)) : '';
  const svg = useMemo(
    () => (width ? overlaySvg(overlays, { width, height }, time, materials) : null),
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
