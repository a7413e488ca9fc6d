/**
 * What looking for up needs of every pixel: which way the picture slopes about it, and the picture without its fine detail. Planes are
 * 32-bit floats; rows of those on the way go on round the sphere for PAD pixels at either end.
 */

const PAD: i32 = 8;
/** Pixels from the middle of a window, over which products of slopes are summed, to its edge. */
const WINDOW: i32 = 3;

/**
 * A pair of filters, to soften and to differentiate, made for each other so that slopes keep their direction however narrow what is
 * seen may be (Farid and Simoncelli, Differentiation of Discrete Multidimensional Signals, 2004). A difference of neighbours sees
 * less of what is narrow: thin things would seem to lean more than they do. The middle one, its neighbours and theirs.
 */
const SOFT_0: f32 = 0.426375;
const SOFT_1: f32 = 0.249153;
const SOFT_2: f32 = 0.037659;
const SLOPE_1: f32 = 0.276691;
const SLOPE_2: f32 = 0.109604;
/** A binomial of five. */
const EVEN_0: f32 = 0.375;
const EVEN_1: f32 = 0.25;
const EVEN_2: f32 = 0.0625;

/** Bytes of a plane on the way. */
export function planeBytes(width: i32, height: i32): i32 {
  return (width + 2 * PAD) * height * 4;
}

/**
 * For every pixel of a grey picture the products of slopes east and north (xx, xy, yy: three planes of width × height), summed over
 * the window about it; slopes are per angle on the sphere. `room` takes four planes on the way. The width is a multiple of 8.
 */
export function structure(bytes: usize, width: i32, height: i32, room: usize, out: usize): void {
  const plane = <usize>planeBytes(width, height);
  const between = room + plane;
  const east = between + plane;
  const south = east + plane;
  widened(bytes, room, width, height);
  down(room, between, width, height, SOFT_0, SOFT_1, SOFT_2, 1);
  across(between, east, width, height, 0, SLOPE_1, SLOPE_2, -1);
  down(room, between, width, height, 0, SLOPE_1, SLOPE_2, -1);
  across(between, south, width, height, SOFT_0, SOFT_1, SOFT_2, 1);
  products(room, east, south, width, height);
  const size = <usize>(width * height) << 2;
  boxed(room, between, out, width, height);
  boxed(east, between, out + size, width, height);
  boxed(south, between, out + 2 * size, width, height);
}

/** A grey picture softened by a binomial of nine pixels, of width × height. `room` takes two planes on the way. */
export function soften(bytes: usize, width: i32, height: i32, room: usize, out: usize): void {
  const between = room + <usize>planeBytes(width, height);
  widened(bytes, room, width, height);
  for (let pass = 0; pass < 2; pass++) {
    across(room, between, width, height, EVEN_0, EVEN_1, EVEN_2, 1);
    down(between, room, width, height, EVEN_0, EVEN_1, EVEN_2, 1);
  }
  for (let y = 0; y < height; y++)
    memory.copy(out + (<usize>(y * width) << 2), rowOf(room, y, width), <usize>width << 2);
}

/** The first pixel of a row of a plane on the way. */
@inline
function rowOf(plane: usize, y: i32, width: i32): usize {
  return plane + (<usize>(y * (width + 2 * PAD) + PAD) << 2);
}

/** Has a row go on round the sphere. */
@inline
function wrap(row: usize, width: i32): void {
  const length = <usize>width << 2;
  const pad = <usize>PAD << 2;
  memory.copy(row - pad, row + length - pad, pad);
  memory.copy(row + length, row, pad);
}

/** Bytes as floats. */
function widened(bytes: usize, out: usize, width: i32, height: i32): void {
  for (let y = 0; y < height; y++) {
    const row = rowOf(out, y, width);
    for (let x = 0; x < width; x += 8) {
      const wide = v128.load_ext<u8>(bytes + <usize>(y * width + x));
      const to = row + (<usize>x << 2);
      v128.store(to, f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(wide)));
      v128.store(to, f32x4.convert_i32x4_u(i32x4.extend_high_i16x8_u(wide)), 16);
    }
    wrap(row, width);
  }
}

