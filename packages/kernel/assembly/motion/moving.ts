/** The still world: pictures turned into its axes, what most of them have in common, and by how much a look is off that. */

import { atan2 } from './quick-angle';

/**
 * So many planes of a picture, `wide` × wide / 2 pixels each, one behind the other, as they lie in the world: the nearest pixel for each
 * of `width` × width / 2 at `out`. `turn` is nine doubles that turn directions of the picture into the world's; `axes` has sines and
 * cosines of the columns' longitudes, `width` floats each.
 */
export function turnPlanes(
  from: usize, wide: i32, turn: usize, axes: usize, width: i32, out: usize, planes: i32,
): void {
  const high = wide >> 1;
  const perTurn = f32x4.splat(<f32>(<f64>wide * 0.15915494309189535));
  const rows = width >> 1;
  const ahead = axes + (<usize>width << 2);
  const m0 = entry(turn, 0);
  const m1 = entry(turn, 1);
  const m2 = entry(turn, 2);
  const m6 = entry(turn, 6);
  const m7 = entry(turn, 7);
  const m8 = entry(turn, 8);
  const lastColumn = i32x4.splat(wide - 1);
  const lastRow = i32x4.splat(high - 1);
  for (let y = 0; y < rows; y++) {
    const latitude = (0.5 - (<f64>y + 0.5) / <f64>rows) * 3.141592653589793;
    const up = f32x4.splat(<f32>Math.sin(latitude));
    const flat = f32x4.splat(<f32>Math.cos(latitude));
    const bx = f32x4.mul(entry(turn, 3), up);
    const by = f32x4.mul(entry(turn, 4), up);
    const bz = f32x4.mul(entry(turn, 5), up);
    const to = out + <usize>(y * width);
    for (let x: usize = 0; x < <usize>width; x += 4) {
      const a = f32x4.mul(flat, v128.load(axes + (x << 2)));
      const c = f32x4.mul(flat, v128.load(ahead + (x << 2)));
      // The inverse of a rotation is its transpose.
      const px = f32x4.add(f32x4.add(f32x4.mul(m0, a), bx), f32x4.mul(m6, c));
      const py = f32x4.add(f32x4.add(f32x4.mul(m1, a), by), f32x4.mul(m7, c));
      const pz = f32x4.add(f32x4.add(f32x4.mul(m2, a), bz), f32x4.mul(m8, c));
      const level = f32x4.sqrt(f32x4.add(f32x4.mul(px, px), f32x4.mul(pz, pz)));
      const u = f32x4.mul(f32x4.add(atan2(px, pz), f32x4.splat(3.14159265)), perTurn);
      const v = f32x4.mul(f32x4.sub(f32x4.splat(1.57079633), atan2(py, level)), perTurn);
      const column = i32x4.min_s(i32x4.trunc_sat_f32x4_s(u), lastColumn);
      const row = i32x4.min_s(i32x4.trunc_sat_f32x4_s(v), lastRow);
      const at = i32x4.add(i32x4.mul(i32x4.max_s(row, i32x4.splat(0)), i32x4.splat(wide)), i32x4.max_s(column, i32x4.splat(0)));
      let here = from;
      let there = to + x;
      for (let k = 0; k < planes; k++) {
        store<u8>(there, load<u8>(here + <usize>i32x4.extract_lane(at, 0)));
        store<u8>(there, load<u8>(here + <usize>i32x4.extract_lane(at, 1)), 1);
        store<u8>(there, load<u8>(here + <usize>i32x4.extract_lane(at, 2)), 2);
        store<u8>(there, load<u8>(here + <usize>i32x4.extract_lane(at, 3)), 3);
        here += <usize>(wide * high);
        there += <usize>(width * rows);
      }
    }
  }
}

/** An entry of a matrix of doubles, four times. */
@inline
function entry(matrix: usize, n: usize): v128 {
  return f32x4.splat(<f32>load<f64>(matrix + (n << 3)));
}

/**
 * Medians of `count` planes, sample by sample, and half of what lies between the sorted samples `low` and `high`. The planes lie one
 * after the other, `bytes` each, a multiple of 16; `sorted` has room for count × 16.
 */
