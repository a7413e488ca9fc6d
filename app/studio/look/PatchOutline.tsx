/** The patch's rim over the Frame, while it is worked on. */
import { useMemo } from 'react';
import { apply, multiply } from '@glimbo/core/geometry/rotation';
import { patchToSource, rimDirections } from '@glimbo/core/look/patch';
import { OverPanes, SeenLine } from '../picture/OverPanes';
import { useCorrection, useStudio, useTake } from '../state/store';

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
  if (!rim) return null;
  return (
    <OverPanes width={width} height={height}>
      {(draw) => <SeenLine d={draw(rim)} strokeDasharray="5 4" data-testid="patch-outline" />}
    </OverPanes>
  );
}
