/**
 * The edges of a picture of the whole sphere. The slope of the picture across an edge, as a direction in space, is the normal of
 * the great circle in which the edge lies. It comes from the structure matrix of a window (Bigün and Granlund 1987), slopes
 * taken per angle on the sphere.
 */
import { RADIANS } from '../../geometry/rotation.js';
import type { Seen } from './seen.js';

export interface Edges {
  count: number;
  /** Of each edge the normal of its great circle, and where it lies: three numbers each, in the picture's axes. */
  normals: Float64Array;
  places: Float64Array;
  /** How much each counts: its area on the sphere, less where it is faint. */
  weights: Float64Array;
}

/** How many of the strongest edges of the whole picture there are. */
const STRONGEST = 5000;
/** Pixels of the parts of the picture, and how many of the strongest edges of each there are. */
const PART = 32;
const OF_PART = 20;
/** Pixels next to the poles where there are none. */
const POLE = 6;
/** How much of a window's slopes must point one way. */
const COHERENT = 0.75;
/** Squared grey levels, summed over a window, from which on it shows an edge. */
const STRONG = 4000;
/** From this share of the strongest edges on, stronger ones count no more. */
const EVEN = 0.3;

interface Edge {
  at: number;
  strength: number;
  /** Radians in the picture. */
  angle: number;
}

/**
 * The edges of a picture: the strongest ones, which tell what is upright, and those that are
 * spread over the picture, so that what is near does not drown what runs along the horizon.
 */
export function edgesOf({ width, xx, xy, yy }: Seen): { strongest: Edges; spread: Edges } {
  const height = width / 2;
  const parts = Array.from({ length: (width / PART) * (height / PART) }, (): Edge[] => []);
  for (let y = POLE; y < height - POLE; y += 2)
    for (let x = 0; x < width; x += 2) {
      const at = y * width + x;
      const a = xx[at]!;
      const b = xy[at]!;
      const c = yy[at]!;
      if (a + c < STRONG) continue;
      const clear = Math.sqrt((a - c) ** 2 + 4 * b * b);
      if (clear < COHERENT * (a + c)) continue;
      const part = parts[Math.floor(y / PART) * (width / PART) + Math.floor(x / PART)]!;
      part.push({ at, strength: Math.sqrt(clear), angle: 0.5 * Math.atan2(2 * b, a - c) });
    }
  const strongestFirst = (edges: Edge[]) => edges.sort((a, b) => b.strength - a.strength);
  const spread = parts.flatMap((part) => strongestFirst(part).slice(0, OF_PART));
  return {
    strongest: inSpace(strongestFirst(parts.flat()).slice(0, STRONGEST), width),
    spread: inSpace(strongestFirst(spread), width),
  };
}

/** Edges of a picture as directions. */
function inSpace(found: Edge[], width: number): Edges {
  const count = found.length;
  const even = found[Math.floor(count * EVEN)]?.strength ?? 1;
  const edges: Edges = {
    count,
    normals: new Float64Array(3 * count),
    places: new Float64Array(3 * count),
    weights: new Float64Array(count),
  };
  found.forEach(({ at, strength, angle }, i) => {
    const longitude = (((at % width) + 0.5) / width - 0.5) * 360 * RADIANS;
    const latitude = (0.5 - ((Math.floor(at / width) + 0.5) / width) * 2) * 180 * RADIANS;
    // East and north shares of the slope, turned into space.
    const [east, north] = [Math.cos(angle), Math.sin(angle)];
    const [sin, cos] = [Math.sin(longitude), Math.cos(longitude)];
    const [high, flat] = [Math.sin(latitude), Math.cos(latitude)];
    edges.normals.set([east * cos - north * high * sin, north * flat, -east * sin - north * high * cos], 3 * i);
    edges.places.set([flat * sin, high, flat * cos], 3 * i);
    edges.weights[i] = flat * Math.sqrt(Math.min(even, strength) / even);
  });
  return edges;
}
