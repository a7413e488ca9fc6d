/**
 * Patches: small pictures of the sphere laid flat on the plane that touches it in their middle, so that they look the
 * same wherever they lie. A patch is taken once, on several levels, and found again in later frames by the inverse
 * compositional form of Lucas and Kanade's method (Baker and Matthews 2004), from the coarsest level to the finest.
 */
import { acrossOf, blend, blendFour, downOf } from './pyramid';

/** Samples from a patch's middle to its edge, and across. */
const HALF: i32 = 5;
const SIDE: i32 = 2 * HALF + 1;
const COUNT: i32 = SIDE * SIDE;
/** Bytes from a patch's first value to its last. */
const LAST: usize = <usize>(COUNT - 1) << 2;
/** Bytes of one level of a patch: values, slopes across and up, and the inverse of their matrix (3), each 32 bits. */
const LEVEL_BYTES: usize = <usize>(COUNT * 3 + 3) << 2;
const STEPS: i32 = 6;
/** A patch with less contrast than this (standard deviation in grey levels) shows nothing. */
const FLAT: f32 = 0.8;

/** Bytes of a patch of some levels. */
export function patchBytes(levels: i32): i32 {
  return levels * <i32>LEVEL_BYTES;
}

const values = memory.data((SIDE + 2) * (SIDE + 2) * 4 + 16);

/** Nearer to a pole than so many times its own half every sample's place is computed exactly: a parabola is too far off. */
const CLEAR: f64 = 3;
const places = memory.data(9 * 2 * 8);

/**
 * Samples of a level round a direction, `reach` samples from the middle to the edge, into `out`. Their places in the
 * picture are computed exactly at nine of them, and along parabolas between.
 */
function sampleAll(out: usize, reach: i32, level: usize, width: i32, frame: usize): void {
  const step = 6.283185307179586 / <f64>width;
  const height = width >> 1;
  const x = load<f64>(frame);
  const y = load<f64>(frame, 8);
  const z = load<f64>(frame, 16);
  const ax = load<f64>(frame, 24) * step;
  const ay = load<f64>(frame, 32) * step;
  const az = load<f64>(frame, 40) * step;
  const bx = load<f64>(frame, 48) * step;
  const by = load<f64>(frame, 56) * step;
  const bz = load<f64>(frame, 64) * step;
  const near = CLEAR * <f64>reach * step;
  if (1 - y * y < near * near) {
    for (let j = -reach; j <= reach; j++)
      for (let i = -reach; i <= reach; i++) {
        const px = x + <f64>i * ax + <f64>j * bx;
        const py = y + <f64>i * ay + <f64>j * by;
        const pz = z + <f64>i * az + <f64>j * bz;
        store<f32>(out, blend(level, width, height, <f32>acrossOf(px, pz, width), <f32>downOf(px, py, pz, height)));
        out += 4;
      }
    return;
  }
  const middle = acrossOf(x, z, width);
  let place = places;
  let inside = true;
  for (let j = -reach; j <= reach; j += reach)
    for (let i = -reach; i <= reach; i += reach) {
      const px = x + <f64>i * ax + <f64>j * bx;
      const py = y + <f64>i * ay + <f64>j * by;
      const pz = z + <f64>i * az + <f64>j * bz;
      let u = acrossOf(px, pz, width);
      if (u - middle > <f64>height) u -= <f64>width;
      else if (middle - u > <f64>height) u += <f64>width;
      const v = downOf(px, py, pz, height);
      // Parabolas through the nine may bulge past them by a little, and four are taken at a time.
      if (u < 6 || u > <f64>(width - 8) || v < 6 || v > <f64>(height - 8)) inside = false;
      store<f64>(place, u);
      store<f64>(place, v, 8);
      place += 16;
    }
  const r = 1 / <f64>reach;
  for (let j = -reach; j <= reach; j++) {
    // Each row's start, slope and curve, by parabolas through the three rows that are known.
    const t = <f64>j * r;
    const low = 0.5 * t * (t - 1);
    const mid = 1 - t * t;
    const high = 0.5 * t * (t + 1);
    const u0 = row(0, low, mid, high);
    const u1 = row(16, low, mid, high);
    const u2 = row(32, low, mid, high);
    const v0 = row(8, low, mid, high);
    const v1 = row(24, low, mid, high);
    const v2 = row(40, low, mid, high);
    const us = 0.5 * (u2 - u0) * r;
    const uc = (0.5 * (u2 + u0) - u1) * r * r;
    const vs = 0.5 * (v2 - v0) * r;
    const vc = (0.5 * (v2 + v0) - v1) * r * r;
    if (inside) {
      // The last four may write past the row's end; the next row, or the buffer's slack, takes that.
      for (let i = 0; i <= 2 * reach; i += 4) {
        const a = f32x4.add(f32x4.splat(<f32>(i - reach)), f32x4(0, 1, 2, 3));
        const u = f32x4.add(f32x4.splat(<f32>u1), f32x4.mul(a, f32x4.add(f32x4.splat(<f32>us), f32x4.mul(a, f32x4.splat(<f32>uc)))));
        const v = f32x4.add(f32x4.splat(<f32>v1), f32x4.mul(a, f32x4.add(f32x4.splat(<f32>vs), f32x4.mul(a, f32x4.splat(<f32>vc)))));
        v128.store(out + (<usize>i << 2), blendFour(level, width, u, v));
      }
      out += <usize>(2 * reach + 1) << 2;
      continue;
    }
    for (let i = -reach; i <= reach; i++) {
      const a = <f64>i;
      store<f32>(out, blend(level, width, height, <f32>(u1 + a * (us + a * uc)), <f32>(v1 + a * (vs + a * vc))));
      out += 4;
    }
  }
}