/** Five values filtered: those after the middle one plus, or with a sign of −1 minus, those before. */
@inline
function five(a: v128, b: v128, c: v128, d: v128, e: v128, middle: f32, near: f32, far: f32, sign: f32): v128 {
  const s = f32x4.splat(sign);
  const nears = f32x4.mul(f32x4.add(d, f32x4.mul(s, b)), f32x4.splat(near));
  const fars = f32x4.mul(f32x4.add(e, f32x4.mul(s, a)), f32x4.splat(far));
  return f32x4.add(f32x4.add(f32x4.mul(c, f32x4.splat(middle)), nears), fars);
}

function across(from: usize, to: usize, width: i32, height: i32, middle: f32, near: f32, far: f32, sign: f32): void {
  for (let y = 0; y < height; y++) {
    const row = rowOf(from, y, width);
    const out = rowOf(to, y, width);
    for (let x: usize = 0; x < <usize>width << 2; x += 16) {
      const p = row + x;
      const before = v128.load(p - 4);
      const after = v128.load(p + 4);
      v128.store(out + x, five(v128.load(p - 8), before, v128.load(p), after, v128.load(p + 8), middle, near, far, sign));
    }
    wrap(out, width);
  }
}

/** Down the columns; the first and the last row stand for what would be beyond. */
function down(from: usize, to: usize, width: i32, height: i32, middle: f32, near: f32, far: f32, sign: f32): void {
  for (let y = 0; y < height; y++) {
    const a = rowOf(from, max(0, y - 2), width);
    const b = rowOf(from, max(0, y - 1), width);
    const c = rowOf(from, y, width);
    const d = rowOf(from, min(height - 1, y + 1), width);
    const e = rowOf(from, min(height - 1, y + 2), width);
    const out = rowOf(to, y, width);
    for (let x: usize = 0; x < <usize>width << 2; x += 16) {
      const before = v128.load(b + x);
      const after = v128.load(d + x);
      v128.store(out + x, five(v128.load(a + x), before, v128.load(c + x), after, v128.load(e + x), middle, near, far, sign));
    }
    wrap(out, width);
  }
}

/** Replaces slopes east and south by their products xy and yy, and writes xx. */
function products(xx: usize, east: usize, south: usize, width: i32, height: i32): void {
  for (let y = 0; y < height; y++) {
    const latitude = (0.5 - (<f64>y + 0.5) / <f64>height) * 3.141592653589793;
    const wide = f32x4.splat(<f32>(2 / Math.max(0.05, Math.cos(latitude))));
    const high = f32x4.splat(-2);
    for (let x: usize = 0; x < <usize>width << 2; x += 16) {
      const e = rowOf(east, y, width) + x;
      const s = rowOf(south, y, width) + x;
      const gx = f32x4.mul(v128.load(e), wide);
      const gy = f32x4.mul(v128.load(s), high);
      v128.store(rowOf(xx, y, width) + x, f32x4.mul(gx, gx));
      v128.store(e, f32x4.mul(gx, gy));
      v128.store(s, f32x4.mul(gy, gy));
    }
    wrap(rowOf(xx, y, width), width);
    wrap(rowOf(east, y, width), width);
    wrap(rowOf(south, y, width), width);
  }
}

/** Sums over windows; beyond the poles there is nothing. */
function boxed(from: usize, between: usize, out: usize, width: i32, height: i32): void {
  const length = <usize>width << 2;
  for (let y = 0; y < height; y++) {
    const row = rowOf(from, y, width);
    for (let x: usize = 0; x < length; x += 16) {
      let sum = f32x4.splat(0);
      for (let i = -WINDOW; i <= WINDOW; i++) sum = f32x4.add(sum, v128.load(row + x + (i << 2)));
      v128.store(rowOf(between, y, width) + x, sum);
    }
  }
  for (let y = 0; y < height; y++)
    for (let x: usize = 0; x < length; x += 16) {
      let sum = f32x4.splat(0);
      for (let j = max(0, y - WINDOW); j <= min(height - 1, y + WINDOW); j++) sum = f32x4.add(sum, v128.load(rowOf(between, j, width) + x));
      v128.store(out + <usize>y * length + x, sum);
    }
}
