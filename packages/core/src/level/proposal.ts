/**
 * Where up is, from the picture alone. The slope of the picture across an edge, as a direction in space, is the normal of
 * the great circle in which the edge lies; upright edges lie in great circles through the zenith, so their normals are at
 * right angles to up. Up is the direction most edges agree on, found by reweighted least squares from a first guess.
 */
import { dot, RADIANS, unit, type Vec3, vec3 } from '../geometry/rotation.js';
import { directionOf } from '../geometry/sphere.js';
import { solveSymmetric } from '../geometry/solve.js';

/** Farthest that up may be from the guess, as the cosine of the angle: 35°. */
const NEAREST = 0.82;
/** Sines of the heights between which edges are looked at: on the ground lines run every way. */
const HIGHEST = 0.75;
const LOWEST = -0.5;
/** Edges that are looked at: the strongest ones. */
const EDGES = 5000;
/** Sine of the angle off upright that still counts, from the first round to the last. */
const SPREADS = [0.3, 0.2, 0.14, 0.1, 0.07, 0.05, 0.04, 0.03, 0.02, 0.015, 0.015, 0.015];

/** Up in the picture's axes near a guess, and how much the edges agree on it, 0…1. `grey` has width × width/2 bytes. */
export function proposeUp(grey: Uint8Array, width: number, guess: Vec3): { up: Vec3; confidence: number } {
  const { normals, weights } = edges(grey, width, guess);
  let up = guess;
  for (const spread of SPREADS) {
    const m = new Float64Array(9);
    for (let i = 0; i < weights.length; i++) {
      const n = normals.subarray(3 * i, 3 * i + 3);
      const off = (n[0]! * up[0] + n[1]! * up[1] + n[2]! * up[2]) / spread;
      const w = weights[i]! / (1 + off * off) ** 2;
      for (let a = 0; a < 3; a++) for (let b = 0; b < 3; b++) m[a * 3 + b]! += w * n[a]! * n[b]!;
    }
    // The direction least along any normal; the trace keeps it defined when there are hardly any.
    const floor = 1e-6 * (m[0]! + m[4]! + m[8]!) + 1e-12;
    for (let i = 0; i < 3; i++) m[i * 4]! += floor;
    let next: Vec3 = up;
    for (let k = 0; k < 6; k++) next = unit(vec3(solveSymmetric(m, next, 3) ?? next));
    if (dot(next, up) < 0) next = [-next[0], -next[1], -next[2]];
    if (dot(next, guess) < NEAREST) return { up: guess, confidence: 0 };
    up = next;
  }
  return { up, confidence: agreement(normals, weights, up) };
}

/** How much more edges are upright than lean by a little: 0 for edges in any direction. */
function agreement(normals: Float64Array, weights: Float64Array, up: Vec3): number {
  let [upright, leaning, total] = [0, 0, 0];
  for (let i = 0; i < weights.length; i++) {
    const off = Math.abs(normals[3 * i]! * up[0] + normals[3 * i + 1]! * up[1] + normals[3 * i + 2]! * up[2]);
    total += weights[i]!;
    if (off < 0.03) upright += weights[i]!;
    else if (off > 0.1 && off < 0.16) leaning += weights[i]! / 2;
  }
  const clear = total > 0 ? (upright - leaning) / (upright + leaning + 0.02 * total) : 0;
  return Math.max(0, Math.min(1, clear * Math.min(1, weights.length / 400)));
}

/** Pixels from the middle of a window to its edge: the slope of a single pixel knows only the picture's own axes. */
const WINDOW = 4;
/** How much of a window's slopes must point one way. */
const COHERENT = 0.75;
/** Squared grey levels, summed over a window, from which on it shows an edge. */
const STRONG = 9000;

/**
 * The strongest edges round the guess's horizon: normals of their great circles, and weights. The direction of an edge
 * comes from the structure matrix of its window (Bigün and Granlund 1987), slopes taken per angle on the sphere.
 */
