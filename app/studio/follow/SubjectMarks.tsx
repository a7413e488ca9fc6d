/** Subjects where they are at the playhead, outlined over the Frame and on the Map, and their streaks on the Sweep. */
import type { GeoPath } from 'd3';
import { useMemo } from 'react';
import { isSeen, type SubjectTrack } from '@glimbo/core/follow/subject';
import { apply, multiply, type Vec3 } from '@glimbo/core/geometry/rotation';
import { lonLatOf } from '@glimbo/core/geometry/sphere';
import { uprightTo } from '@glimbo/core/follow/tracker';
import { projectedLine } from '@glimbo/core/lens/polyline';
import { cameraOf } from '@glimbo/core/lens/view';
import { headingAt, pathOf } from '~/ui/chart';
import { useCorrection, useStudio, useView } from '../state/store';
import type { Axis } from '../score/lanes';

/** Points of an outline. */
const POINTS = 40;

/** A circle round a direction of the picture, brought into the world. */
function circle(direction: Vec3, size: number, toWorld: Parameters<typeof apply>[0]): Vec3[] {
  const turned = multiply(toWorld, uprightTo(direction));
  const half = (size / 2) * (Math.PI / 180);
  return Array.from({ length: POINTS + 1 }, (_, i) => {
    const a = (2 * Math.PI * i) / POINTS;
    return apply(turned, [Math.sin(half) * Math.cos(a), Math.sin(half) * Math.sin(a), Math.cos(half)]);
  });
}

interface Outlined {
  id: string;
  name: string;
  line: Vec3[];
}

/** The outlines of all subjects that are seen at the playhead, as directions of the world; none at stations other than Path. */
function useOutlines(): Outlined[] {
  const subjects = useStudio((s) => s.subjects);
  const tracks = useStudio((s) => s.tracks);
  const time = useStudio((s) => s.time);
  const station = useStudio((s) => s.station);
  const correction = useCorrection();
  return useMemo(
    () =>
      station !== 'path'
        ? []
        : subjects.flatMap(({ id, name }) => {
            const track = tracks.get(id)?.track;
            const look = track?.looks[Math.floor(time * track.rate + 1e-6)];
            if (!isSeen(look)) return [];
            const [x, y, z, size] = look;
            return [{ id, name, line: circle([x, y, z], size, correction.at(time)) }];
          }),
    [subjects, tracks, time, station, correction],
  );
}

export function SubjectsInFrame({ width, height }: { width: number; height: number }) {
  const outlines = useOutlines();
  const view = useView();
  if (!width || outlines.length === 0) return null;
  const camera = cameraOf(view, width, height);
  return (
    <svg width={width} height={height} className="absolute inset-0" data-testid="subjects-in-frame">
      {outlines.map(({ id, line }) => (
        <g key={id}>
          <path
            d={pathOf(projectedLine(camera, line))}
            fill="none"
            stroke="#000"
            strokeOpacity={0.45}
            strokeWidth={3.5}
          />
          <path d={pathOf(projectedLine(camera, line))} fill="none" stroke="#d59be0" strokeWidth={1.8} />
        </g>
      ))}
    </svg>
  );
}

export function SubjectsOnMap({ draw }: { draw: GeoPath }) {
  const outlines = useOutlines();
  const place = (d: Vec3): [number, number] => {
    const { longitude, latitude } = lonLatOf(d);
    return [longitude, latitude];
  };
  return (
    <g data-testid="subjects-on-map">
      {outlines.map(({ id, line }) => (
        <path
          key={id}
          d={draw({ type: 'LineString', coordinates: line.map(place) }) ?? ''}
          fill="none"
          stroke="#d59be0"
          strokeWidth={2}
        />
      ))}
    </g>
  );
}

/** Pieces of a streak that are drawn: as many as there are rows of it. */
const ROWS_APART = 2;

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
  const tracks = useStudio((s) => s.tracks);
  const station = useStudio((s) => s.station);
  const correction = useCorrection();
  const streaks = useMemo(() => {
    if (station !== 'path' || !width) return [];
    return subjects.flatMap(({ id }) => {
      const track = tracks.get(id)?.track;
      return track ? [{ id, d: streakOf(track, { width, y, span, correction }) }] : [];
    });
  }, [station, subjects, tracks, width, y, span, correction]);
  return (
    <g data-testid="subject-streaks">
      {streaks.map(({ id, d }) => (
        <path key={id} d={d} fill="var(--subject)" fillOpacity={0.5} stroke="none" />
      ))}
    </g>
  );
}

interface Drawing {
  width: number;
  y: Axis['y'];
  span: { from: number; to: number };
  correction: ReturnType<typeof useCorrection>;
}

function streakOf({ looks, rate }: SubjectTrack, { width, y, span, correction }: Drawing): string {
  const step = Math.max(
    1,
    Math.round(((span.to - span.from) / Math.max(1, y(span.to) - y(span.from))) * ROWS_APART * rate),
  );
  const parts: string[] = [];
  const first = Math.max(0, Math.floor((span.from * rate) / step) * step);
  for (let n = first; n < Math.min(looks.length, span.to * rate); n += step) {
    const look = looks[n];
    if (!isSeen(look)) continue;
    const [dx, dy, dz, size] = look;
    const { longitude, latitude } = lonLatOf(apply(correction.at(n / rate), [dx, dy, dz]));
    const half = Math.max(1.5, ((size * 0.2) / Math.max(0.2, Math.cos((latitude * Math.PI) / 180)) / 360) * width);
    const x = headingAt(longitude, width);
    const [top, bottom] = [y(n / rate), y((n + step) / rate)];
    for (const by of [-width, 0, width])
      if (x + by + half > 0 && x + by - half < width)
        parts.push(
          `M${(x + by - half).toFixed(1)} ${top.toFixed(1)}h${(2 * half).toFixed(1)}V${bottom.toFixed(1)}h${(-2 * half).toFixed(1)}Z`,
        );
  }
  return parts.join('');
}
