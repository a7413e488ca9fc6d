/** The map from what is drawn to the source: exact at a pixel, and on the grid. */

import { MOST_LEAN, SHRINK } from '../../core/src/lens/filter';
import { atan2 } from './angle';
import { field } from './fields';
import {
  BEND, BOTTOM, CAP, CAP_FEATHER, CENTRE_X, CENTRE_Y, EDGE, FEATHER, FLAT, FOCAL, FROM, HEIGHT, K1, K2, LENS_X,
  LENS_Y, LIMB, MEET, MEET_BOTH, MEET_NONE, NODE_BYTES, OTHER_AXIS, OUT_HEIGHT, OUT_WIDTH, OVER, PART, ROTATION,
  SCALE, SEAM, SEAM_COUNT, SOFT, SOURCE, SOURCE_FLAT, SOURCE_LENS, SOURCE_PART, SOURCE_SECTOR, TILE, TO, TOP, TO_LENS,
  WIDTH,
} from './record';

/** log2 of a positive number to 0.01. */
@inline
function roughLog2(x: f64): f32 {
  const bits = reinterpret<i32>(<f32>x);
  const exponent = <f32>((bits >> 23) - 128);
  const m = reinterpret<f32>((bits & 0x7fffff) | 0x3f800000);
  return exponent + (<f32>-0.33333333 * m + <f32>2) * m - <f32>0.66666667 + <f32>0.0;
}

/** The exact map at a pixel, written as a node. */
export function mapPixel(camera: usize, px: f64, py: f64, node: usize): void {
  if (field(camera, SOURCE) == SOURCE_FLAT) return mapFlat(camera, px, py, node);
  const scale = field(camera, SCALE);
  let cover: f32 = 1;
  let cx: f64, cy: f64, cz: f64;
  // Angle on the sphere that one pixel covers, along the radius and across it; the larger decides. A ball's rim, where the one
  // is many times the other, is drawn by several samples along the radius: there `lean` says how many times.
  let angle: f64;
  let lean: f64 = 1;
  if (field(camera, OUT_WIDTH) > 0) {
    const longitude = (px / field(camera, OUT_WIDTH) - 0.5) * 6.283185307179586;
    const latitude = (0.5 - py / field(camera, OUT_HEIGHT)) * 3.141592653589793;
    const c = Math.cos(latitude);
    cx = c * Math.sin(longitude);
    cy = Math.sin(latitude);
    cz = c * Math.cos(longitude);
    angle = 3.141592653589793 / field(camera, OUT_HEIGHT);
  } else {
    const bend = field(camera, BEND);
    let x = (px - field(camera, CENTRE_X)) * scale;
    let y = (field(camera, CENTRE_Y) - py) * scale;
    const limb = field(camera, LIMB);
    if (limb > 0) {
      const r = Math.sqrt(x * x + y * y);
      cover = <f32>min(1.0, max(0.0, (limb - r) / scale + 0.5));
      const edge = limb * 0.999999;
      if (r > edge) {
        x *= edge / r;
        y *= edge / r;
      }
    }
    const q2 = (x * x + y * y) / ((1 + bend) * (1 + bend));
    cz = (-q2 * bend + Math.sqrt(max(0.0, 1 + q2 * (1 - bend * bend)))) / (1 + q2);
    const f = (bend + cz) / (1 + bend);
    cx = x * f;
    cy = y * f;
    const across = scale * f;
    angle = max(across, (across * (bend + cz)) / max(1 + bend * cz, 1e-4));
    if (bend > 1) {
      lean = min(<f64>MOST_LEAN, angle / across);
      angle /= lean;
    }
  }
  const dx = field(camera, ROTATION) * cx + field(camera, ROTATION + 1) * cy + field(camera, ROTATION + 2) * cz;
  const dy = field(camera, ROTATION + 3) * cx + field(camera, ROTATION + 4) * cy + field(camera, ROTATION + 5) * cz;
  const dz = field(camera, ROTATION + 6) * cx + field(camera, ROTATION + 7) * cy + field(camera, ROTATION + 8) * cz;
  if (field(camera, SOURCE) == SOURCE_SECTOR) return store<f32>(node, weightInSector(camera, dx, dy, dz), 16);
  store<f32>(node, 1, 16);
  store<f32>(node, <f32>lean, 20);
  if (field(camera, SOURCE) == SOURCE_LENS) return mapLens(camera, dx, dy, dz, angle, cover, node);
  const width = field(camera, WIDTH);
  const height = field(camera, HEIGHT);
  let u = (atan2(dx, dz) * 0.15915494309189535 + 0.5) * width;
  let v = (0.5 - atan2(dy, Math.sqrt(dx * dx + dz * dz)) * 0.3183098861837907) * height;
  if (field(camera, SOURCE) == SOURCE_PART) {
    u -= field(camera, PART);
    v -= field(camera, PART + 1);
    cover *= inside(u, v, field(camera, PART + 2), field(camera, PART + 3));
  }
  store<f32>(node, <f32>u);
  store<f32>(node, <f32>v, 4);
  store<f32>(node, roughLog2((angle * max(width * 0.15915494309189535, height * 0.3183098861837907)) / SHRINK), 8);
  store<f32>(node, cover, 12);
}

