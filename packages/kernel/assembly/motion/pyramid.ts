/** The frame that is looked at: a grey equirectangular picture in levels of 32-bit floats, each half the size of the last. */
import { atan2 } from '../angle';

/** Smooths with 1-2-1 both ways; wraps in longitude, and keeps the last row at the poles. */
export function smooth(bytes: usize, out: usize, width: i32, height: i32): void {
  for (let y = 0; y < height; y++) {
    const above = bytes + <usize>(max(0, y - 1) * width);
    const here = bytes + <usize>(y * width);
    const below = bytes + <usize>(min(height - 1, y + 1) * width);
    let left = column(above, here, below, width - 1);
    let middle = column(above, here, below, 0);
    const first = middle;
    for (let x = 0; x < width; x++) {
      const right = x == width - 1 ? first : column(above, here, below, x + 1);
      store<f32>(out + (<usize>(y * width + x) << 2), <f32>(left + 2 * middle + right) * 0.0625);
      left = middle;
      middle = right;
    }
  }
}

// @ts-ignore: decorator
@inline
function column(above: usize, here: usize, below: usize, x: i32): i32 {
  return <i32>load<u8>(above + <usize>x) + 2 * <i32>load<u8>(here + <usize>x) + <i32>load<u8>(below + <usize>x);
}

/** Halves a level: the mean of four pixels. */
export function halveLevel(from: usize, out: usize, width: i32, height: i32): void {
  const row = <usize>width << 2;
  for (let y = 0; y < height >> 1; y++)
    for (let x = 0; x < width >> 1; x++) {
      const p = from + <usize>(2 * y) * row + (<usize>(2 * x) << 2);
      const sum = load<f32>(p) + load<f32>(p, 4) + load<f32>(p + row) + load<f32>(p + row, 4);
      store<f32>(out + (<usize>(y * (width >> 1) + x) << 2), sum * 0.25);
    }
}

/** The value at continuous coordinates, half a pixel less than usual, blended from four pixels; wraps in longitude. */
// @ts-ignore: decorator
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

/** The same for places that lie inside the picture with their neighbours. */
// @ts-ignore: decorator
@inline
export function blendInside(level: usize, width: i32, u: f32, v: f32): f32 {
  const u0 = <i32>u;
  const v0 = <i32>v;
  const fu = u - <f32>u0;
  const fv = v - <f32>v0;
  const a = level + (<usize>(v0 * width + u0) << 2);
  const b = a + (<usize>width << 2);
  const top = load<f32>(a) + (load<f32>(a, 4) - load<f32>(a)) * fu;
  const low = load<f32>(b) + (load<f32>(b, 4) - load<f32>(b)) * fu;
  return top + (low - top) * fv;
}

// @ts-ignore: decorator
@inline
export function acrossOf(x: f64, z: f64, width: i32): f64 {
  return (atan2(x, z) * 0.15915494309189535 + 0.5) * <f64>width - 0.5;
}

// @ts-ignore: decorator
@inline
export function downOf(x: f64, y: f64, z: f64, height: i32): f64 {
  return (0.5 - atan2(y, Math.sqrt(x * x + z * z)) * 0.3183098861837907) * <f64>height - 0.5;
}
