/** One tile of 8 × 8 pixels whose map is smooth: interpolated between its corner nodes. */

import { MIXED } from '../../core/src/lens/filter';
import { ALONG, denseLevel, heightOf, placeOf, widthOf } from './dense';
import { addRows, settleRows } from './mix';
import { SCRATCH_SUMS, TILE } from './record';
import { sample, sampleAnywhere, settle } from './sample';

/** Difference of two longitudes in pixels, the short way round. */
@inline
export function turn(a: f32, b: f32, width: f32): f32 {
  let d = a - b;
  if (d > width * 0.5) d -= width;
  else if (d < width * -0.5) d += width;
  return d;
}

/** One interpolated tile from one level: 8 × 8 bytes at `out`. The corners' u are unwrapped already. */
function drawTile(
  level: usize, levels: usize, u0: f32, v0: f32, u1: f32, v1: f32, u2: f32, v2: f32, u3: f32, v3: f32, out: usize,
  stride: i32, weights: usize, scratch: usize,
): void {
  const base = <usize>load<i32>(level);
  const width = load<i32>(level, 4);
  const height = load<i32>(level, 8);
  const kx = (<f32>width / <f32>load<i32>(levels, 4)) * <f32>65536;
  const ky = (<f32>height / <f32>load<i32>(levels, 8)) * <f32>65536;
  const half: f32 = 32768;
  // Left and right edges of the tile, walked down row by row, in 16.16.
  let xl = <i32>(u0 * kx - half);
  let yl = <i32>(v0 * ky - half);
  let xr = <i32>(u1 * kx - half);
  let yr = <i32>(v1 * ky - half);
  const dxl = (<i32>(u2 * kx - half) - xl) >> 3;
  const dyl = (<i32>(v2 * ky - half) - yl) >> 3;
  const dxr = (<i32>(u3 * kx - half) - xr) >> 3;
  const dyr = (<i32>(v3 * ky - half) - yr) >> 3;
  const x0 = min(min(xl, xr), min(xl + (dxl << 3), xr + (dxr << 3))) >> 16;
  const x1 = max(max(xl, xr), max(xl + (dxl << 3), xr + (dxr << 3))) >> 16;
  const y0 = min(min(yl, yr), min(yl + (dyl << 3), yr + (dyr << 3))) >> 16;
  const y1 = max(max(yl, yr), max(yl + (dyl << 3), yr + (dyr << 3))) >> 16;
  const inside = x0 >= 1 && x1 < width - 3 && y0 >= 1 && y1 < height - 3;
  const corner = base - <usize>width - 1;
  for (let k = 0; k < TILE; k++) {
    const dx = (xr - xl) >> 3;
    const dy = (yr - yl) >> 3;
    let x = xl;
    let y = yl;
    if (inside) {
      const a = sample(corner, width, x, y, weights);
      const b = sample(corner, width, x + dx, y + dy, weights);
      const c = sample(corner, width, x + 2 * dx, y + 2 * dy, weights);
      const d = sample(corner, width, x + 3 * dx, y + 3 * dy, weights);
      x += 4 * dx;
      y += 4 * dy;
      const e = sample(corner, width, x, y, weights);
      const f = sample(corner, width, x + dx, y + dy, weights);
      const g = sample(corner, width, x + 2 * dx, y + 2 * dy, weights);
      const h = sample(corner, width, x + 3 * dx, y + 3 * dy, weights);
      const eight = i16x8.narrow_i32x4_s(settle(a, b, c, d), settle(e, f, g, h));
      v128.store_lane<u64>(out, i8x16.narrow_i16x8_u(eight, eight), 0);
    } else {
      for (let i = 0; i < TILE; i++) {
        store<u8>(out + <usize>i, <u8>sampleAnywhere(level, x, y, weights, scratch));
        x += dx;
        y += dy;
      }
    }
    out += <usize>stride;
    xl += dxl;
    yl += dyl;
    xr += dxr;
    yr += dyr;
  }
}

