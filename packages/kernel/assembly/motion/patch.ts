/**
 * Patches: small pictures of the sphere laid flat on the plane that touches it in their middle, so that they look the
 * same wherever they lie. A patch is taken once, on several levels, and found again in later frames by the inverse
 * compositional form of Lucas and Kanade's method (Baker and Matthews 2004), from the coarsest level to the finest.
 */
import { acrossOf, blend, blendInside, downOf } from './pyramid';

/** Samples from a patch's middle to its edge, and across. */
const HALF: i32 = 5;
const SIDE: i32 = 2 * HALF + 1;
const COUNT: i32 = SIDE * SIDE;
/** Bytes of one level of a patch: values, slopes across and up, and the inverse of their matrix (3), each 32 bits. */
const LEVEL_BYTES: usize = <usize>(COUNT * 3 + 3) << 2;
const STEPS: i32 = 6;
/** A patch with less contrast than this (standard deviation in grey levels) shows nothing. */
const FLAT: f32 = 0.8;

/** Bytes of a patch of some levels. */
export function patchBytes(levels: i32): i32 {
  return levels * <i32>LEVEL_BYTES;
}

const values = memory.data((SIDE + 2) * (SIDE + 2) * 4);

/** Sine of the latitude from which on every sample's place is computed exactly: nearer the poles a parabola is too far off. */
const STEEP: f64 = 0.93;
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
  if (abs(y) > STEEP) {
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
      // Parabolas through the nine may bulge past them by a little.
      if (u < 2 || u > <f64>(width - 4) || v < 2 || v > <f64>(height - 4)) inside = false;
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
      for (let i = -reach; i <= reach; i++) {
        const a = <f32>i;
        const u = <f32>u1 + a * (<f32>us + a * <f32>uc);
        const v = <f32>v1 + a * (<f32>vs + a * <f32>vc);
        store<f32>(out, blendInside(level, width, u, v));
        out += 4;
      }
      continue;
    }
    for (let i = -reach; i <= reach; i++) {
      const a = <f64>i;
      store<f32>(out, blend(level, width, height, <f32>(u1 + a * (us + a * uc)), <f32>(v1 + a * (vs + a * vc))));
      out += 4;
    }
  }
}

// @ts-ignore: decorator
@inline
function row(offset: usize, low: f64, mid: f64, high: f64): f64 {
  const p = places + offset;
  return low * load<f64>(p) + mid * load<f64>(p, 48) + high * load<f64>(p, 96);
}

/** Brings values to a mean of 0 and a standard deviation of 1; gives the deviation there was. */
function normalise(at: usize, count: i32): f32 {
  let sum: f32 = 0;
  let squares: f32 = 0;
  for (let i = 0; i < count; i++) {
    const v = load<f32>(at + (<usize>i << 2));
    sum += v;
    squares += v * v;
  }
  const mean = sum / <f32>count;
  const deviation = Mathf.sqrt(max<f32>(0, squares / <f32>count - mean * mean));
  const k: f32 = deviation > 1e-3 ? 1 / deviation : 0;
  for (let i = 0; i < count; i++) store<f32>(at + (<usize>i << 2), (load<f32>(at + (<usize>i << 2)) - mean) * k);
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
  const deviation = normalise(at, COUNT);
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
 * Finds a patch again in the present frame, starting on level `coarsest`: moves `frame` to where it is and gives how
 * alike they are there, as a correlation of −1…1; −2 where it was lost on the way.
 */
export function findPatch(patch: usize, coarsest: i32, pyramid: usize, width: i32, frame: usize): f32 {
  for (let n = coarsest; n >= 0; n--) {
    const at = patch + <usize>n * LEVEL_BYTES;
    const level = load<u32>(pyramid + (<usize>n << 2));
    const inverse = at + (<usize>(3 * COUNT) << 2);
    const step = 6.283185307179586 / <f64>(width >> n);
    let gone: f64 = 0;
    for (let s = 0; s < STEPS; s++) {
      sampleAll(values, HALF, level, width >> n, frame);
      normalise(values, COUNT);
      let ex: f32 = 0;
      let ey: f32 = 0;
      for (let i = 0; i < COUNT; i++) {
        const offset = <usize>i << 2;
        const e = load<f32>(values + offset) - load<f32>(at + offset);
        ex += e * load<f32>(at + (<usize>COUNT << 2) + offset);
        ey += e * load<f32>(at + (<usize>(2 * COUNT) << 2) + offset);
      }
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
      if (length < (n > 0 ? 0.06 : 0.015)) break;
    }
  }
  sampleAll(values, HALF, load<u32>(pyramid), width, frame);
  normalise(values, COUNT);
  let alike: f32 = 0;
  for (let i = 0; i < COUNT; i++) alike += load<f32>(values + (<usize>i << 2)) * load<f32>(patch + (<usize>i << 2));
  return alike / <f32>COUNT;
}
