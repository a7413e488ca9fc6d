/** The horizon as the take has it, over the Frame and the Map: it is dragged to where the picture shows it. */
import { geoEquirectangular, geoPath } from 'd3';
import { useRef, useState } from 'react';
import { directionOf, lonLatOf } from '@glimbo/core/geometry/sphere';
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import { projectedLine } from '@glimbo/core/lens/polyline';
import { cameraOf, directionAt, type Camera } from '@glimbo/core/lens/view';
import { horizonAtColumn, horizonLine, upDragged, upThrough } from '@glimbo/core/level/horizon';
import { pathOf } from '~/ui/chart';
import { useStudio, useStudioStore, useView } from '../state/store';
import { levelToWorld } from './useHorizon';

const STRAIGHT: Vec3 = [0, 1, 0];
/** Shares of the Frame's width within which the line is turned about its far end instead of moved. */
const ENDS = 0.36;

const TEAL = '#4fb9c0';

/** The horizon's line in a frame, as an SVG path. */
const lineIn = (camera: Camera, up: Vec3) => pathOf(projectedLine(camera, horizonLine(up, 360)));

/** From where the pointer is to up, as long as the horizon is held. */
type Grip = (now: Vec3) => Vec3;

/** A horizon that can be dragged: how it leans while it is held, and the handlers of what it is held by. */
function useHeldHorizon(
  under: (e: React.PointerEvent) => Vec3 | null,
  gripAt: (grabbed: Vec3, e: React.PointerEvent) => Grip,
) {
  const store = useStudioStore();
  const grip = useRef<Grip | null>(null);
  const [held, setHeld] = useState<Vec3 | null>(null);
  const end = (e: React.PointerEvent) => {
    e.stopPropagation();
    if (held) levelToWorld(store, held);
    grip.current = null;
    setHeld(null);
  };
  const handlers = {
    onPointerDown: (e: React.PointerEvent) => {
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      const grabbed = under(e);
      grip.current = grabbed && gripAt(grabbed, e);
    },
    onPointerMove: (e: React.PointerEvent) => {
      const now = under(e);
      store.getState().pointAt(now);
      if (!grip.current || !now) return;
      e.stopPropagation();
      setHeld(grip.current(now));
    },
    onPointerUp: end,
    onPointerCancel: end,
  };
  return { held, handlers };
}

/** Where the pointer is in the drawing, in its pixels. */
const placeIn = (e: React.PointerEvent) => {
  const box = (e.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  return { x: e.clientX - box.left, y: e.clientY - box.top };
};

export function HorizonLine({ width, height }: { width: number; height: number }) {
  const view = useView();
  const levelling = useStudio((s) => s.levelling);
  const camera = cameraOf(view, Math.max(1, width), Math.max(1, height));
  const { held, handlers } = useHeldHorizon(
    (e) => {
      const { x, y } = placeIn(e);
      return directionAt(camera, x, y);
    },
    (grabbed, e) => {
      // Near an end of the Frame the line turns about the other end; in its middle it moves as a whole.
      const { x } = placeIn(e);
      const far = x < width * ENDS ? width * 0.9 : x > width * (1 - ENDS) ? width * 0.1 : null;
      const pivot = far === null ? null : horizonAtColumn(camera, far);
      return (now) => (pivot ? upThrough(pivot, now) : upDragged(grabbed, now));
    },
  );
  if (!width) return null;
  const line = lineIn(camera, held ?? STRAIGHT);
  return (
    <svg
      width={width}
      height={height}
      className="absolute inset-0"
      aria-label="Horizon: drag it to where it is in the picture"
    >
      <path d={line} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={4} />
      <path
        d={line}
        fill="none"
        stroke={TEAL}
        strokeWidth={1.8}
        strokeDasharray={held ? '' : '10 5'}
        data-testid="horizon"
      />
      {levelling && (
        <path
          d={line}
          fill="none"
          stroke="transparent"
          strokeWidth={18}
          className="pointer-events-auto cursor-ns-resize touch-none"
          data-testid="horizon-grip"
          {...handlers}
        />
      )}
    </svg>
  );
}

/** The same over the Map: grabbed anywhere, it turns about the two places a quarter turn away. */
export function HorizonOnMap({ width }: { width: number }) {
  const levelling = useStudio((s) => s.levelling);
  const { held, handlers } = useHeldHorizon(
    (e) => {
      const { x, y } = placeIn(e);
      return directionOf((x / width - 0.5) * 360, (0.5 - y / (width / 2)) * 180);
    },
    (grabbed) => (now) => upDragged(grabbed, now),
  );
  const projection = geoEquirectangular()
    .scale(width / (2 * Math.PI))
    .translate([width / 2, width / 4])
    .precision(0.3);
  const coordinates = horizonLine(held ?? STRAIGHT, 90).map((d) => {
    const { longitude, latitude } = lonLatOf(d);
    return [longitude, latitude];
  });
  const line = geoPath(projection)({ type: 'LineString', coordinates }) ?? '';
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
          {...handlers}
        />
      )}
    </g>
  );
}
