/** The equirectangular picture: directions, longitude and latitude, and picture coordinates. */
import { DEGREES, RADIANS, type Vec3 } from './rotation.js';

/** Unit direction of a longitude (degrees, positive to the right) and latitude (degrees, positive up). */
export function directionOf(longitude: number, latitude: number): Vec3 {
  const c = Math.cos(latitude * RADIANS);
  return [c * Math.sin(longitude * RADIANS), Math.sin(latitude * RADIANS), c * Math.cos(longitude * RADIANS)];
}

/** Longitude (−180…180) and latitude (−90…90) in degrees of a unit direction. */
export function lonLatOf(d: Vec3): { longitude: number; latitude: number } {
  return {
    longitude: Math.atan2(d[0], d[2]) * DEGREES,
    latitude: Math.atan2(d[1], Math.hypot(d[0], d[2])) * DEGREES,
  };
}

/**
 * Continuous coordinates of a direction in an equirectangular picture of width × height pixels:
 * u = (λ/2π + ½)·W, v = (½ − φ/π)·H; pixel i covers [i, i + 1).
 */
export function equirectangularOf(d: Vec3, width: number, height: number): { u: number; v: number } {
  const { longitude, latitude } = lonLatOf(d);
  return { u: (longitude / 360 + 0.5) * width, v: (0.5 - latitude / 180) * height };
}