/** The map into a picture that is flat already: straight. */
function mapFlat(camera: usize, px: f64, py: f64, node: usize): void {
  const across = field(camera, FLAT + 1);
  const down = field(camera, FLAT + 3);
  const u = field(camera, FLAT) + px * across;
  const v = field(camera, FLAT + 2) + py * down;
  store<f32>(node, <f32>u);
  store<f32>(node, <f32>v, 4);
  store<f32>(node, roughLog2(max(across, down) / SHRINK), 8);
  store<f32>(node, inside(u, v, field(camera, WIDTH), field(camera, HEIGHT)), 12);
  store<f32>(node, 1, 16);
  store<f32>(node, 1, 20);
}

/** The angle above a plane through the centre, by its unit normal. */
@inline
function above(camera: usize, normal: i32, dx: f64, dy: f64, dz: f64): f64 {
  const s = field(camera, normal) * dx + field(camera, normal + 1) * dy + field(camera, normal + 2) * dz;
  return atan2(s, Math.sqrt(max(0.0, 1 - s * s)));
}

/** Weight of what is kept of a sector: ½ on its edge, growing by one across the feather, not kept to 0…1 (core's weightIn). */
function weightInSector(camera: usize, dx: f64, dy: f64, dz: f64): f32 {
  const latitude = atan2(dy, Math.sqrt(dx * dx + dz * dz));
  let depth = min(latitude - field(camera, BOTTOM), field(camera, TOP) - latitude);
  if (field(camera, MEET) != MEET_NONE) {
    const from = above(camera, FROM, dx, dy, dz);
    const to = above(camera, TO, dx, dy, dz);
    depth = min(depth, field(camera, MEET) == MEET_BOTH ? min(from, to) : max(from, to));
  }
  return <f32>(depth / field(camera, SOFT) + 0.5);
}

/** 1 inside a picture of width × height, 0 outside, a pixel's slope between. */
@inline
function inside(u: f64, v: f64, width: f64, height: f64): f32 {
  const depth = min(min(u, width - u), min(v, height - v));
  return <f32>min(1.0, max(0.0, depth + 0.5));
}

/** The map into a lens's circle, for a direction of the rig. */
function mapLens(camera: usize, dx: f64, dy: f64, dz: f64, angle: f64, cover: f32, node: usize): void {
  const x = field(camera, TO_LENS) * dx + field(camera, TO_LENS + 1) * dy + field(camera, TO_LENS + 2) * dz;
  const y = field(camera, TO_LENS + 3) * dx + field(camera, TO_LENS + 4) * dy + field(camera, TO_LENS + 5) * dz;
  const z = field(camera, TO_LENS + 6) * dx + field(camera, TO_LENS + 7) * dy + field(camera, TO_LENS + 8) * dz;
  const across = Math.sqrt(x * x + y * y);
  const theta = atan2(across, z);
  const edge = field(camera, EDGE);
  const focal = field(camera, FOCAL);
  // What lies outside the circle is drawn from its border; it is covered, or background.
  const t = min(theta, edge);
  const t2 = t * t;
  const r = focal * t * (1 + t2 * (field(camera, K1) + t2 * field(camera, K2)));
  const k = across > 1e-12 ? r / across : 0;
  store<f32>(node, <f32>(field(camera, LENS_X) + x * k));
  store<f32>(node, <f32>(field(camera, LENS_Y) - y * k), 4);
  store<f32>(node, roughLog2((angle * focal * (1 + t2 * (3 * field(camera, K1) + 5 * t2 * field(camera, K2)))) / SHRINK), 8);
  store<f32>(node, cover * <f32>min(1.0, max(0.0, (edge - theta) * focal + 0.5)), 12);
  if (field(camera, CAP) > 0) store<f32>(node, <f32>((field(camera, CAP) - theta) / field(camera, CAP_FEATHER) + 0.5), 16);
  if (field(camera, SEAM_COUNT) > 0) store<f32>(node, weightOf(camera, dx, dy, dz, theta), 16);
}

/**
 * Weight of the upper lens: ½ on the seam, growing by one across the feather, not kept to 0…1. The seam runs where
 * the angles to the two axes differ by twice its table's value for the azimuth about the rig's z axis.
 */
@inline
function weightOf(camera: usize, dx: f64, dy: f64, dz: f64, theta: f64): f32 {
  const ox = field(camera, OTHER_AXIS);
  const oy = field(camera, OTHER_AXIS + 1);
  const oz = field(camera, OTHER_AXIS + 2);
  const cross = Math.sqrt((dy * oz - dz * oy) ** 2 + (dz * ox - dx * oz) ** 2 + (dx * oy - dy * ox) ** 2);
  const other = atan2(cross, dx * ox + dy * oy + dz * oz);
  const count = <i32>field(camera, SEAM_COUNT);
  const place = (atan2(dx, dy) * 0.15915494309189535 + 1) * <f64>count;
  const whole = Math.floor(place);
  const f = place - whole;
  const i = <i32>whole % count;
  const table = <usize>field(camera, SEAM);
  const seam = <f64>load<f32>(table + (<usize>i << 2)) * (1 - f) + <f64>load<f32>(table + (<usize>((i + 1) % count) << 2)) * f;
  const towards = field(camera, OVER) > 0 ? (other - theta) * 0.5 : (theta - other) * 0.5;
  return <f32>((towards - seam) / field(camera, FEATHER) + 0.5);
}

/** Computes the nodes of tile rows `row` to `row + rows`, with one more node on every side. */
export function mapGrid(camera: usize, grid: usize, columns: i32, row: i32, rows: i32): void {
  let node = grid;
  for (let j = -1; j <= rows + 1; j++)
    for (let i = -1; i <= columns + 1; i++) {
      mapPixel(camera, <f64>(i * TILE) + 0.5, <f64>((row + j) * TILE) + 0.5, node);
      node += NODE_BYTES;
    }
}
