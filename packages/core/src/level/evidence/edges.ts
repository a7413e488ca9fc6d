/**
 * The edges of a picture of the whole sphere. The slope of the picture across an edge, as a direction in space, is the normal of
 * the great circle in which the edge lies. It comes from the structure matrix of a window (Bigün and Granlund 1987), slopes
 * taken per angle on the sphere.
 */
import { RADIANS } from '../../geometry/rotation.js';
import { filtered } from './filter.js';

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
/** Pixels from the middle of a window to its edge. */
const WINDOW = 3;
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
 * The edges of a grey picture of width × width/2 bytes: the strongest ones, which tell what is upright, and those that are
 * spread over the picture, so that what is near does not drown what runs along the horizon.
 */
export function edgesOf(grey: Uint8Array, width: number): { strongest: Edges; spread: Edges } {
  const height = width / 2;
  const [xx, xy, yy] = structure(grey, width, height);
  const parts = Array.from({ length: (width / PART) * (height / PART) }, (): Edge[] => []);
  for (let y = WINDOW + 3; y < height - WINDOW - 3; y += 2)
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

/**
 * A pair of filters, to soften and to differentiate, made for each other so that slopes keep their direction however narrow what is
 * seen may be (Farid and Simoncelli, Differentiation of Discrete Multidimensional Signals, 2004). A difference of neighbours sees
 * less of what is narrow: thin things would seem to lean more than they do.
 */
const SOFT = [0.426375, 0.249153, 0.037659] as const;
const SLOPE = [0, 0.276691, 0.109604] as const;

/** For every pixel the products of slopes (xx, xy, yy; east and north), summed over the window around it. */
function structure(grey: Uint8Array, width: number, height: number) {
  const picture = Float32Array.from(grey);
  const east = filtered(filtered(picture, width, 'down', SOFT), width, 'across', SLOPE, true);
  const south = filtered(filtered(picture, width, 'down', SLOPE, true), width, 'across', SOFT);
  const plane = () => new Float32Array(width * height);
  const [xx, xy, yy] = [plane(), plane(), plane()];
  for (let y = 0; y < height; y++) {
    const flat = Math.max(0.05, Math.cos((0.5 - (y + 0.5) / height) * Math.PI));
    for (let at = y * width; at < (y + 1) * width; at++) {
      const gx = (2 * east[at]!) / flat;
      const gy = -2 * south[at]!;
      xx[at] = gx * gx;
      xy[at] = gx * gy;
      yy[at] = gy * gy;
    }
  }
  return [boxed(xx, width, height), boxed(xy, width, height), boxed(yy, width, height)] as const;
}

/** Sums over windows; round the picture's sides they go on at the other. */
function boxed(values: Float32Array, width: number, height: number): Float32Array {
  const across = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let sum = 0;
    for (let i = -WINDOW; i <= WINDOW; i++) sum += values[row + ((i + width) % width)]!;
    for (let x = 0; x < width; x++) {
      across[row + x] = sum;
      const enter = x + WINDOW + 1;
      const leave = x - WINDOW;
      sum +=
        values[row + (enter < width ? enter : enter - width)]! - values[row + (leave < 0 ? leave + width : leave)]!;
    }
  }
  const out = new Float32Array(width * height);
  const column = new Float64Array(width);
  for (let y = 0; y < height + WINDOW; y++) {
    const [enter, leave, to] = [y * width, (y - 2 * WINDOW - 1) * width, (y - WINDOW) * width];
    for (let x = 0; x < width; x++) {
      if (y < height) column[x]! += across[enter + x]!;
      if (leave >= 0) column[x]! -= across[leave + x]!;
      if (to >= 0) out[to + x] = column[x]!;
    }
  }
  return out;
}