function edges(grey: Uint8Array, width: number, guess: Vec3) {
  const height = width / 2;
  const sums = structure(grey, width, height);
  const found: { strength: number; normal: Vec3 }[] = [];
  for (let y = WINDOW + 2; y < height - WINDOW - 2; y += 2) {
    const latitude = (0.5 - (y + 0.5) / height) * 180;
    for (let x = 0; x < width; x += 2) {
      const p = 3 * (y * width + x);
      const [xx, xy, yy] = [sums[p]!, sums[p + 1]!, sums[p + 2]!];
      const clear = Math.hypot(xx - yy, 2 * xy);
      if (xx + yy < STRONG || clear < COHERENT * (xx + yy)) continue;
      const longitude = ((x + 0.5) / width - 0.5) * 360;
      const above = dot(directionOf(longitude, latitude), guess);
      if (above > HIGHEST || above < LOWEST) continue;
      // East and north shares of the slope, turned into space.
      const angle = 0.5 * Math.atan2(2 * xy, xx - yy);
      const [east, north] = [Math.cos(angle), Math.sin(angle)];
      const l = longitude * RADIANS;
      const s = Math.sin(latitude * RADIANS);
      const normal: Vec3 = [
        east * Math.cos(l) - north * s * Math.sin(l),
        north * Math.cos(latitude * RADIANS),
        -east * Math.sin(l) - north * s * Math.cos(l),
      ];
      if (Math.abs(dot(normal, guess)) < 0.6) found.push({ strength: Math.sqrt(clear), normal });
    }
  }
  found.sort((a, b) => b.strength - a.strength);
  const kept = found.slice(0, EDGES);
  return {
    normals: Float64Array.from(kept.flatMap((e) => [...e.normal])),
    weights: Float64Array.from(kept.map((e) => Math.min(600, e.strength))),
  };
}

/** For every pixel the products of slopes (xx, xy, yy), summed over the window around it. */
function structure(grey: Uint8Array, width: number, height: number): Float32Array {
  const row = 3 * width;
  const margin = 3 * (WINDOW + 1);
  // A row of products with its ends repeated on the other side, so that sums run on round the picture.
  const line = new Float32Array(row + 2 * margin);
  const across = new Float32Array(row * height);
  for (let y = 1; y < height - 1; y++) {
    const c = Math.max(0.05, Math.cos((0.5 - (y + 0.5) / height) * Math.PI));
    const start = y * width;
    for (let x = 0, q = margin; x < width; x++, q += 3) {
      const gx = (grey[start + (x + 1 < width ? x + 1 : 0)]! - grey[start + (x > 0 ? x - 1 : width - 1)]!) / c;
      const gy = grey[start + x - width]! - grey[start + x + width]!;
      line[q] = gx * gx;
      line[q + 1] = gx * gy;
      line[q + 2] = gy * gy;
    }
    line.copyWithin(0, row, row + margin);
    line.copyWithin(row + margin, margin, 2 * margin);
    for (let k = 0; k < 3; k++) {
      let sum = 0;
      for (let q = k + 3; q < k + 3 + 6 * WINDOW; q += 3) sum += line[q]!;
      for (let x = k, q = k + 3 + 6 * WINDOW; x < row; x += 3, q += 3) {
        sum += line[q]!;
        across[y * row + x] = sum;
        sum -= line[q - 6 * WINDOW]!;
      }
    }
  }
  const sums = new Float32Array(row * height);
  const column = new Float64Array(row);
  for (let y = 0; y < height + WINDOW; y++) {
    const [enter, leave, out] = [y * row, (y - 2 * WINDOW - 1) * row, (y - WINDOW) * row];
    for (let x = 0; x < row; x++) {
      if (y < height) column[x]! += across[enter + x]!;
      if (leave >= 0) column[x]! -= across[leave + x]!;
      if (out >= 0) sums[out + x] = column[x]!;
    }
  }
  return sums;
}

/**
 * Where the sky is: the direction in which the picture is bright and smooth, of a length of 0 (nowhere more than
 * elsewhere) to about 1.
 */
export function skyward(grey: Uint8Array, width: number): Vec3 {
  const height = width / 2;
  const cell = Math.max(4, width / 64);
  const sum = [0, 0, 0];
  let total = 0;
  const means: { direction: Vec3; area: number; bright: number; rough: number }[] = [];
  for (let top = 0; top < height; top += cell)
    for (let left = 0; left < width; left += cell) {
      let [bright, rough] = [0, 0];
      for (let y = top; y < top + cell; y++)
        for (let x = left; x < left + cell; x++) {
          const p = y * width + x;
          bright += grey[p]!;
          if (x + 1 < left + cell) rough += Math.abs(grey[p + 1]! - grey[p]!);
          if (y + 1 < top + cell) rough += Math.abs(grey[p + width]! - grey[p]!);
        }
      const latitude = (0.5 - (top + cell / 2) / height) * 180;
      means.push({
        direction: directionOf(((left + cell / 2) / width - 0.5) * 360, latitude),
        area: Math.cos((latitude * Math.PI) / 180),
        bright: bright / cell ** 2,
        rough: rough / cell ** 2,
      });
    }
  const area = means.reduce((a, m) => a + m.area, 0);
  const average = means.reduce((a, m) => a + m.bright * m.area, 0) / area;
  for (const { direction, area: a, bright, rough } of means) {
    const sky = (bright - average) / 64 / (1 + rough / 4);
    direction.forEach((v, k) => (sum[k]! += v * a * sky));
    total += a * Math.abs(sky);
  }
  return total > 0 ? vec3(sum.map((v) => (2 * v) / total)) : [0, 0, 0];
}
