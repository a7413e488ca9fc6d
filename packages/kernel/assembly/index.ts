/**
 * The pixel kernel: draws one plane of a flat frame from one plane of an equirectangular picture.
 *
 * The map from frame to source is computed exactly on a grid of one node every 8 pixels and interpolated
 * between; tiles in which that would be too far off (poles, seam, limb) are mapped exactly, pixel by pixel.
 * Sampling is bicubic (Catmull–Rom), from a mip level that suits the footprint on the sphere.
 *
 * All memory belongs to the host. Pointers are byte offsets.
 */

/** Pixels from one grid node to the next. */
const TILE: i32 = 8;
/** Bytes of a node: u, v (source pixels at level 0), level of detail, 1 where the sphere is seen. */
const NODE: i32 = 16;
/** Interpolation error, in pixels of the level that is sampled, above which a tile is mapped exactly. */
const TOLERANCE: f32 = 0.2;
/** How much the picture may shrink before the next mip level is used: Catmull–Rom still passes little there. */
const SHRINK: f64 = 1.25;

// A camera, as 16 doubles: rotation from camera to source picture (9), bend, radius per pixel, optical
// centre x and y in pixels, radius of the limb (0: none), width and height of the source plane.
const BEND: i32 = 9;
const SCALE: i32 = 10;
const CENTRE_X: i32 = 11;
const CENTRE_Y: i32 = 12;
const LIMB: i32 = 13;
const WIDTH: i32 = 14;
const HEIGHT: i32 = 15;

// @ts-ignore: decorator
@inline
function field(camera: usize, i: i32): f64 {
  return load<f64>(camera + (<usize>i << 3));
}

/** Writes the weights of 256 sub-pixel phases: for rows (w0 w1 w2 w3 twice), then for columns (each weight twice); 8 KiB. */
export function fillWeights(table: usize): void {
  for (let phase = 0; phase < 256; phase++) {
    const t = (<f64>phase + 0.5) / 256;
    const w0 = <i32>Math.round(16384 * (-0.5 * t + t * t - 0.5 * t * t * t));
    const w1 = <i32>Math.round(16384 * (1 - 2.5 * t * t + 1.5 * t * t * t));
    const w3 = <i32>Math.round(16384 * (-0.5 * t * t + 0.5 * t * t * t));
    const w2 = 16384 - w0 - w1 - w3;
    const row = table + (<usize>phase << 4);
    const column = row + 4096;
    for (let k: usize = 0; k < 2; k++) {
      store<i16>(row + k * 8, <i16>w0);
      store<i16>(row + k * 8 + 2, <i16>w1);
      store<i16>(row + k * 8 + 4, <i16>w2);
      store<i16>(row + k * 8 + 6, <i16>w3);
      store<i16>(column + k * 2, <i16>w0);
      store<i16>(column + 4 + k * 2, <i16>w1);
      store<i16>(column + 8 + k * 2, <i16>w2);
      store<i16>(column + 12 + k * 2, <i16>w3);
    }
  }
}

/** atan for 0…1, after Cephes' atanf: error below 1e-7. */
// @ts-ignore: decorator
@inline
function atan01(x: f64): f64 {
  let base: f64 = 0;
  if (x > 0.4142135623730950) {
    base = 0.7853981633974483;
    x = (x - 1) / (x + 1);
  }
  const z = x * x;
  return base + x + x * z * (((8.05374449538e-2 * z - 1.38776856032e-1) * z + 1.99777106478e-1) * z - 3.33329491539e-1);
}

// @ts-ignore: decorator
@inline
function atan2(y: f64, x: f64): f64 {
  const ax = abs(x);
  const ay = abs(y);
  const large = max(ax, ay);
  if (large == 0) return 0;
  let a = atan01(min(ax, ay) / large);
  if (ay > ax) a = 1.5707963267948966 - a;
  if (x < 0) a = 3.141592653589793 - a;
  return y < 0 ? -a : a;
}

