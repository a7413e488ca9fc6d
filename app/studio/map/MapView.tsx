/** The Map: the whole sphere at the playhead, with graticule, the frame's outline and the path with its beads. */
import { geoEquirectangular, geoGraticule10, geoPath } from 'd3';
import { useEffect, useMemo, useRef } from 'react';
import { nudgeTilt } from '@glimbo/core/lens/aim';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { apply, unwrapNear } from '@glimbo/core/geometry/rotation';
import { outline, pixelOf, type View } from '@glimbo/core/lens/view';
import { viewKeysOf, setViewKey, type ViewKey } from '@glimbo/core/path/edit';
import { spanOfKeys } from '@glimbo/core/path/even';
import { isSelected, refsOf } from '@glimbo/core/path/keys';
import { viewAt, type Path } from '@glimbo/core/path/path';
import { measuringCamera, sightOf } from '@glimbo/core/view/view-of';
import { mapPlace } from '../../ui/chart';
import { Bead } from '../axes/Bead';
import { correctionOf } from '@glimbo/core/correction/correction';
import { usePicture, type SpherePicture } from '../picture/picture';
import { useBox } from '../axes/box';
import { Meridians } from '../axes/Meridians';
import { SubjectsOnMap } from '../follow/SubjectMarks';
import { PointOutOnMap } from '../follow/PointOut';
import { useRim } from '../look/PatchOutline';
import { SectorOnMap } from '../look/SectorOnMap';
import { putPatch } from '../look/place-patch';
import { makeGrey } from '../look/pick-grey';
import { drawTurned } from '../picture/turned';
import { HorizonOnMap } from '../level/HorizonLine';
import { useAsksForPlace, useCorrection, useStudio, useStudioStore, useTake, useView } from '../state/store';

/** Points a second along a path's way over the sphere. */
const POINTS = 20;

/** The way of a path's middle from its first keyframe to its last. */
function wayOf(path: Path): { type: 'LineString'; coordinates: [number, number][] } {
  const span = spanOfKeys(path);
  const steps = span ? Math.ceil((span.to - span.from) * POINTS) : -1;
  const at = (i: number) => viewAt(path, span!.from + ((span!.to - span!.from) * i) / steps);
  return { type: 'LineString', coordinates: Array.from({ length: steps + 1 }, (_, i) => mapPlace(sightOf(at(i)))) };
}

