/** Drawing tiles of a plane from its grid. */

import { field, TOLERANCE } from './fields';
import { ALONG, denseLevel, heightOf, isDense, placeOf, widthOf } from './dense';
import { CAP, CENTRE_X, CENTRE_Y, NODE_BYTES, OVER, SEAM_COUNT, TILE } from './record';
import { mapPixel } from './map';
import { drawRadial, tapAt, tapsOf } from './radial';
import { sampleAnywhere } from './sample';
import { drawDense, drawSmooth, layTile, turn } from './tile';

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

/** The value where a node says, before it is rounded. */
function sampleNode(levels: usize, count: i32, weights: usize, node: usize): f32 {
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
  return value;
}

/** One pixel mapped exactly, over what lies below. `node` is scratch for the map and, behind it, the neighbourhood. */
function drawPixel(camera: usize, px: i32, py: i32, levels: usize, count: i32, below: i32, weights: usize, node: usize): i32 {
  mapPixel(camera, <f64>px + 0.5, <f64>py + 0.5, node);
  let cover = load<f32>(node, 12);
  if (field(camera, OVER) > 0) cover *= max(<f32>0, min(<f32>1, load<f32>(node, 16)));
  if (cover <= 0) return below;
  const taps = tapsOf(load<f32>(node, 20));
  if (taps == 1) return <i32>(sampleNode(levels, count, weights, node) * cover + <f32>below * (<f32>1 - cover) + <f32>0.5);
  const x = <f64>px + 0.5 - field(camera, CENTRE_X);
  const y = <f64>py + 0.5 - field(camera, CENTRE_Y);
  const r = max(1e-9, Math.sqrt(x * x + y * y));
  let value: f32 = 0;
  for (let i = 0; i < taps; i++) {
    const by = tapAt(i, taps) / r;
    mapPixel(camera, <f64>px + 0.5 + by * x, <f64>py + 0.5 + by * y, node);
    value += sampleNode(levels, count, weights, node);
  }
  value /= <f32>taps;
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
      const mean = (load<f32>(a, 8) + load<f32>(b, 8) + load<f32>(c, 8) + load<f32>(d, 8)) * <f32>0.25;
      const detail = max(<f32>0, min(<f32>(count - 1), mean));
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
      const taps = tapsOf(max(max(load<f32>(a, 20), load<f32>(b, 20)), max(load<f32>(c, 20), load<f32>(d, 20))));
      if (taps > 1) {
        drawRadial(camera, levels, count, a, u1, u2, u3, detail, left, top, taps, pitch, sourceWidth, tile, weights, scratch);
        layTile(tile, a, b, c, d, over, target, stride, wide, lines);
        continue;
      }
      if (isDense(mean)) {
        drawDense(levels, count, a, b, c, d, u1, u2, u3, tile, weights, scratch);
        layTile(tile, a, b, c, d, over, target, stride, wide, lines);
        continue;
      }
      const least = min(min(load<f32>(a, 16), load<f32>(b, 16)), min(load<f32>(c, 16), load<f32>(d, 16)));
      const straight = wide == TILE && lines == TILE && (!over || least >= 1);
      if (straight) drawSmooth(levels, count, a, b, c, d, u1, u2, u3, detail, target, stride, weights, scratch);
      else {
        drawSmooth(levels, count, a, b, c, d, u1, u2, u3, detail, tile, TILE, weights, scratch);
        layTile(tile, a, b, c, d, over, target, stride, wide, lines);
      }
    }
  }
}
