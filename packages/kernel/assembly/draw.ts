/** Drawing tiles of a plane from its grid. */

import { MIXED } from '../../core/src/lens/filter';
import { field, TOLERANCE } from './fields';
import { ALONG, denseLevel, heightOf, isDense, placeOf, widthOf } from './dense';
import { addRows, settleRows } from './mix';
import { CAP, NODE_BYTES, OVER, SCRATCH_SUMS, SEAM_COUNT, TILE } from './record';
import { mapPixel } from './map';
import { sample, sampleAnywhere, settle } from './sample';

/** Difference of two longitudes in pixels, the short way round. */
@inline
function turn(a: f32, b: f32, width: f32): f32 {
  let d = a - b;
  if (d > width * 0.5) d -= width;
  else if (d < width * -0.5) d += width;
  return d;
}

/** Size of the second differences of u and v through nodes a, b, c: eight times what interpolation misses at most. */
@inline
function bendOf(a: usize, b: usize, c: usize, width: f32, shrink: f32): f32 {
  const ub = load<f32>(b);
  const du = turn(load<f32>(a), ub, width) + turn(load<f32>(c), ub, width);
  const dv = load<f32>(a, 4) + load<f32>(c, 4) - <f32>2 * load<f32>(b, 4);
  return max(abs(du) * shrink, abs(dv));
}

/** Share of the coarser level for a level of detail: only a band in the middle blends the two. */
@inline
function blendOf(detail: f32): f32 {
  const f = (detail - floor(detail)) * <f32>2 - <f32>0.5;
  return max(<f32>0, min(<f32>1, f));
}

/** One pixel mapped exactly, over what lies below. `node` is scratch for the map and, behind it, the neighbourhood. */
function drawPixel(camera: usize, px: i32, py: i32, levels: usize, count: i32, below: i32, weights: usize, node: usize): i32 {
  mapPixel(camera, <f64>px + 0.5, <f64>py + 0.5, node);
  let cover = load<f32>(node, 12);
  if (field(camera, OVER) > 0) cover *= max(<f32>0, min(<f32>1, load<f32>(node, 16)));
  if (cover <= 0) return below;
  const u = load<f32>(node);
  const v = load<f32>(node, 4);
  let value: f32 = 0;
  if (isDense(load<f32>(node, 8))) {
    const high = heightOf(load<f32>(node, 8));
    const wide = widthOf(high, levels, v);
    const level = denseLevel(high, count);
    for (let j = 0; j < ALONG; j++)
      for (let i = 0; i < ALONG; i++)
        value += <f32>sampleLevel(levels, level, u + placeOf(i, wide), v + placeOf(j, high), weights, node);
    value /= <f32>(ALONG * ALONG);
  } else {
    const detail = max(<f32>0, min(<f32>(count - 1), load<f32>(node, 8)));
    const lower = min(count - 1, <i32>detail);
    const blend = blendOf(detail);
    if (blend < 1) value += (<f32>1 - blend) * <f32>sampleLevel(levels, lower, u, v, weights, node);
    if (blend > 0) value += blend * <f32>sampleLevel(levels, min(count - 1, lower + 1), u, v, weights, node);
  }
  return <i32>(value * cover + <f32>below * (<f32>1 - cover) + <f32>0.5);
}