export function MapView({ width }: { width: number }) {
  const height = width / 2;
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const selection = useStudio((s) => s.selection);
  const dragged = useRef<ViewKey | null>(null);
  const held = useRef<{ point: { pan: number; tilt: number }; from: View } | null>(null);
  const projection = useMemo(
    () =>
      geoEquirectangular()
        .scale(width / (2 * Math.PI))
        .translate([width / 2, height / 2])
        .precision(0.3),
    [width, height],
  );
  const draw = useMemo(() => geoPath(projection), [projection]);
  const correction = useCorrection();
  const picture = usePicture();
  const station = useStudio((s) => s.station);
  const seam = useStudio((s) => s.seam);
  const view = useView();
  const viewKeys = useMemo(() => viewKeysOf(take.path), [take.path]);

  const frameLine = useMemo(() => {
    return draw({ type: 'LineString', coordinates: outline(measuringCamera(take, view), 24).map(mapPlace) }) ?? '';
  }, [view, take, draw]);
  const seamPath = useMemo(
    () =>
      seam
        ? (draw({ type: 'LineString', coordinates: seam.map((d) => mapPlace(apply(correction.at(time), d))) }) ?? '')
        : '',
    [seam, correction, time, draw],
  );
  const pathLine = useMemo(() => draw(wayOf(take.path)) ?? '', [take.path, draw]);
  const tried = useStudio((s) => s.tried);
  const asksForPlace = useAsksForPlace();
  const triedLine = useMemo(() => (tried ? (draw(wayOf(tried)) ?? '') : ''), [tried, draw]);
  const rim = useRim();
  const rimLine = rim ? (draw({ type: 'LineString', coordinates: rim.map(mapPlace) }) ?? '') : '';
  const centre = projection([view.pan, view.tilt]) ?? [0, 0];

  const pointOf = (e: React.PointerEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    return { pan: ((e.clientX - box.left) / width - 0.5) * 360, tilt: (0.5 - (e.clientY - box.top) / height) * 180 };
  };
  /** Inside the outline a drag moves the view along; outside, the view comes to the pointer. */
  const grab = (e: React.PointerEvent<SVGSVGElement>) => {
    const point = pointOf(e);
    if (store.getState().pickingGrey) return makeGrey(store, picture, directionOf(point.pan, point.tilt));
    if (store.getState().placingPatch) {
      putPatch(store, directionOf(point.pan, point.tilt));
      held.current = null;
      return;
    }
    const camera = measuringCamera(take, view);
    const pixel = pixelOf(camera, directionOf(point.pan, point.tilt));
    const inside = pixel && pixel.x >= 0 && pixel.x <= camera.width && pixel.y >= 0 && pixel.y <= camera.height;
    if (!inside && !e.altKey)
      store.getState().aim({ pan: unwrapNear(point.pan, view.pan), tilt: point.tilt }, 'map-aim');
    held.current = { point, from: store.getState().view() };
  };
  const drag = (e: React.PointerEvent<SVGSVGElement>) => {
    const under = pointOf(e);
    store.getState().pointAt(directionOf(under.pan, under.tilt));
    if (store.getState().placingPatch)
      return e.buttons ? putPatch(store, directionOf(under.pan, under.tilt)) : undefined;
    if (!held.current) return;
    const { point, from } = held.current;
    const now = pointOf(e);
    const [dx, dy] = [now.pan - point.pan, now.tilt - point.tilt];
    // Alt rolls, as far as the pointer goes across.
    if (e.altKey) return store.getState().dial({ roll: from.roll + dx / 2 }, 'map-roll');
    // Shift holds the drag to the axis along which it has gone further.
    const [across, up] = !e.shiftKey ? [dx, dy] : Math.abs(dx) >= Math.abs(dy) ? [dx, 0] : [0, dy];
    store.getState().aim({ pan: from.pan + across, tilt: nudgeTilt(from.tilt, up) }, 'map-aim');
  };

  const release = () => {
    held.current = null;
    store.getState().endGesture();
  };

  const aimKey = (key: ViewKey, pan: number, tilt: number) => {
    const change = { pan, tilt: Math.max(-90, Math.min(90, tilt)) };
    // The Frame shows the keyframe that is being aimed.
    store.getState().follow(key.time);
    store.getState().edit((t) => ({ ...t, path: setViewKey(t.path, key.time, change) }), `map-bead-${key.time}`);
  };
  const dragBead = (key: ViewKey, dx: number, dy: number) => {
    const { view: from } = (dragged.current ??= key);
    aimKey(key, from.pan + (dx / width) * 360, from.tilt - (dy / height) * 180);
  };
  const endBead = () => {
    dragged.current = null;
    store.getState().endGesture();
  };

  const box = useBox(({ left, right, top, bottom }) =>
    viewKeys
      .filter((k) => {
        const [x, y] = projection(mapPlace(sightOf(k.view))) ?? [-1, -1];
        return x >= left && x <= right && y >= top && y <= bottom;
      })
      .flatMap(refsOf),
  );

  return (
    <div className="relative bg-well" style={{ width, height }} data-testid="map">
      <MapPicture width={width} height={height} />
      <svg
        width={width}
        height={height}
        className="absolute inset-0 cursor-crosshair touch-none overflow-hidden"
        role="group"
        aria-label={`Map. The camera looks at heading ${Math.round(view.pan)}°, ${Math.round(view.tilt)}° up; ${viewKeys.length} keyframes.`}
        onPointerDown={(e) => {
          if (box.begin(e)) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          grab(e);
        }}
        onPointerMove={(e) => box.move(e) || drag(e)}
        onPointerUp={() => box.end() || release()}
        onPointerCancel={release}
      >
        <path d={draw(geoGraticule10()) ?? ''} fill="none" stroke="#fff" strokeOpacity={0.1} />
        <Meridians width={width} height={height} ahead={0.45} others={0.25} />
        <line x1={0} x2={width} y1={height / 2} y2={height / 2} stroke="#fff" strokeOpacity={0.55} />
        {seamPath && (
          <>
            <path d={seamPath} fill="none" stroke="#000" strokeOpacity={0.6} strokeWidth={3.5} />
            <path d={seamPath} fill="none" stroke="#fff" strokeWidth={1.5} data-testid="seam-on-map" />
          </>
        )}
        {rimLine && (
          <>
            <path d={rimLine} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={3} />
            <path d={rimLine} fill="none" stroke="#fff" strokeWidth={1.4} strokeDasharray="5 4" />
          </>
        )}
        {station === 'level' && <HorizonOnMap width={width} />}
        <path d={pathLine} fill="none" stroke="#000" strokeOpacity={0.45} strokeWidth={4} />
        <path d={pathLine} fill="none" stroke="#ff7048" strokeWidth={1.6} strokeDasharray="5 3" />
        {triedLine && (
          <path
            d={triedLine}
            fill="none"
            stroke="#fff"
            strokeWidth={2.4}
            strokeDasharray="1 5"
            strokeLinecap="round"
            data-testid="tried-on-map"
          />
        )}
        <path d={frameLine} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={4.5} />
        <path d={frameLine} fill="none" stroke="#ff7048" strokeWidth={2} data-testid="outline" />
        <path
          d={`M${centre[0] - 6} ${centre[1]}h12M${centre[0]} ${centre[1] - 6}v12`}
          stroke="#ff7048"
          strokeWidth={1.5}
        />
        <g pointerEvents={asksForPlace ? 'none' : undefined}>
          {viewKeys.map((m, i) => {
            const [x, y] = projection(mapPlace(sightOf(m.view))) ?? [0, 0];
            return (
              <Bead
                key={i}
                of={`${m.channels.join()} ${m.time} ${m.view.pan}`}
                x={x}
                y={y}
                ease={m.ease}
                small={m.channels.length === 1}
                selected={isSelected(selection, m.channels[0]!, m)}
                label={`Keyframe ${i + 1} on the Map`}
                value={`pan ${Math.round(m.view.pan)}°, tilt ${Math.round(m.view.tilt)}°`}
                onSelect={(how) => store.getState().pick(refsOf(m), how)}
                onDrag={(dx, dy) => dragBead(m, dx, dy)}
                onStep={(across, down) => aimKey(m, m.view.pan + across, m.view.tilt - down)}
                onEnd={endBead}
              />
            );
          })}
        </g>
        <SectorOnMap width={width} draw={draw} />
        <SubjectsOnMap draw={draw} />
        {box.shape}
      </svg>
      <PointOutOnMap width={width} height={height} />
    </div>
  );
}

