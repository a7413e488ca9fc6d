/** Corners: places whose surroundings change in every direction, spread evenly over the sphere. */

/** Half the side of the window over which slopes are summed, and its side. */
const WINDOW: i32 = 2;
const SIDE: i32 = 2 * WINDOW + 1;

/**
 * For every cell of a grid over the sphere finds the place with the largest smaller eigenvalue of its structure matrix
 * (Shi and Tomasi 1994), slopes taken per angle on the sphere. Rows of cells are equally high; row r has `columns[r]`
 * cells (32 bits each). `wanted` has a byte a cell: 0 passes it over. Writes score, longitude and latitude in radians as
 * three floats a cell, in order. `scratch` takes the slopes of the largest cell: 12 bytes for every pixel of the level.
 */
export function findCorners(level: usize, width: i32, height: i32, rows: i32, columns: usize, wanted: usize, scratch: usize, out: usize): void {
  for (let r = 0; r < rows; r++) {
    const count = load<i32>(columns + (<usize>r << 2));
    const top = max(WINDOW + 1, (height * r) / rows);
    const bottom = min(height - WINDOW - 1, (height * (r + 1)) / rows);
    for (let c = 0; c < count; c++) {
      if (load<u8>(wanted++)) {
        const left = max(WINDOW + 1, (width * c) / count);
        const right = min(width - WINDOW - 1, (width * (c + 1)) / count);
        cornerIn(level, width, height, left, right, top, bottom, scratch, out);
      } else store<f32>(out, -1);
      out += 12;
    }
  }
}

/** The best corner of a cell's pixels, written as `findCorners` says. */
function cornerIn(level: usize, width: i32, height: i32, left: i32, right: i32, top: i32, bottom: i32, scratch: usize, out: usize): void {
  // Rows hold xx, xy and yy one after the other, each a multiple of four long and with room for the window's last four.
  const part = <usize>((right - left + 2 * WINDOW + 7) & ~3) << 2;
  const row: usize = 3 * part;
  const sums = scratch;
  const products = scratch + row;
  for (let y = top - WINDOW; y < bottom + WINDOW; y++) {
    const from = level + (<usize>(y * width + left - WINDOW) << 2);
    slopes(from, width, stretchAt(y, height), part, products + <usize>(y - top + WINDOW) * row);
  }
  let best: f32 = -1;
  let bestX = left;
  let bestY = top;
  for (let y = top; y < bottom; y++) {
    const first = products + <usize>(y - top) * row;
    for (let x: usize = 0; x < row; x += 16) {
      let sum = v128.load(first + x);
      for (let j = 1; j < SIDE; j++) sum = f32x4.add(sum, v128.load(first + <usize>j * row + x));
      v128.store(sums + x, sum);
    }
    for (let x = left; x < right; x += 4) {
      const at = sums + (<usize>(x - left) << 2);
      const scores = cornersAt(at, at + part, at + 2 * part);
      if (!v128.any_true(f32x4.gt(scores, f32x4.splat(best)))) continue;
      for (let k = 0; k < min(4, right - x); k++) {
        const score = lane(scores, k);
        if (score <= best) continue;
        best = score;
        bestX = x + k;
        bestY = y;
      }
    }
  }
  store<f32>(out, best);
  store<f32>(out, (<f32>bestX + 0.5) / <f32>width * 6.2831855 - 3.1415927, 4);
  store<f32>(out, 1.5707964 - (<f32>bestY + 0.5) / <f32>height * 3.1415927, 8);
}

/** How many times wider than on the equator a pixel's angle is in a row. */
@inline
function stretchAt(y: i32, height: i32): f32 {
  const latitude = (0.5 - (<f64>y + 0.5) / <f64>height) * 3.141592653589793;
  return <f32>(1 / Math.max(0.05, Math.cos(latitude)));
}

/** Writes the products of the slopes of one row's pixels: xx, xy and yy, `part` bytes each. */
@inline
function slopes(from: usize, width: i32, stretch: f32, part: usize, out: usize): void {
  const row = <usize>width << 2;
  const k = f32x4.splat(stretch);
  for (let x: usize = 0; x < part; x += 16) {
    const p = from + x;
    const gx = f32x4.mul(f32x4.sub(v128.load(p + 4), v128.load(p - 4)), k);
    const gy = f32x4.sub(v128.load(p + row), v128.load(p - row));
    v128.store(out + x, f32x4.mul(gx, gx));
    v128.store(out + part + x, f32x4.mul(gx, gy));
    v128.store(out + 2 * part + x, f32x4.mul(gy, gy));
  }
}

/** Smaller eigenvalues of the structure matrices of four pixels, from the sums down their columns. */
@inline
function cornersAt(xxs: usize, xys: usize, yys: usize): v128 {
  const xx = across(xxs);
  const xy = across(xys);
  const yy = across(yys);
  const half = f32x4.mul(f32x4.add(xx, yy), f32x4.splat(0.5));
  const determinant = f32x4.sub(f32x4.mul(xx, yy), f32x4.mul(xy, xy));
  const root = f32x4.sqrt(f32x4.max(f32x4.splat(0), f32x4.sub(f32x4.mul(half, half), determinant)));
  return f32x4.sub(half, root);
}

/** Sums over the window across, for four pixels. */
@inline
function across(at: usize): v128 {
  let sum = v128.load(at);
  for (let i: usize = 4; i < <usize>SIDE << 2; i += 4) sum = f32x4.add(sum, v128.load(at + i));
  return sum;
}

@inline
function lane(scores: v128, k: i32): f32 {
  if (k === 0) return f32x4.extract_lane(scores, 0);
  if (k === 1) return f32x4.extract_lane(scores, 1);
  if (k === 2) return f32x4.extract_lane(scores, 2);
  return f32x4.extract_lane(scores, 3);
}