/** log2 of a positive number to 0.01. */
// @ts-ignore: decorator
@inline
function roughLog2(x: f64): f32 {
  const bits = reinterpret<i32>(<f32>x);
  const exponent = <f32>((bits >> 23) - 128);
  const m = reinterpret<f32>((bits & 0x7fffff) | 0x3f800000);
  return exponent + (<f32>-0.33333333 * m + <f32>2) * m - <f32>0.66666667 + <f32>0.0;
}

/** The exact map at a pixel, written as a node. */
function mapPixel(camera: usize, px: f64, py: f64, node: usize): void {
  const bend = field(camera, BEND);
  const scale = field(camera, SCALE);
  let x = (px - field(camera, CENTRE_X)) * scale;
  let y = (field(camera, CENTRE_Y) - py) * scale;
  const limb = field(camera, LIMB);
  let cover: f32 = 1;
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
  const cos = (-q2 * bend + Math.sqrt(max(0.0, 1 + q2 * (1 - bend * bend)))) / (1 + q2);
  const f = (bend + cos) / (1 + bend);
  const cx = x * f;
  const cy = y * f;
  const dx = field(camera, 0) * cx + field(camera, 1) * cy + field(camera, 2) * cos;
  const dy = field(camera, 3) * cx + field(camera, 4) * cy + field(camera, 5) * cos;
  const dz = field(camera, 6) * cx + field(camera, 7) * cy + field(camera, 8) * cos;
  const width = field(camera, WIDTH);
  const height = field(camera, HEIGHT);
  store<f32>(node, <f32>((atan2(dx, dz) * 0.15915494309189535 + 0.5) * width));
  store<f32>(node, <f32>((0.5 - atan2(dy, Math.sqrt(dx * dx + dz * dz)) * 0.3183098861837907) * height), 4);
  // Angle on the sphere that one pixel covers, along the radius and across it; the larger decides.
  const across = scale * f;
  const along = (scale * (bend + cos) * f) / max(1 + bend * cos, 1e-4);
  const footprint = max(across, along) * max(width * 0.15915494309189535, height * 0.3183098861837907);
  store<f32>(node, roughLog2(footprint / SHRINK), 8);
  store<f32>(node, cover, 12);
}

/** Computes the nodes of tile rows `row` to `row + rows`, with one more node on every side. */
export function mapGrid(camera: usize, grid: usize, columns: i32, row: i32, rows: i32): void {
  let node = grid;
  for (let j = -1; j <= rows + 1; j++)
    for (let i = -1; i <= columns + 1; i++) {
      mapPixel(camera, <f64>(i * TILE) + 0.5, <f64>((row + j) * TILE) + 0.5, node);
      node += NODE;
    }
}

/** Difference of two longitudes in pixels, the short way round. */
// @ts-ignore: decorator
@inline
function turn(a: f32, b: f32, width: f32): f32 {
  let d = a - b;
  if (d > width * 0.5) d -= width;
  else if (d < width * -0.5) d += width;
  return d;
}

/** Size of the second differences of u and v through nodes a, b, c: eight times what interpolation misses at most. */
// @ts-ignore: decorator
@inline
function bendOf(a: usize, b: usize, c: usize, width: f32, shrink: f32): f32 {
  const ub = load<f32>(b);
  const du = turn(load<f32>(a), ub, width) + turn(load<f32>(c), ub, width);
  const dv = load<f32>(a, 4) + load<f32>(c, 4) - <f32>2 * load<f32>(b, 4);
  return max(abs(du) * shrink, abs(dv));
}

