/** Lines on the Map: the path's way, the frame's outline, seam, patch, and what is only tried. */
import { useMemo } from 'react';
import { apply, type Vec3 } from '@glimbo/core/geometry/rotation';
import { outline } from '@glimbo/core/lens/view';
import { spanOfKeys } from '@glimbo/core/path/even';
import { viewAt, type Path } from '@glimbo/core/path/path';
import { measuringCamera, sightOf } from '@glimbo/core/view/view-of';
import { useRim } from '../look/PatchOutline';
import { useCorrection, useStudio, useTake, useView } from '../state/store';
import type { MapDrawing } from '../picture/map-projection';

/** Points a second along a path's way over the sphere. */
const POINTS = 20;

/** The way of a path's middle from its first keyframe to its last. */
function wayOf(path: Path): Vec3[] {
  const span = spanOfKeys(path);
  const steps = span ? Math.ceil((span.to - span.from) * POINTS) : -1;
  const at = (i: number) => viewAt(path, span!.from + ((span!.to - span!.from) * i) / steps);
  return Array.from({ length: steps + 1 }, (_, i) => sightOf(at(i)));
}

/** A line that is seen on any picture: dark beneath, and its own colour over that. */
function SeenOnMap({ d, under, dark, ...line }: React.SVGProps<SVGPathElement> & { under: number; dark: number }) {
  return (
    d && (
      <>
        <path d={d} fill="none" stroke="#000" strokeOpacity={dark} strokeWidth={under} />
        <path d={d} fill="none" {...line} />
      </>
    )
  );
}

/** Below everything else: where lenses meet, and what is covered. */
export function SeamOnMap({ map }: { map: MapDrawing }) {
  const time = useStudio((s) => s.time);
  const seam = useStudio((s) => s.seam);
  const correction = useCorrection();
  const rim = useRim();
  const line = useMemo(
    () => (seam ? map.lineOf(seam.map((d) => apply(correction.at(time), d))) : ''),
    [seam, correction, time, map],
  );
  return (
    <>
      <SeenOnMap d={line} dark={0.6} under={3.5} stroke="#fff" strokeWidth={1.5} data-testid="seam-on-map" />
      <SeenOnMap
        d={rim ? map.lineOf(rim) : ''}
        dark={0.5}
        under={3}
        stroke="#fff"
        strokeWidth={1.4}
        strokeDasharray="5 4"
      />
    </>
  );
}

/** The path's way, a tried one beside it, and what the frame shows now. */
export function PathOnMap({ map }: { map: MapDrawing }) {
  const take = useTake();
  const view = useView();
  const tried = useStudio((s) => s.tried);
  const way = useMemo(() => map.lineOf(wayOf(take.path)), [take.path, map]);
  const triedWay = useMemo(() => (tried ? map.lineOf(wayOf(tried)) : ''), [tried, map]);
  const frame = useMemo(() => map.lineOf(outline(measuringCamera(take, view), 24)), [view, take, map]);
  const [x, y] = map.placeOf(sightOf(view));
  return (
    <>
      <SeenOnMap d={way} dark={0.45} under={4} stroke="#ff7048" strokeWidth={1.6} strokeDasharray="5 3" />
      {triedWay && (
        <path
          d={triedWay}
          fill="none"
          stroke="#fff"
          strokeWidth={2.4}
          strokeDasharray="1 5"
          strokeLinecap="round"
          data-testid="tried-on-map"
        />
      )}
      <SeenOnMap d={frame} dark={0.5} under={4.5} stroke="#ff7048" strokeWidth={2} data-testid="outline" />
      <path d={`M${x - 6} ${y}h12M${x} ${y - 6}v12`} stroke="#ff7048" strokeWidth={1.5} />
    </>
  );
}
