/** What was found, where it is: its streaks on the Sweep, and outlined on the Map and in the Frame at the playhead. */
import { useMemo } from 'react';
import { outlineOfStreak, piecesOfStreak } from '@glimbo/core/follow/outline';
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import { foundIn } from '@glimbo/core/moving/found';
import type { Moving } from '@glimbo/core/moving/moving';
import type { Axis } from '../../axes/lanes';
import { rowsOf, streakPath } from '../streak-path';
import type { MapDrawing } from '../../picture/map-projection';
import { LinesOverFrame, SeenLine } from '../../picture/OverPanes';
import { useCorrection, useStudio } from '../../state/store';

/** What is seen of what was found, as streaks of the document: told once for a document, not with every step of the playhead. */
function useSeen(): { moving: Moving; streaks: readonly number[] } | null {
  const moving = useStudio((s) => s.found);
  const seen = useIsSeen();
  return useMemo(
    () => (moving && seen ? { moving, streaks: foundIn(moving).map(({ streak }) => streak) } : null),
    [moving, seen],
  );
}

/** Whether what was found is seen: while it is offered, and while the Sweep shows activity. */
const useIsSeen = () => useStudio((s) => (s.offering && s.station === 'path') || s.sweepReading === 'activity');

interface StreaksProps {
  width: number;
  y: Axis['y'];
  span: { from: number; to: number };
}

export function FoundStreaks({ width, y, span }: StreaksProps) {
  const seen = useSeen();
  const meant = useStudio((s) => s.meant);
  const correction = useCorrection();
  const streaks = useMemo(() => {
    if (!seen || !width) return [];
    const { moving } = seen;
    const step = rowsOf({ y, span, rate: moving.rate });
    return seen.streaks.map((streak) => {
      const pieces = piecesOfStreak(moving, moving.streaks[streak]!, correction, { ...span, step });
      return { streak, d: streakPath(pieces, width, y) };
    });
  }, [seen, width, y, span, correction]);
  return (
    <g data-testid="found-streaks" pointerEvents="none">
      {streaks.map(({ streak, d }) => (
        <path
          key={streak}
          d={d}
          fill={streak === meant ? 'var(--lit-plum)' : '#fff'}
          fillOpacity={streak === meant ? 0.95 : meant === null ? 0.7 : 0.3}
        />
      ))}
    </g>
  );
}

/** The outlines of all that is found at the playhead, as directions of the world. */
function useFoundOutlines(): { streak: number; line: Vec3[] }[] {
  const time = useStudio((s) => s.time);
  const seen = useSeen();
  const correction = useCorrection();
  return useMemo(() => {
    if (!seen) return [];
    const { moving } = seen;
    return seen.streaks.flatMap((streak) => {
      const line = outlineOfStreak(moving, moving.streaks[streak]!, time, correction);
      return line ? [{ streak, line }] : [];
    });
  }, [seen, time, correction]);
}

const dashes = (streak: number, meant: number | null) =>
  streak === meant ? { strokeWidth: 2.4, stroke: 'var(--lit-plum)' } : { strokeWidth: 1.4, strokeDasharray: '4 3' };

export function FoundOnMap({ lineOf }: Pick<MapDrawing, 'lineOf'>) {
  const outlines = useFoundOutlines();
  const meant = useStudio((s) => s.meant);
  return (
    <g data-testid="found-on-map">
      {outlines.map(({ streak, line }) => (
        <SeenLine key={streak} d={lineOf(line)} {...dashes(streak, meant)} />
      ))}
    </g>
  );
}

export function FoundInFrame({ width, height }: { width: number; height: number }) {
  const outlines = useFoundOutlines();
  const offering = useStudio((s) => s.offering);
  const meant = useStudio((s) => s.meant);
  if (!offering || outlines.length === 0) return null;
  return (
    <LinesOverFrame width={width} height={height} testId="found-in-frame">
      {(draw) =>
        outlines.map(({ streak, line }) => <SeenLine key={streak} d={draw(line)} {...dashes(streak, meant)} />)
      }
    </LinesOverFrame>
  );
}