export function medians(planes: usize, count: i32, bytes: i32, low: i32, high: i32, sorted: usize, median: usize, spread: usize): void {
  const middle = sorted + (<usize>(count >> 1) << 4);
  const least = sorted + (<usize>low << 4);
  const most = sorted + (<usize>high << 4);
  for (let i: usize = 0; i < <usize>bytes; i += 16) {
    for (let n = 0; n < count; n++) {
      // Sixteen insertions at a time: what is larger goes on up.
      let value = v128.load(planes + <usize>n * <usize>bytes + i);
      for (let k = 0; k < n; k++) {
        const at = sorted + (<usize>k << 4);
        const other = v128.load(at);
        v128.store(at, i8x16.min_u(other, value));
        value = i8x16.max_u(other, value);
      }
      v128.store(sorted + (<usize>n << 4), value);
    }
    v128.store(median + i, v128.load(middle));
    const range = i8x16.sub(v128.load(most), v128.load(least));
    v128.store(spread + i, i8x16.shr_u(range, 1));
  }
}

/** The least and the most of the 3 × 3 samples about each of a plane that wraps across; `row` has room for two rows. */
export function bounds(plane: usize, width: i32, height: i32, least: usize, most: usize, row: usize): void {
  const low = row;
  const high = row + <usize>width;
  for (let y = 0; y < height; y++) {
    const here = plane + <usize>(y * width);
    const above = y > 0 ? here - <usize>width : here;
    const below = y + 1 < height ? here + <usize>width : here;
    for (let x: usize = 0; x < <usize>width; x++) {
      const a = <u32>load<u8>(above + x);
      const b = <u32>load<u8>(here + x);
      const c = <u32>load<u8>(below + x);
      store<u8>(low + x, <u8>min(a, min(b, c)));
      store<u8>(high + x, <u8>max(a, max(b, c)));
    }
    const to = <usize>(y * width);
    for (let x = 0; x < width; x++) {
      const left = <usize>(x > 0 ? x - 1 : width - 1);
      const right: usize = x + 1 < width ? <usize>(x + 1) : 0;
      const at = <usize>x;
      store<u8>(least + to + at, <u8>min(<u32>load<u8>(low + left), min(<u32>load<u8>(low + at), <u32>load<u8>(low + right))));
      store<u8>(most + to + at, <u8>max(<u32>load<u8>(high + left), max(<u32>load<u8>(high + at), <u32>load<u8>(high + right))));
    }
  }
}

/**
 * By how many grey levels each sample of a look is off the still world, beyond what is usual. `look` and `still` are luma, then two
 * colours of half its size; `usual` is luma's, then both colours' together. `light`: by how much the look is brighter. Weights in
 * halves of a grey level: `tint` of colours, `times` of what is usual; `noise` in grey levels.
 */
export function excess(
  look: usize, still: usize, least: usize, most: usize, usual: usize, width: i32, height: i32, light: i32, noise: i32,
  times: i32, tint: i32, out: usize,
): void {
  const count = <usize>(width * height);
  const colours = count >> 2;
  const half = width >> 1;
  for (let y = 0; y < height; y++) {
    const row = <usize>((y >> 1) * half);
    for (let x = 0; x < width; x++) {
      const i = <usize>(y * width + x);
      const value = <i32>load<u8>(look + i) - light;
      const off = max(0, max(value - <i32>load<u8>(most + i), <i32>load<u8>(least + i) - value));
      const t = count + row + <usize>(x >> 1);
      const blue = abs(<i32>load<u8>(look + t) - <i32>load<u8>(still + t));
      const red = abs(<i32>load<u8>(look + t + colours) - <i32>load<u8>(still + t + colours));
      const byTint = max(0, tint * (blue + red - ((times * <i32>load<u8>(usual + t)) >> 1))) >> 1;
      const more = off + byTint - ((times * <i32>load<u8>(usual + i)) >> 1) - noise;
      store<u8>(out + i, <u8>max(0, min(255, more)));
    }
  }
}
