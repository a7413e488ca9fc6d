/** The patch's rim over the Frame, while it is worked on. */
import { useMemo } from 'react';
import { apply, multiply } from '@glimbo/core/geometry/rotation';
import { patchToSource, rimDirections } from '@glimbo/core/look/patch';
import { projectedLine } from '@glimbo/core/lens/polyline';
import { cameraOf } from '@glimbo/core/lens/view';
import { pathOf } from '~/ui/chart';
import { useCorrection, useStudio, useTake, useView } from '../state/store';

/** The rim as directions of the world; none where it is not shown. */
export function useRim() {
  const patch = useTake().look?.patch;
  const shown = useStudio((s) => s.patchOutlined);
  const correction = useCorrection();
  const time = useStudio((s) => s.time);
  return useMemo(() => {
    if (!patch || !shown) return null;
    const c = correction.at(time);
    const toWorld = multiply(c, patchToSource(patch, c));
    const rim = rimDirections(patch, 64).map((d) => apply(toWorld, d));
    return [...rim, rim[0]!];
  }, [patch, shown, correction, time]);
}

export function PatchOutline({ width, height }: { width: number; height: number }) {
  const rim = useRim();
  const view = useView();
  const line = useMemo(
    () => (rim && width ? pathOf(projectedLine(cameraOf(view, width, height), rim)) : ''),
    [rim, view, width, height],
  );
  if (!line) return null;
  return (
    <svg width={width} height={height} className="absolute inset-0">
      <path d={line} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={3} />
      <path d={line} fill="none" stroke="#fff" strokeWidth={1.4} strokeDasharray="5 4" data-testid="patch-outline" />
    </svg>
  );
}