@inline
function sampleLevel(levels: usize, n: i32, u: f32, v: f32, weights: usize, node: usize): i32 {
  const level = levels + (<usize>n << 4);
  const kx = <f32>load<i32>(level, 4) / <f32>load<i32>(levels, 4);
  const ky = <f32>load<i32>(level, 8) / <f32>load<i32>(levels, 8);
  const x = <i32>((u * kx - <f32>0.5) * <f32>65536);
  const y = <i32>((v * ky - <f32>0.5) * <f32>65536);
  return sampleAnywhere(level, x, y, weights, node + <usize>NODE_BYTES);
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
function drawSmooth(
  levels: usize, count: i32, a: usize, b: usize, c: usize, d: usize, u1: f32, u2: f32, u3: f32, detail: f32,
  out: usize, stride: i32, weights: usize, scratch: usize,
): void {
  const u0 = load<f32>(a);
  const lower = <i32>detail;
  const d0 = load<f32>(a, 8);
  const d1 = load<f32>(b, 8);
  const d2 = load<f32>(c, 8);
  const d3 = load<f32>(d, 8);
  const most = min(<f32>(count - 1), max(max(d0, d1), max(d2, d3)));
  const least = max(<f32>0, min(min(d0, d1), min(d2, d3)));
  const one = most <= <f32>lower + <f32>MIXED ? lower : least >= <f32>lower + <f32>(1 - MIXED) ? min(count - 1, lower + 1) : -1;
  if (one >= 0) {
    drawTile(levels + (<usize>one << 4), levels, u0, load<f32>(a, 4), u1, load<f32>(b, 4), u2, load<f32>(c, 4), u3, load<f32>(d, 4), out, stride, weights, scratch);
    return;
  }
  const fine = scratch + 64;
  const coarse = scratch + 128;
  drawTile(levels + (<usize>lower << 4), levels, u0, load<f32>(a, 4), u1, load<f32>(b, 4), u2, load<f32>(c, 4), u3, load<f32>(d, 4), fine, TILE, weights, scratch);
  drawTile(levels + (<usize>min(count - 1, lower + 1) << 4), levels, u0, load<f32>(a, 4), u1, load<f32>(b, 4), u2, load<f32>(c, 4), u3, load<f32>(d, 4), coarse, TILE, weights, scratch);
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
function drawDense(
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
function layTile(tile: usize, a: usize, b: usize, c: usize, d: usize, over: bool, target: usize, stride: i32, wide: i32, lines: i32): void {
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

/**
 * Draws tile rows `row` to `row + rows` of one plane of width × height at `out`, whose rows are `stride` bytes apart and whose
 * grid is at `grid`. `levels` is a table of mip
 * levels, 16 bytes each: pointer, width, height, 1 if the picture is bounded and does not wrap. `scratch` is
 * SCRATCH_BYTES of the caller's own.
 */
export function drawRows(
  camera: usize, grid: usize, columns: i32, row: i32, rows: i32, out: usize, width: i32, height: i32, stride: i32,
  levels: usize, count: i32, background: i32, weights: usize, scratch: usize,
): void {
  const bounded = load<i32>(levels, 12) != 0;
  const over = field(camera, OVER) > 0;
  const seam = field(camera, SEAM_COUNT) > 0 || field(camera, CAP) > 0;
  // In a bounded picture nothing wraps: no step is long enough to be taken for one.
  const sourceWidth: f32 = bounded ? <f32>1e9 : <f32>load<i32>(levels, 4);
  const sourceHeight = <f32>load<i32>(levels, 8);
  const reach = <f32>load<i32>(levels, 4) * <f32>0.12;
  const pitch = <usize>((columns + 3) * NODE_BYTES);
  const tile = scratch + 192;
  for (let j = 0; j < rows; j++) {
    const top = (row + j) * TILE;
    const lines = min(TILE, height - top);
    for (let i = 0; i < columns; i++) {
      const a = grid + <usize>(j + 1) * pitch + <usize>((i + 1) * NODE_BYTES);
      const b = a + NODE_BYTES;
      const c = a + pitch;
      const d = c + NODE_BYTES;
      // The upper layer hides what is wholly under it, and leaves out what it does not reach.
      if (seam) {
        const least = min(min(load<f32>(a, 16), load<f32>(b, 16)), min(load<f32>(c, 16), load<f32>(d, 16)));
        const most = max(max(load<f32>(a, 16), load<f32>(b, 16)), max(load<f32>(c, 16), load<f32>(d, 16)));
        if (over ? most <= 0 : least >= 1) continue;
      }
      const left = i * TILE;
      const wide = min(TILE, width - left);
      const target = out + <usize>(top * stride + left);
      const detail = max(<f32>0, min(<f32>(count - 1), (load<f32>(a, 8) + load<f32>(b, 8) + load<f32>(c, 8) + load<f32>(d, 8)) * <f32>0.25));
      const u0 = load<f32>(a);
      const u1 = u0 + turn(load<f32>(b), u0, sourceWidth);
      const u2 = u0 + turn(load<f32>(c), u0, sourceWidth);
      const u3 = u0 + turn(load<f32>(d), u0, sourceWidth);
      const latitude = load<f32>(a, 4) / sourceHeight - <f32>0.5;
      const shrink = bounded ? <f32>1 : max(<f32>0.02, <f32>1 - <f32>4 * latitude * latitude);
      const error = (max(bendOf(a - NODE_BYTES, a, b, sourceWidth, shrink), bendOf(a, b, b + NODE_BYTES, sourceWidth, shrink)) +
        max(bendOf(a - pitch, a, c, sourceWidth, shrink), bendOf(a, c, c + pitch, sourceWidth, shrink))) * <f32>0.125;
      const spread = max(abs(u1 - u0), max(abs(u2 - u0), abs(u3 - u0)));
      const seen = min(min(load<f32>(a, 12), load<f32>(b, 12)), min(load<f32>(c, 12), load<f32>(d, 12)));
      // 2 to the power of the level of detail, straight between whole levels.
      const shrunk = <f32>(1 << <i32>detail) * (<f32>1 + detail - floor(detail));
      const allowed = TOLERANCE * shrunk;
      if (seen < 1 || error > allowed || spread > reach) {
        for (let y = 0; y < lines; y++)
          for (let x = 0; x < wide; x++) {
            const to = target + <usize>(y * stride + x);
            const below = over ? <i32>load<u8>(to) : background;
            store<u8>(to, <u8>drawPixel(camera, left + x, top + y, levels, count, below, weights, scratch));
          }
        continue;
      }
      if (isDense((load<f32>(a, 8) + load<f32>(b, 8) + load<f32>(c, 8) + load<f32>(d, 8)) * <f32>0.25)) {
        drawDense(levels, count, a, b, c, d, u1, u2, u3, tile, weights, scratch);
        layTile(tile, a, b, c, d, over, target, stride, wide, lines);
        continue;
      }
      const straight = wide == TILE && lines == TILE && (!over || min(min(load<f32>(a, 16), load<f32>(b, 16)), min(load<f32>(c, 16), load<f32>(d, 16))) >= 1);
      if (straight) drawSmooth(levels, count, a, b, c, d, u1, u2, u3, detail, target, stride, weights, scratch);
      else {
        drawSmooth(levels, count, a, b, c, d, u1, u2, u3, detail, tile, TILE, weights, scratch);
        layTile(tile, a, b, c, d, over, target, stride, wide, lines);
      }
    }
  }
}
