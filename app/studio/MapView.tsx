/** The Map: the whole sphere at the playhead, with graticule, the frame's outline and the path with its beads. */
import { geoEquirectangular, geoGraticule10, geoPath } from 'd3';
import { useEffect, useMemo, useRef } from 'react';
import { nudgeTilt } from '@glimbo/core/lens/aim';
import { directionOf, lonLatOf } from '@glimbo/core/geometry/sphere';
import { apply, rotationOf, unwrapNear, type Vec3 } from '@glimbo/core/geometry/rotation';
import { cameraOf, outline, pixelOf, type View } from '@glimbo/core/lens/view';
import { aspectRatio } from '@glimbo/core/lens/format';
import { momentsOf, setMoment, type Moment } from '@glimbo/core/path/edit';
import { viewAt } from '@glimbo/core/path/path';
import { Bead } from './Bead';
import { correctionOf } from '@glimbo/core/take/correction';
import { usePicture, type SpherePicture } from './picture';
import { correctSphere } from './correct-sphere';
import { HorizonOnMap } from './level/HorizonLine';
import { useCorrection, useStudio, useStudioStore, useTake } from './store';

const place = (d: Vec3): [number, number] => {
  const { longitude, latitude } = lonLatOf(d);
  return [longitude, latitude];
};

