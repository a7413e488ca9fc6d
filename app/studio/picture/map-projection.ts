/** The Map's projection: equirectangular, heading across and tilt up. */
import { geoEquirectangular, geoPath, type GeoPath, type GeoProjection } from 'd3';
import { useMemo } from 'react';
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import { mapPlace } from '~/ui/chart';

export interface MapDrawing {
  width: number;
  height: number;
  /** Where a direction of the world lies on the Map, in pixels. */
  placeOf: (direction: Vec3) => readonly [number, number];
  /** The way through directions of the world, as the data of an SVG path. */
  lineOf: (directions: readonly Vec3[]) => string;
  draw: GeoPath;
}

const drawing = (projection: GeoProjection, width: number): MapDrawing => {
  const draw = geoPath(projection);
  return {
    width,
    height: width / 2,
    placeOf: (direction) => projection(mapPlace(direction)) ?? [0, 0],
    lineOf: (directions) => draw({ type: 'LineString', coordinates: directions.map(mapPlace) }) ?? '',
    draw,
  };
};

/** How a Map of a width in pixels is drawn; the same one as long as the width is. */
export const useMapDrawing = (width: number): MapDrawing =>
  useMemo(() => {
    const projection = geoEquirectangular()
      .scale(width / (2 * Math.PI))
      .translate([width / 2, width / 4])
      .precision(0.3);
    return drawing(projection, width);
  }, [width]);
