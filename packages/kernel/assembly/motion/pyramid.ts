/** The frame that is looked at: a grey equirectangular picture in levels of 32-bit floats, each half the size of the last. */
import { atan2 } from '../angle';

/**
 * Smooths with 1-2-1 both ways; wraps in longitude, and keeps the last row at the poles. `sums` is scratch room for
 * width + 16 numbers of 16 bits. The width is a multiple of 8.
 */
export function smooth(bytes: usize, out: usize, width: i32, height: i32, sums: usize): void {
  // Sums down the columns of three rows, from one place before the row's first to one past its last.
  const first = sums + 16;
  const last = first + (<usize>(width - 1) << 1);
  for (let y = 0; y < height; y++) {
    const above = bytes + <usize>(max(0, y - 1) * width);
    const here = bytes + <usize>(y * width);
    const below = bytes + <usize>(min(height - 1, y + 1) * width);
    for (let x: usize = 0; x < <usize>width; x += 8) {
      const twice = i16x8.shl(v128.load_ext<u8>(here + x), 1);
      const sum = i16x8.add(i16x8.add(v128.load_ext<u8>(above + x), v128.load_ext<u8>(below + x)), twice);
      v128.store(first + (x << 1), sum);
    }
    store<u16>(first - 2, load<u16>(last));
    store<u16>(last + 2, load<u16>(first));
    const row = out + (<usize>(y * width) << 2);
    for (let x: usize = 0; x < <usize>width; x += 8) {
      const p = first + (x << 1);
      const sum = i16x8.add(i16x8.add(v128.load(p - 2), v128.load(p + 2)), i16x8.shl(v128.load(p), 1));
      const k = f32x4.splat(0.0625);
      v128.store(row + (x << 2), f32x4.mul(f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(sum)), k));
      v128.store(row + (x << 2), f32x4.mul(f32x4.convert_i32x4_u(i32x4.extend_high_i16x8_u(sum)), k), 16);
    }
  }
}

/** Halves a level: the mean of four pixels. The width is a multiple of 8. */
export function halveLevel(from: usize, out: usize, width: i32, height: i32): void {
  const row = <usize>width << 2;
  for (let y = 0; y < height >> 1; y++) {
    const p = from + <usize>(2 * y) * row;
    for (let x: usize = 0; x < row; x += 32) {
      const a = f32x4.add(v128.load(p + x), v128.load(p + row + x));
      const b = f32x4.add(v128.load(p + x, 16), v128.load(p + row + x, 16));
      const sum = f32x4.add(v128.shuffle<i32>(a, b, 0, 2, 4, 6), v128.shuffle<i32>(a, b, 1, 3, 5, 7));
      v128.store(out + (x >> 1), f32x4.mul(sum, f32x4.splat(0.25)));
    }
    out += row >> 1;
  }
}

/** The value at continuous coordinates, half a pixel less than usual, blended from four pixels; wraps in longitude. */
@inline
export function blend(level: usize, width: i32, height: i32, u: f32, v: f32): f32 {
  const floorU = Mathf.floor(u);
  const floorV = Mathf.floor(v);
  const fu = u - floorU;
  const fv = v - floorV;
  let u0 = <i32>floorU;
  if (u0 < 0) u0 += width;
  else if (u0 >= width) u0 -= width;
  const u1 = u0 + 1 == width ? 0 : u0 + 1;
  const v0 = max(0, min(height - 1, <i32>floorV));
  const v1 = max(0, min(height - 1, <i32>floorV + 1));
  const a = level + (<usize>(v0 * width) << 2);
  const b = level + (<usize>(v1 * width) << 2);
  const top = load<f32>(a + (<usize>u0 << 2)) * (1 - fu) + load<f32>(a + (<usize>u1 << 2)) * fu;
  const low = load<f32>(b + (<usize>u0 << 2)) * (1 - fu) + load<f32>(b + (<usize>u1 << 2)) * fu;
  return top * (1 - fv) + low * fv;
}

/** The same for four places at once, which lie inside the picture with their neighbours. */
@inline
export function blendFour(level: usize, width: i32, u: v128, v: v128): v128 {
  const u0 = i32x4.trunc_sat_f32x4_s(u);
  const v0 = i32x4.trunc_sat_f32x4_s(v);
  const fu = f32x4.sub(u, f32x4.convert_i32x4_s(u0));
  const fv = f32x4.sub(v, f32x4.convert_i32x4_s(v0));
  const at = i32x4.shl(i32x4.add(i32x4.mul(v0, i32x4.splat(width)), u0), 2);
  const p0 = level + <usize>i32x4.extract_lane(at, 0);
  const p1 = level + <usize>i32x4.extract_lane(at, 1);
  const p2 = level + <usize>i32x4.extract_lane(at, 2);
  const p3 = level + <usize>i32x4.extract_lane(at, 3);
  const stride = <usize>width << 2;
  const t01 = v128.load64_lane(p1, v128.load64_zero(p0), 1);
  const t23 = v128.load64_lane(p3, v128.load64_zero(p2), 1);
  const l01 = v128.load64_lane(p1 + stride, v128.load64_zero(p0 + stride), 1);
  const l23 = v128.load64_lane(p3 + stride, v128.load64_zero(p2 + stride), 1);
  const ta = v128.shuffle<i32>(t01, t23, 0, 2, 4, 6);
  const tb = v128.shuffle<i32>(t01, t23, 1, 3, 5, 7);
  const la = v128.shuffle<i32>(l01, l23, 0, 2, 4, 6);
  const lb = v128.shuffle<i32>(l01, l23, 1, 3, 5, 7);
  const top = f32x4.add(ta, f32x4.mul(f32x4.sub(tb, ta), fu));
  const low = f32x4.add(la, f32x4.mul(f32x4.sub(lb, la), fu));
  return f32x4.add(top, f32x4.mul(f32x4.sub(low, top), fv));
}

@inline
export function acrossOf(x: f64, z: f64, width: i32): f64 {
  return (atan2(x, z) * 0.15915494309189535 + 0.5) * <f64>width - 0.5;
}

@inline
export function downOf(x: f64, y: f64, z: f64, height: i32): f64 {
  return (0.5 - atan2(y, Math.sqrt(x * x + z * z)) * 0.3183098861837907) * <f64>height - 0.5;
}
