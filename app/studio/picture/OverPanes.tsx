/** Lines of the world over the Frame, in every pane as that pane sees them. */
import { useMemo, type ReactNode } from 'react';
import { apply, multiply, transpose, type Vec3 } from '@glimbo/core/geometry/rotation';
import { projectedLine } from '@glimbo/core/lens/polyline';
import { cameraOf } from '@glimbo/core/lens/view';
import type { Pane } from '~/preview/panes';
import { pathOf } from '~/ui/chart';
import { shownBeforeAfter, useCorrection, useStudio, useStudioStore, useTake, useView } from '../state/store';
import { panesOf } from './frame-panes';

/** The panes that the Frame shows now. */
export function usePanes(): Pane[] {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const view = useView();
  const correction = useCorrection();
  const tracks = useStudio((s) => s.tracks);
  const divided = useStudio(
    (s) =>
      `${s.unsteadied} ${s.station} ${s.grid} ${s.frameRoom} ${s.allFormats} ${s.lookRound} ${shownBeforeAfter(s)}`,
  );
  // eslint-disable-next-line react-hooks/exhaustive-deps -- these are what the panes of the store's state depend on
  return useMemo(() => panesOf(store.getState()).panes, [store, take, time, view, correction, tracks, divided]);
}

/** A line that is seen on light and on dark. */
export function SeenLine({ d, stroke = '#fff', ...line }: React.SVGProps<SVGPathElement>) {
  const { strokeWidth = 1.5 } = line;
  return (
    <>
      <path d={d} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={Number(strokeWidth) + 1.8} />
      <path {...line} d={d} fill="none" stroke={stroke} strokeWidth={strokeWidth} />
    </>
  );
}

/** Lines of the world over the whole Frame, which nothing presses. */
export const LinesOverFrame = ({ width, height, ...panes }: Parameters<typeof OverPanes>[0]) => (
  <div className="pointer-events-none absolute overflow-hidden" style={{ width, height }}>
    <OverPanes width={width} height={height} {...panes} />
  </div>
);

/** `children` draws what belongs into a pane with a function that makes an SVG path of directions of the world. */
export function OverPanes({
  width,
  height,
  testId,
  children,
}: {
  width: number;
  height: number;
  testId?: string;
  children: (draw: (line: readonly Vec3[]) => string) => ReactNode;
}) {
  const panes = usePanes();
  const correction = useCorrection();
  const time = useStudio((s) => s.time);
  if (!width) return null;
  const fromWorld = transpose(correction.at(time));
  return panes.map((pane, n) => {
    const size = { width: pane.width * width, height: pane.height * height };
    const camera = cameraOf(pane.view, size.width, size.height);
    // What stands before the correction is seen without it.
    const turned = multiply(pane.correction, fromWorld);
    const draw = (line: readonly Vec3[]) =>
      pathOf(
        projectedLine(
          camera,
          line.map((d) => apply(turned, d)),
        ),
      );
    return (
      <svg
        key={n}
        {...size}
        className="pointer-events-none absolute overflow-hidden"
        style={{ left: pane.left * width, top: pane.top * height }}
        data-testid={testId}
      >
        {children(draw)}
      </svg>
    );
  });
}