/** The whole sphere as it is corrected. */
function MapPicture({ width, height }: { width: number; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const picture = usePicture();
  const store = useStudioStore();
  useEffect(() => {
    const context = canvas.current?.getContext('2d', { willReadFrequently: true });
    if (!context || !width) return;
    let shown: SpherePicture | null = null;
    const draw = () => {
      const { correction, time, unsteadied, take } = store.getState();
      if (shown)
        drawTurned(
          context,
          shown,
          (unsteadied ? correctionOf({ orientation: take().orientation }) : correction()).at(time),
        );
    };
    // A played frame brings a new picture and a new time: both are drawn at once.
    let pending = 0;
    const drawSoon = () => {
      pending ||= requestAnimationFrame(() => {
        pending = 0;
        draw();
      });
    };
    const forget = picture.listen((video) => {
      shown = video;
      drawSoon();
    });
    const unsubscribe = store.subscribe(
      (now, before) =>
        (now.history !== before.history ||
          now.motion !== before.motion ||
          now.time !== before.time ||
          now.unsteadied !== before.unsteadied) &&
        drawSoon(),
    );
    return () => {
      forget();
      unsubscribe();
      cancelAnimationFrame(pending);
    };
  }, [picture, store, width, height]);
  return (
    <canvas
      ref={canvas}
      width={Math.max(2, Math.round(width))}
      height={Math.max(2, Math.round(height))}
      className="absolute inset-0 size-full"
    />
  );
}
