/** Subjects where they are at the playhead, outlined over the Frame and on the Map, and their streaks on the Sweep. */
import { useMemo } from 'react';
import { outlineAt, streakOf } from '@glimbo/core/follow/outline';
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import type { Tint } from '~/model/subject';
import type { MapDrawing } from '../picture/map-projection';
import { LinesOverFrame, SeenLine } from '../picture/OverPanes';
import { useCorrection, useStudio } from '../state/store';
import { useShownTracks } from './growing';
import { rowsOf, streakPath } from './streak-path';
import { litTint, sheetTint } from './tints';
import type { Axis } from '../axes/lanes';

interface Outlined {
  id: string;
  tint: Tint;
  line: Vec3[];
}

/** The outlines of all subjects that are seen at the playhead, as directions of the world; none at stations other than Path. */
function useOutlines(): Outlined[] {
  const subjects = useStudio((s) => s.subjects);
  const tracks = useShownTracks();
  const time = useStudio((s) => s.time);
  const station = useStudio((s) => s.station);
  const correction = useCorrection();
  return useMemo(
    () =>
      station !== 'path'
        ? []
        : subjects.flatMap(({ id, tint }) => {
            const track = tracks.get(id);
            const line = track && outlineAt(track, time, correction);
            return line ? [{ id, tint, line }] : [];
          }),
    [subjects, tracks, time, station, correction],
  );
}

export function SubjectsInFrame({ width, height }: { width: number; height: number }) {
  const outlines = useOutlines();
  if (outlines.length === 0) return null;
  return (
    <LinesOverFrame width={width} height={height} testId="subjects-in-frame">
      {(draw) =>
        outlines.map(({ id, tint, line }) => (
          <SeenLine key={id} d={draw(line)} stroke={litTint(tint)} strokeWidth={1.8} />
        ))
      }
    </LinesOverFrame>
  );
}

export function SubjectsOnMap({ lineOf }: Pick<MapDrawing, 'lineOf'>) {
  const outlines = useOutlines();
  return (
    <g data-testid="subjects-on-map">
      {outlines.map(({ id, tint, line }) => (
        <path key={id} d={lineOf(line)} fill="none" stroke={litTint(tint)} strokeWidth={2} />
      ))}
    </g>
  );
}

/** Of each subject a streak down the Sweep: where it is, as wide as it is large, faint where it is not seen. */
export function SubjectStreaks({
  width,
  y,
  span,
}: {
  width: number;
  y: Axis['y'];
  span: { from: number; to: number };
}) {
  const subjects = useStudio((s) => s.subjects);
  const tracks = useShownTracks();
  const station = useStudio((s) => s.station);
  const correction = useCorrection();
  const streaks = useMemo(() => {
    if (station !== 'path' || !width) return [];
    return subjects.flatMap(({ id, tint }) => {
      const track = tracks.get(id);
      if (!track) return [];
      const pieces = streakOf(track, correction, { ...span, step: rowsOf({ y, span, rate: track.rate }) });
      return [{ id, tint, d: streakPath(pieces, width, y) }];
    });
  }, [station, subjects, tracks, width, y, span, correction]);
  return (
    <g data-testid="subject-streaks">
      {streaks.map(({ id, tint, d }) => (
        <path key={id} d={d} fill={sheetTint(tint)} fillOpacity={0.6} stroke="none" />
      ))}
    </g>
  );
}