export function MapView({ width }: { width: number }) {
  const height = width / 2;
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const selected = useStudio((s) => s.selected);
  const dragged = useRef<{ moment: Moment } | null>(null);
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
  const glance = useStudio((s) => s.glance);
  const correction = useCorrection();
  const station = useStudio((s) => s.station);
  const seam = useStudio((s) => s.seam);
  const view = useMemo(() => ({ ...viewAt(take.path, time), ...glance }), [take.path, time, glance]);
  const moments = useMemo(() => momentsOf(take.path), [take.path]);

  const frameLine = useMemo(() => {
    const ratio = aspectRatio(take.frame.aspect);
    const camera = cameraOf(view, ratio * 1000, 1000);
    return draw({ type: 'LineString', coordinates: outline(camera, 24).map(place) }) ?? '';
  }, [view, take.frame.aspect, draw]);
  const seamPath = useMemo(
    () =>
      seam
        ? (draw({ type: 'LineString', coordinates: seam.map((d) => place(apply(correction.at(time), d))) }) ?? '')
        : '',
    [seam, correction, time, draw],
  );
  const pathLine = useMemo(() => {
    const first = moments[0];
    const last = moments.at(-1);
    if (!first || !last || first === last) return '';
    const steps = Math.ceil((last.time - first.time) * 20);
    const points = Array.from({ length: steps + 1 }, (_, i) =>
      apply(rotationOf(viewAt(take.path, first.time + ((last.time - first.time) * i) / steps)), [0, 0, 1]),
    );
    return draw({ type: 'LineString', coordinates: points.map(place) }) ?? '';
  }, [take.path, moments, draw]);
  const centre = projection([view.pan, view.tilt]) ?? [0, 0];

  const pointOf = (e: React.PointerEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    return { pan: ((e.clientX - box.left) / width - 0.5) * 360, tilt: (0.5 - (e.clientY - box.top) / height) * 180 };
  };
  /** Inside the outline a drag moves the view along; outside, the view comes to the pointer. */
  const grab = (e: React.PointerEvent<SVGSVGElement>) => {
    const point = pointOf(e);
    const camera = cameraOf(view, aspectRatio(take.frame.aspect) * 1000, 1000);
    const pixel = pixelOf(camera, directionOf(point.pan, point.tilt));
    const inside = pixel && pixel.x >= 0 && pixel.x <= camera.width && pixel.y >= 0 && pixel.y <= camera.height;
    if (!inside) store.getState().aim({ pan: unwrapNear(point.pan, view.pan), tilt: point.tilt }, 'map-aim');
    held.current = { point, from: store.getState().view() };
  };
  const drag = (e: React.PointerEvent<SVGSVGElement>) => {
    const under = pointOf(e);
    store.getState().pointAt(directionOf(under.pan, under.tilt));
    if (!held.current) return;
    const { point, from } = held.current;
    const now = pointOf(e);
    const [dx, dy] = [now.pan - point.pan, now.tilt - point.tilt];
    // Shift holds the drag to the axis along which it has gone further.
    const [across, up] = !e.shiftKey ? [dx, dy] : Math.abs(dx) >= Math.abs(dy) ? [dx, 0] : [0, dy];
    store.getState().aim({ pan: from.pan + across, tilt: nudgeTilt(from.tilt, up) }, 'map-aim');
  };

  const release = () => {
    held.current = null;
    store.getState().endGesture();
  };

  const moveBead = (m: Moment, dx: number, dy: number) => {
    dragged.current ??= { moment: m };
    const { view: from } = dragged.current.moment;
    const change = {
      pan: from.pan + (dx / width) * 360,
      tilt: Math.max(-90, Math.min(90, from.tilt - (dy / height) * 180)),
    };
    // The Frame shows the moment that is being aimed.
    store.getState().follow(m.time);
    store.getState().edit((t) => ({ ...t, path: setMoment(t.path, m.time, change) }), `map-bead-${m.time}`);
  };

  return (
    <div className="relative bg-well" style={{ width, height }} data-testid="map">
      <MapPicture width={width} height={height} />
      <svg
        width={width}
        height={height}
        className="absolute inset-0 cursor-crosshair touch-none overflow-hidden"
        role="img"
        aria-label={`Map. The camera looks at heading ${Math.round(view.pan)}°, ${Math.round(view.tilt)}° up; ${moments.length} keyframes.`}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          grab(e);
        }}
        onPointerMove={drag}
        onPointerUp={release}
        onPointerCancel={release}
      >
        <path d={draw(geoGraticule10()) ?? ''} fill="none" stroke="#fff" strokeOpacity={0.1} />
        {[-135, -90, -45, 0, 45, 90, 135].map((lon) => (
          <line
            key={lon}
            x1={(lon / 360 + 0.5) * width}
            x2={(lon / 360 + 0.5) * width}
            y1={0}
            y2={height}
            stroke="#fff"
            strokeOpacity={lon === 0 ? 0.45 : 0.25}
            strokeDasharray={lon === 0 ? '' : '2 4'}
          />
        ))}
        <line x1={0} x2={width} y1={height / 2} y2={height / 2} stroke="#fff" strokeOpacity={0.55} />
        {seamPath && (
          <>
            <path d={seamPath} fill="none" stroke="#000" strokeOpacity={0.6} strokeWidth={3.5} />
            <path d={seamPath} fill="none" stroke="#fff" strokeWidth={1.5} data-testid="seam-on-map" />
          </>
        )}
        {station === 'level' && <HorizonOnMap width={width} />}
        <path d={pathLine} fill="none" stroke="#000" strokeOpacity={0.45} strokeWidth={4} />
        <path d={pathLine} fill="none" stroke="#ff7048" strokeWidth={1.6} strokeDasharray="5 3" />
        <path d={frameLine} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={4.5} />
        <path d={frameLine} fill="none" stroke="#ff7048" strokeWidth={2} data-testid="outline" />
        <path
          d={`M${centre[0] - 6} ${centre[1]}h12M${centre[0]} ${centre[1] - 6}v12`}
          stroke="#ff7048"
          strokeWidth={1.5}
        />
        {moments.map((m, i) => {
          const [x, y] = projection(place(apply(rotationOf(m.view), [0, 0, 1]))) ?? [0, 0];
          return (
            <Bead
              key={i}
              x={x}
              y={y}
              ease={m.ease}
              selected={selected === m.time}
              label={`Keyframe ${i + 1} on the Map`}
              onSelect={() => store.getState().select(m.time)}
              onDrag={(dx, dy) => moveBead(m, dx, dy)}
              onEnd={() => {
                dragged.current = null;
                store.getState().endGesture();
              }}
            />
          );
        })}
      </svg>
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
        correctSphere(
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