@inline
function row(offset: usize, low: f64, mid: f64, high: f64): f64 {
  const p = places + offset;
  return low * load<f64>(p) + mid * load<f64>(p, 48) + high * load<f64>(p, 96);
}

@inline
function sumOf(lanes: v128): f32 {
  return f32x4.extract_lane(lanes, 0) + f32x4.extract_lane(lanes, 1) + f32x4.extract_lane(lanes, 2) + f32x4.extract_lane(lanes, 3);
}

/** Brings COUNT values to a mean of 0 and a standard deviation of 1; gives the deviation there was. */
function normalise(at: usize): f32 {
  const last = at + (<usize>(COUNT - 1) << 2);
  let sums = f32x4.splat(0);
  let squares = f32x4.splat(0);
  for (let p = at; p < last; p += 16) {
    const v = v128.load(p);
    sums = f32x4.add(sums, v);
    squares = f32x4.add(squares, f32x4.mul(v, v));
  }
  const end = load<f32>(last);
  const mean = (sumOf(sums) + end) / <f32>COUNT;
  const deviation = Mathf.sqrt(max<f32>(0, (sumOf(squares) + end * end) / <f32>COUNT - mean * mean));
  const k: f32 = deviation > 1e-3 ? 1 / deviation : 0;
  for (let p = at; p < last; p += 16) v128.store(p, f32x4.mul(f32x4.sub(v128.load(p), f32x4.splat(mean)), f32x4.splat(k)));
  store<f32>(last, (end - mean) * k);
  return deviation;
}

/**
 * Takes a patch: `frame` holds its middle and its two axes (unit vectors, 9 doubles), `pyramid` the levels' pointers
 * (32 bits each). Gives its contrast on the finest level, 0 if it shows nothing.
 */
export function takePatch(patch: usize, levels: i32, pyramid: usize, width: i32, frame: usize): f32 {
  let contrast: f32 = 0;
  for (let n = 0; n < levels; n++) {
    const at = patch + <usize>n * LEVEL_BYTES;
    sampleAll(values, HALF + 1, load<u32>(pyramid + (<usize>n << 2)), width >> n, frame);
    const deviation = takeLevel(at);
    if (n == 0) contrast = deviation;
  }
  return contrast < FLAT ? 0 : contrast;
}

function takeLevel(at: usize): f32 {
  const row = (SIDE + 2) << 2;
  for (let j = 0; j < SIDE; j++)
    memory.copy(at + <usize>(j * SIDE * 4), values + <usize>((j + 1) * row + 4), <usize>(SIDE * 4));
  const deviation = normalise(at);
  const k: f32 = deviation > 1e-3 ? 0.5 / deviation : 0;
  const across = at + (<usize>COUNT << 2);
  const up = across + (<usize>COUNT << 2);
  let xx: f32 = 1e-6;
  let xy: f32 = 0;
  let yy: f32 = 1e-6;
  for (let j = 0; j < SIDE; j++)
    for (let i = 0; i < SIDE; i++) {
      const p = values + <usize>((j + 1) * row + ((i + 1) << 2));
      const gx = (load<f32>(p + 4) - load<f32>(p - 4)) * k;
      const gy = (load<f32>(p + <usize>row) - load<f32>(p - <usize>row)) * k;
      const offset = <usize>(j * SIDE + i) << 2;
      store<f32>(across + offset, gx);
      store<f32>(up + offset, gy);
      xx += gx * gx;
      xy += gx * gy;
      yy += gy * gy;
    }
  const inverse = up + (<usize>COUNT << 2);
  const determinant = xx * yy - xy * xy;
  const d: f32 = determinant > 1e-4 ? 1 / determinant : 0;
  store<f32>(inverse, yy * d);
  store<f32>(inverse, -xy * d, 4);
  store<f32>(inverse, xx * d, 8);
  return deviation;
}