/** One bicubic sample, before its four lanes are added up, at 16.16 coordinates that lie inside the plane. */
// @ts-ignore: decorator
@inline
function sample(base: usize, stride: i32, x: i32, y: i32, weights: usize): v128 {
  const p = base + <usize>((y >> 16) * stride + (x >> 16));
  let v = v128.load32_zero(p);
  v = v128.load_lane<u32>(p + <usize>stride, v, 1);
  v = v128.load_lane<u32>(p + <usize>(2 * stride), v, 2);
  v = v128.load_lane<u32>(p + <usize>(3 * stride), v, 3);
  const row = v128.load(weights + <usize>((x >> 4) & 0xff0));
  const column = v128.load(weights + <usize>((y >> 4) & 0xff0), 4096);
  const top = i32x4.shr_s(i32x4.dot_i16x8_s(i16x8.extend_low_i8x16_u(v), row), 7);
  const low = i32x4.shr_s(i32x4.dot_i16x8_s(i16x8.extend_high_i8x16_u(v), row), 7);
  return i32x4.dot_i16x8_s(i16x8.narrow_i32x4_s(top, low), column);
}

/** Adds up the lanes of four samples and brings them to 0…255 or beyond. */
// @ts-ignore: decorator
@inline
function settle(a: v128, b: v128, c: v128, d: v128): v128 {
  const ab = i32x4.add(v128.shuffle<i32>(a, b, 0, 1, 4, 5), v128.shuffle<i32>(a, b, 2, 3, 6, 7));
  const cd = i32x4.add(v128.shuffle<i32>(c, d, 0, 1, 4, 5), v128.shuffle<i32>(c, d, 2, 3, 6, 7));
  const sum = i32x4.add(v128.shuffle<i32>(ab, cd, 0, 2, 4, 6), v128.shuffle<i32>(ab, cd, 1, 3, 5, 7));
  return i32x4.shr_s(i32x4.add(sum, i32x4.splat(1 << 20)), 21);
}

/** Copies the 4 × 4 neighbourhood of a sample, wrapping in longitude and reflecting over the poles. */
function gather(base: usize, width: i32, height: i32, x: i32, y: i32, patch: usize): void {
  for (let j = 0; j < 4; j++) {
    let row = y + j;
    let first = x;
    if (row < 0) {
      row = -1 - row;
      first += width >> 1;
    } else if (row >= height) {
      row = 2 * height - 1 - row;
      first += width >> 1;
    }
    row = max(0, min(height - 1, row));
    for (let i = 0; i < 4; i++) {
      let column = (first + i) % width;
      if (column < 0) column += width;
      store<u8>(patch + <usize>(j * 4 + i), load<u8>(base + <usize>(row * width + column)));
    }
  }
}

/** One sample at any coordinates of a level (16.16, half a pixel already taken off). */
function sampleAnywhere(level: usize, x: i32, y: i32, weights: usize, patch: usize): i32 {
  const width = load<i32>(level, 4);
  const height = load<i32>(level, 8);
  gather(<usize>load<i32>(level), width, height, (x >> 16) - 1, (y >> 16) - 1, patch);
  const s = sample(patch, 4, x & 0xffff, y & 0xffff, weights);
  return max(0, min(255, i32x4.extract_lane(settle(s, s, s, s), 0)));
}

/** Share of the coarser level for a level of detail: only a band in the middle blends the two. */
// @ts-ignore: decorator
@inline
function blendOf(detail: f32): f32 {
  const f = (detail - floor(detail)) * <f32>2 - <f32>0.5;
  return max(<f32>0, min(<f32>1, f));
}

/** One pixel mapped exactly. `node` is scratch for the map and, behind it, the neighbourhood. */
function drawPixel(camera: usize, px: i32, py: i32, levels: usize, count: i32, background: i32, weights: usize, node: usize): i32 {
  mapPixel(camera, <f64>px + 0.5, <f64>py + 0.5, node);
  const cover = load<f32>(node, 12);
  if (cover <= 0) return background;
  const detail = max(<f32>0, min(<f32>(count - 1), load<f32>(node, 8)));
  const lower = min(count - 1, <i32>detail);
  const blend = blendOf(detail);
  let value: f32 = 0;
  if (blend < 1) value += (<f32>1 - blend) * <f32>sampleLevel(levels, lower, weights, node);
  if (blend > 0) value += blend * <f32>sampleLevel(levels, min(count - 1, lower + 1), weights, node);
  return <i32>(value * cover + <f32>background * (<f32>1 - cover) + <f32>0.5);
}

