/** The horizon as the take has it, over the Frame and the Map: it is dragged to where the picture shows it. */
import { geoEquirectangular, geoPath } from 'd3';
import { useRef, useState } from 'react';
import { directionOf, lonLatOf } from '@glimbo/core/geometry/sphere';
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import { cameraOf, directionAt, pixelOf, type Camera } from '@glimbo/core/lens/view';
import { horizonLine, upDragged, upThrough } from '@glimbo/core/level/horizon';
import { viewAt } from '@glimbo/core/path/path';
import { useStudio, useStudioStore, useTake } from '../store';
import { levelToWorld } from './useHorizon';

const STRAIGHT: Vec3 = [0, 1, 0];
/** Shares of the Frame's width within which the line is turned about its far end instead of moved. */
const ENDS = 0.36;

const TEAL = '#4fb9c0';

/** The horizon's line in a frame, as an SVG path. */
function lineIn(camera: Camera, up: Vec3): string {
  let d = '';
  let before: { x: number; y: number } | null = null;
  for (const direction of horizonLine(up, 360)) {
    const p = pixelOf(camera, direction);
    const joined = p && before && Math.hypot(p.x - before.x, p.y - before.y) < camera.width;
    if (p) d += `${joined ? 'L' : 'M'}${p.x.toFixed(1)} ${p.y.toFixed(1)}`;
    before = p;
  }
  return d;
}

/** What the line passes through nearest above or below a place of the frame. */
function nearestOnLine(camera: Camera, x: number): Vec3 | null {
  let best: { direction: Vec3; off: number } | null = null;
  for (const direction of horizonLine(STRAIGHT, 720)) {
    const p = pixelOf(camera, direction);
    if (!p || p.y < -camera.height || p.y > 2 * camera.height) continue;
    const off = Math.abs(p.x - x);
    if (!best || off < best.off) best = { direction, off };
  }
  return best?.direction ?? null;
}

export function HorizonLine({ width, height }: { width: number; height: number }) {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const glance = useStudio((s) => s.glance);
  const levelling = useStudio((s) => s.levelling);
  const grip = useRef<{ grabbed: Vec3; pivot: Vec3 | null } | null>(null);
  const [dragged, setDragged] = useState<Vec3 | null>(null);
  if (!width) return null;
  const camera = cameraOf({ ...viewAt(take.path, time), ...glance }, width, height);
  const line = lineIn(camera, dragged ?? STRAIGHT);
  const place = (e: React.PointerEvent) => {
    const box = (e.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  };
  const end = () => {
    if (dragged) levelToWorld(store, dragged);
    grip.current = null;
    setDragged(null);
  };
  return (
    <svg width={width} height={height} className="absolute inset-0" aria-label="Horizon: drag it to where it is in the picture">
      <path d={line} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={4} />
      <path d={line} fill="none" stroke={TEAL} strokeWidth={1.8} strokeDasharray={dragged ? '' : '10 5'} data-testid="horizon" />
      {levelling && <path
        d={line}
        fill="none"
        stroke="transparent"
        strokeWidth={18}
        className="pointer-events-auto cursor-ns-resize touch-none"
        data-testid="horizon-grip"
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          const p = place(e);
          const grabbed = directionAt(camera, p.x, p.y);
          if (!grabbed) return;
          // Near an end of the Frame the line turns about the other end; in its middle it moves as a whole.
          const far = p.x < width * ENDS ? width * 0.9 : p.x > width * (1 - ENDS) ? width * 0.1 : null;
          grip.current = { grabbed, pivot: far === null ? null : nearestOnLine(camera, far) };
        }}
        onPointerMove={(e) => {
          const p = place(e);
          const now = directionAt(camera, p.x, p.y);
          store.getState().pointAt(now);
          if (!grip.current || !now) return;
          const { grabbed, pivot } = grip.current;
          setDragged(pivot ? upThrough(pivot, now) : upDragged(grabbed, now));
        }}
        onPointerUp={end}
        onPointerCancel={end}
      />}
    </svg>
  );
} // prettier-ignore

/** The same over the Map: grabbed anywhere, it turns about the two places a quarter turn away. */
export function HorizonOnMap({ width }: { width: number }) {
  const store = useStudioStore();
  const levelling = useStudio((s) => s.levelling);
  const grabbed = useRef<Vec3 | null>(null);
  const [dragged, setDragged] = useState<Vec3 | null>(null);
  const projection = geoEquirectangular().scale(width / (2 * Math.PI)).translate([width / 2, width / 4]).precision(0.3); // prettier-ignore
  const line =
    geoPath(projection)({
      type: 'LineString',
      coordinates: horizonLine(dragged ?? STRAIGHT, 90).map((d) => {
        const { longitude, latitude } = lonLatOf(d);
        return [longitude, latitude];
      }),
    }) ?? '';
  const under = (e: React.PointerEvent): Vec3 => {
    const box = (e.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
    return directionOf(((e.clientX - box.left) / width - 0.5) * 360, (0.5 - (e.clientY - box.top) / (width / 2)) * 180);
  };
  const end = (e: React.PointerEvent) => {
    e.stopPropagation();
    if (dragged) levelToWorld(store, dragged);
    grabbed.current = null;
    setDragged(null);
  };
  return (
    <g>
      <path d={line} fill="none" stroke={TEAL} strokeWidth={1.8} pointerEvents="none" />
      {levelling && (
        <path
          d={line}
          fill="none"
          stroke="transparent"
          strokeWidth={12}
          className="cursor-ns-resize touch-none"
          data-testid="map-horizon-grip"
          onPointerDown={(e) => {
            e.stopPropagation();
            e.currentTarget.setPointerCapture(e.pointerId);
            grabbed.current = under(e);
          }}
          onPointerMove={(e) => {
            if (!grabbed.current) return;
            e.stopPropagation();
            setDragged(upDragged(grabbed.current, under(e)));
          }}
          onPointerUp={end}
          onPointerCancel={end}
        />
      )}
    </g>
  );
}