/** Moves a frame's middle along its axes by shares of a radian, and turns the axes with it. */
function move(frame: usize, a: f64, b: f64): void {
  let x = load<f64>(frame) + a * load<f64>(frame, 24) + b * load<f64>(frame, 48);
  let y = load<f64>(frame, 8) + a * load<f64>(frame, 32) + b * load<f64>(frame, 56);
  let z = load<f64>(frame, 16) + a * load<f64>(frame, 40) + b * load<f64>(frame, 64);
  const n = 1 / Math.sqrt(x * x + y * y + z * z);
  x *= n;
  y *= n;
  z *= n;
  store<f64>(frame, x);
  store<f64>(frame, y, 8);
  store<f64>(frame, z, 16);
  for (let k: usize = 24; k <= 48; k += 24) {
    const p = frame + k;
    let ax = load<f64>(p);
    let ay = load<f64>(p, 8);
    let az = load<f64>(p, 16);
    const along = ax * x + ay * y + az * z;
    ax -= along * x;
    ay -= along * y;
    az -= along * z;
    const m = 1 / Math.sqrt(ax * ax + ay * ay + az * az);
    store<f64>(p, ax * m);
    store<f64>(p, ay * m, 8);
    store<f64>(p, az * m, 16);
  }
}

/**
 * Finds patches again in the present frame: `slots` says which (32 bits each), `frames` where they are expected (9 doubles each) and
 * then where they are, `alike` takes how alike they are (32 bits each).
 */
export function findPatches(patches: usize, levels: i32, count: i32, slots: usize, frames: usize, alike: usize, coarsest: i32, pyramid: usize, width: i32): void {
  const size = <usize>patchBytes(levels);
  for (let i: usize = 0; i < <usize>count; i++) {
    const patch = patches + <usize>load<i32>(slots + (i << 2)) * size;
    store<f32>(alike + (i << 2), findPatch(patch, coarsest, pyramid, width, frames + i * 72));
  }
}

/**
 * Finds a patch again in the present frame, from level `coarsest` to the picture's own pixels: moves `frame` to where it is and gives how
 * alike they were before the last step, as a correlation of −1…1; −2 where it was lost on the way.
 */
function findPatch(patch: usize, coarsest: i32, pyramid: usize, width: i32, frame: usize): f32 {
  let alike: f32 = -2;
  for (let n = coarsest; n >= 0; n--) {
    const at = patch + <usize>n * LEVEL_BYTES;
    const level = load<u32>(pyramid + (<usize>n << 2));
    const inverse = at + (<usize>(3 * COUNT) << 2);
    const step = 6.283185307179586 / <f64>(width >> n);
    let gone: f64 = 0;
    for (let s = 0; s < STEPS; s++) {
      sampleAll(values, HALF, level, width >> n, frame);
      normalise(values);
      let xs = f32x4.splat(0);
      let ys = f32x4.splat(0);
      let squares = f32x4.splat(0);
      for (let o: usize = 0; o < LAST; o += 16) {
        const e = f32x4.sub(v128.load(values + o), v128.load(at + o));
        xs = f32x4.add(xs, f32x4.mul(e, v128.load(at + o, COUNT * 4)));
        ys = f32x4.add(ys, f32x4.mul(e, v128.load(at + o, COUNT * 8)));
        squares = f32x4.add(squares, f32x4.mul(e, e));
      }
      const end = load<f32>(values + LAST) - load<f32>(at + LAST);
      const ex = sumOf(xs) + end * load<f32>(at + LAST, COUNT * 4);
      const ey = sumOf(ys) + end * load<f32>(at + LAST, COUNT * 8);
      // Both are normalised, so that their difference tells their correlation.
      alike = 1 - (sumOf(squares) + end * end) / (<f32>COUNT * 2);
      let dx = <f64>(load<f32>(inverse) * ex + load<f32>(inverse, 4) * ey);
      let dy = <f64>(load<f32>(inverse, 4) * ex + load<f32>(inverse, 8) * ey);
      const length = Math.sqrt(dx * dx + dy * dy);
      // A step of more than two samples goes past what the slopes can tell.
      if (length > 2) {
        dx *= 2 / length;
        dy *= 2 / length;
      }
      gone += length;
      if (gone > 12) return -2;
      move(frame, -dx * step, -dy * step);
      if (length < (n > 0 ? 0.3 : 0.08)) break;
    }
  }
  return alike;
}