/** Draws one whole tile whose map is smooth at `out`, from the mip levels that suit its corner nodes a, b, c, d. */
export function drawSmooth(
  levels: usize, count: i32, a: usize, b: usize, c: usize, d: usize, u1: f32, u2: f32, u3: f32, detail: f32,
  out: usize, stride: i32, weights: usize, scratch: usize,
): void {
  const u0 = load<f32>(a);
  const v0 = load<f32>(a, 4);
  const v1 = load<f32>(b, 4);
  const v2 = load<f32>(c, 4);
  const v3 = load<f32>(d, 4);
  const lower = <i32>detail;
  const d0 = load<f32>(a, 8);
  const d1 = load<f32>(b, 8);
  const d2 = load<f32>(c, 8);
  const d3 = load<f32>(d, 8);
  const most = min(<f32>(count - 1), max(max(d0, d1), max(d2, d3)));
  const least = max(<f32>0, min(min(d0, d1), min(d2, d3)));
  const one = most <= <f32>lower + <f32>MIXED ? lower : least >= <f32>lower + <f32>(1 - MIXED) ? min(count - 1, lower + 1) : -1;
  if (one >= 0) {
    drawTile(levels + (<usize>one << 4), levels, u0, v0, u1, v1, u2, v2, u3, v3, out, stride, weights, scratch);
    return;
  }
  const fine = scratch + 64;
  const coarse = scratch + 128;
  drawTile(levels + (<usize>lower << 4), levels, u0, v0, u1, v1, u2, v2, u3, v3, fine, TILE, weights, scratch);
  drawTile(levels + (<usize>min(count - 1, lower + 1) << 4), levels, u0, v0, u1, v1, u2, v2, u3, v3, coarse, TILE, weights, scratch);
  for (let y = 0; y < TILE; y++) {
    const fy = <f32>y * <f32>0.125;
    const dl = d0 + (d2 - d0) * fy;
    const dr = d1 + (d3 - d1) * fy;
    for (let x = 0; x < TILE; x++) {
      const here = dl + (dr - dl) * <f32>x * <f32>0.125;
      const blend = max(<f32>0, min(<f32>1, (here - <f32>lower) * <f32>2 - <f32>0.5));
      const at = <usize>(y * TILE + x);
      const p = <f32>load<u8>(fine + at);
      store<u8>(out + <usize>(y * stride + x), <u8>(p + (<f32>load<u8>(coarse + at) - p) * blend + <f32>0.5));
    }
  }
}

/** Draws one whole tile as the mean of several samples a pixel, spread over what a pixel covers. */
export function drawDense(
  levels: usize, count: i32, a: usize, b: usize, c: usize, d: usize, u1: f32, u2: f32, u3: f32, out: usize,
  weights: usize, scratch: usize,
): void {
  const high = heightOf((load<f32>(a, 8) + load<f32>(b, 8) + load<f32>(c, 8) + load<f32>(d, 8)) * <f32>0.25);
  const wide = widthOf(high, levels, (load<f32>(a, 4) + load<f32>(d, 4)) * <f32>0.5);
  const level = levels + (<usize>denseLevel(high, count) << 4);
  const one = scratch + 64;
  const sums = scratch + <usize>SCRATCH_SUMS;
  memory.fill(sums, 0, 2 * TILE * TILE);
  for (let j = 0; j < ALONG; j++) {
    const dv = placeOf(j, high);
    for (let i = 0; i < ALONG; i++) {
      const du = placeOf(i, wide);
      drawTile(
        level, levels, load<f32>(a) + du, load<f32>(a, 4) + dv, u1 + du, load<f32>(b, 4) + dv,
        u2 + du, load<f32>(c, 4) + dv, u3 + du, load<f32>(d, 4) + dv, one, TILE, weights, scratch,
      );
      addRows(one, sums, TILE * TILE, 256 / (ALONG * ALONG));
    }
  }
  settleRows(sums, out, TILE * TILE);
}

/** Lays the part of a tile that lies in the frame over what is at `target`, with the weights of its corner nodes. */
export function layTile(
  tile: usize, a: usize, b: usize, c: usize, d: usize, over: bool, target: usize, stride: i32, wide: i32, lines: i32,
): void {
  const w0 = load<f32>(a, 16);
  const w1 = load<f32>(b, 16);
  const w2 = load<f32>(c, 16);
  const w3 = load<f32>(d, 16);
  const whole = !over || min(min(w0, w1), min(w2, w3)) >= 1;
  for (let y = 0; y < lines; y++) {
    const fy = <f32>y * <f32>0.125;
    const left = w0 + (w2 - w0) * fy;
    const right = w1 + (w3 - w1) * fy;
    for (let x = 0; x < wide; x++) {
      const to = target + <usize>(y * stride + x);
      const value = load<u8>(tile + <usize>(y * TILE + x));
      if (whole) {
        store<u8>(to, value);
        continue;
      }
      const weight = max(<f32>0, min(<f32>1, left + (right - left) * <f32>x * <f32>0.125));
      const below = <f32>load<u8>(to);
      store<u8>(to, <u8>(below + (<f32>value - below) * weight + <f32>0.5));
    }
  }
}
