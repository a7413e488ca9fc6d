/** The outline of a press before it is followed: drawn in Frame and Map, and what can be done with it. */
import { useMemo } from 'react';
import { outlineOf } from '@glimbo/core/follow/outline';
import type { MapDrawing } from '../picture/map-projection';
import { LinesOverFrame, SeenLine } from '../picture/OverPanes';
import { useCorrection, useStudio, useStudioStore } from '../state/store';
import { frameNow, track } from './subjects';

/** What to do, from the press to the outline that is right. */
export function PointingWords() {
  const store = useStudioStore();
  const proposed = useStudio((s) => s.proposed);
  if (proposed === null)
    return (
      <p className="mt-1 text-muted" role="status">
        Press on its middle in the Frame, on the Map or, at eye height, on the Sweep, and its outline is found; or draw
        round it in the Frame or on the Map. It is followed both ways from here.
      </p>
    );
  if ('asked' in proposed)
    return (
      <p className="mt-1 text-muted" role="status">
        Its outline is being found.
      </p>
    );
  const { width, height } = proposed;
  return (
    <div className="mt-1 flex flex-wrap items-center gap-1.5" role="status">
      <span>
        Is this its outline, <span className="figure">{`${Math.round(width)} × ${Math.round(height)}°`}</span>?
      </span>
      <button className="button main h-6!" onClick={() => void track(store, proposed)}>
        Yes, track it
      </button>
      <button className="button h-6!" onClick={() => store.getState().propose(null)}>
        No
      </button>
      <span className="w-full text-muted">Or draw round it better, in the Frame or on the Map.</span>
    </div>
  );
}

/** The outline as directions of the world, in the frame in which it was found; null elsewhere. */
function useProposedLine() {
  const proposed = useStudio((s) => (s.proposed && 'width' in s.proposed ? s.proposed : null));
  const here = useStudio((s) => proposed !== null && frameNow(s) === proposed.frame);
  const time = useStudio((s) => s.time);
  const correction = useCorrection();
  return useMemo(
    () => (proposed && here ? outlineOf(proposed, correction.at(time)) : null),
    [proposed, here, correction, time],
  );
}

const LINE = { stroke: 'var(--lit-plum)', strokeWidth: 2.2, strokeDasharray: '6 3' };

export function ProposedInFrame({ width, height }: { width: number; height: number }) {
  const line = useProposedLine();
  if (!line) return null;
  return (
    <LinesOverFrame width={width} height={height} testId="proposed-in-frame">
      {(draw) => <SeenLine d={draw(line)} {...LINE} />}
    </LinesOverFrame>
  );
}

export function ProposedOnMap({ lineOf }: Pick<MapDrawing, 'lineOf'>) {
  const line = useProposedLine();
  return (
    line && (
      <g data-testid="proposed-on-map">
        <SeenLine d={lineOf(line)} {...LINE} />
      </g>
    )
  );
}