// @ts-ignore: decorator
@inline
function sampleLevel(levels: usize, n: i32, weights: usize, node: usize): i32 {
  const level = levels + (<usize>n << 4);
  const kx = <f32>load<i32>(level, 4) / <f32>load<i32>(levels, 4);
  const ky = <f32>load<i32>(level, 8) / <f32>load<i32>(levels, 8);
  const x = <i32>((load<f32>(node) * kx - <f32>0.5) * <f32>65536);
  const y = <i32>((load<f32>(node, 4) * ky - <f32>0.5) * <f32>65536);
  return sampleAnywhere(level, x, y, weights, node + 16);
}

/** One interpolated tile from one level: 8 × 8 bytes at `out`. The corners' u are unwrapped already. */
function drawTile(level: usize, levels: usize, u0: f32, v0: f32, u1: f32, v1: f32, u2: f32, v2: f32, u3: f32, v3: f32, out: usize, stride: i32, weights: usize, scratch: usize): void {
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

/**
 * Draws tile rows `row` to `row + rows` of one plane, whose grid is at `grid`. `levels` is a table of mip
 * levels, 16 bytes each: pointer, width, height, unused. `scratch` is 256 bytes of the caller's own.
 */
export function drawRows(camera: usize, grid: usize, columns: i32, row: i32, rows: i32, out: usize, width: i32, height: i32, levels: usize, count: i32, background: i32, weights: usize, scratch: usize): void {
  const sourceWidth = <f32>load<i32>(levels, 4);
  const sourceHeight = <f32>load<i32>(levels, 8);
  const pitch = <usize>((columns + 3) * NODE);
  const fine = scratch + 64;
  const coarse = scratch + 128;
  for (let j = 0; j < rows; j++) {
    const top = (row + j) * TILE;
    const lines = min(TILE, height - top);
    for (let i = 0; i < columns; i++) {
      const a = grid + <usize>(j + 1) * pitch + <usize>((i + 1) * NODE);
      const b = a + NODE;
      const c = a + pitch;
      const d = c + NODE;
      const left = i * TILE;
      const wide = min(TILE, width - left);
      const target = out + <usize>(top * width + left);
      const detail = max(<f32>0, min(<f32>(count - 1), (load<f32>(a, 8) + load<f32>(b, 8) + load<f32>(c, 8) + load<f32>(d, 8)) * <f32>0.25));
      const u0 = load<f32>(a);
      const u1 = u0 + turn(load<f32>(b), u0, sourceWidth);
      const u2 = u0 + turn(load<f32>(c), u0, sourceWidth);
      const u3 = u0 + turn(load<f32>(d), u0, sourceWidth);
      const latitude = load<f32>(a, 4) / sourceHeight - <f32>0.5;
      const shrink = max(<f32>0.02, <f32>1 - <f32>4 * latitude * latitude);
      const error = (max(bendOf(a - NODE, a, b, sourceWidth, shrink), bendOf(a, b, b + NODE, sourceWidth, shrink)) +
        max(bendOf(a - pitch, a, c, sourceWidth, shrink), bendOf(a, c, c + pitch, sourceWidth, shrink))) * <f32>0.125;
      const spread = max(abs(u1 - u0), max(abs(u2 - u0), abs(u3 - u0)));
      const seen = min(min(load<f32>(a, 12), load<f32>(b, 12)), min(load<f32>(c, 12), load<f32>(d, 12)));
      // 2 to the power of the level of detail, straight between whole levels.
      const shrunk = <f32>(1 << <i32>detail) * (<f32>1 + detail - floor(detail));
      const allowed = TOLERANCE * shrunk;
      if (seen < 1 || error > allowed || spread > sourceWidth * <f32>0.12) {
        for (let y = 0; y < lines; y++)
          for (let x = 0; x < wide; x++)
            store<u8>(target + <usize>(y * width + x), <u8>drawPixel(camera, left + x, top + y, levels, count, background, weights, scratch));
        continue;
      }
      const lower = <i32>detail;
      const d0 = load<f32>(a, 8);
      const d1 = load<f32>(b, 8);
      const d2 = load<f32>(c, 8);
      const d3 = load<f32>(d, 8);
      const most = min(<f32>(count - 1), max(max(d0, d1), max(d2, d3)));
      const least = max(<f32>0, min(min(d0, d1), min(d2, d3)));
      const whole = wide == TILE && lines == TILE;
      const one = most <= <f32>lower + <f32>0.25 ? lower : least >= <f32>lower + <f32>0.75 ? min(count - 1, lower + 1) : -1;
      if (one >= 0 && whole) {
        drawTile(levels + (<usize>one << 4), levels, u0, load<f32>(a, 4), u1, load<f32>(b, 4), u2, load<f32>(c, 4), u3, load<f32>(d, 4), target, width, weights, scratch);
        continue;
      }
      drawTile(levels + (<usize>lower << 4), levels, u0, load<f32>(a, 4), u1, load<f32>(b, 4), u2, load<f32>(c, 4), u3, load<f32>(d, 4), fine, TILE, weights, scratch);
      drawTile(levels + (<usize>min(count - 1, lower + 1) << 4), levels, u0, load<f32>(a, 4), u1, load<f32>(b, 4), u2, load<f32>(c, 4), u3, load<f32>(d, 4), coarse, TILE, weights, scratch);
      for (let y = 0; y < lines; y++) {
        const fy = <f32>y * <f32>0.125;
        const dl = d0 + (d2 - d0) * fy;
        const dr = d1 + (d3 - d1) * fy;
        for (let x = 0; x < wide; x++) {
          const here = dl + (dr - dl) * <f32>x * <f32>0.125;
          const blend = max(<f32>0, min(<f32>1, (here - <f32>lower) * <f32>2 - <f32>0.5));
          const at = <usize>(y * TILE + x);
          const p = <f32>load<u8>(fine + at);
          store<u8>(target + <usize>(y * width + x), <u8>(p + (<f32>load<u8>(coarse + at) - p) * blend + <f32>0.5));
        }
      }
    }
  }
}

/** Halves rows of a plane into the next mip level by the mean of 2 × 2: destination rows `from` to `to`. */
export function halve(source: usize, sourceWidth: i32, out: usize, width: i32, from: i32, to: i32): void {
  const two = i16x8.splat(2);
  for (let y = from; y < to; y++) {
    let p = source + <usize>(2 * y * sourceWidth);
    let q = out + <usize>(y * width);
    let x = 0;
    for (; x + 8 <= width; x += 8) {
      const sum = i16x8.add(i16x8.extadd_pairwise_i8x16_u(v128.load(p)), i16x8.extadd_pairwise_i8x16_u(v128.load(p + <usize>sourceWidth)));
      const mean = i16x8.shr_u(i16x8.add(sum, two), 2);
      v128.store_lane<u64>(q, i8x16.narrow_i16x8_u(mean, mean), 0);
      p += 16;
      q += 8;
    }
    for (; x < width; x++) {
      const s = <i32>load<u8>(p) + <i32>load<u8>(p, 1) + <i32>load<u8>(p + <usize>sourceWidth) + <i32>load<u8>(p + <usize>sourceWidth, 1);
      store<u8>(q, <u8>((s + 2) >> 2));
      p += 2;
      q += 1;
    }
  }
}
