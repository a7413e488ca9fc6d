/**
 * Whole pictures against a panorama of what was seen before: what a small turn, and another exposure, would change in how they
 * differ. Both are levels of width × width/2 floats. A model says how the panorama is seen in a picture: the rotation from its axes
 * to the picture's (9 doubles), how much brighter the picture is (a factor and grey levels), and the slope in grey levels a radian
 * below which a pixel counts little.
 */
import { blendFour } from './pyramid';

/** Unknowns: a turn about three axes, and how much brighter, in shares and in grey levels. */
const UNKNOWNS: i32 = 5;
/** Every so manieth row is looked at: those between say little more. */
const EVERY: i32 = 4;
/** Numbers that are summed: the upper triangle of the normal equations, their right side, weights, and squares of what is left. */
const SUMS: i32 = 15 + UNKNOWNS + 2;
const row = memory.data(SUMS * 16);

/**
 * Holds a picture against the panorama. `cells` says which cell of a grid each pixel of the picture is in (16 bits), `weights` how
 * much each cell counts (32-bit floats). Writes SUMS doubles: normal equations of the unknowns (picture = brightened panorama,
 * whose axes are turned first), their right side, the sum of weights, and of weighted squares.
 */
export function compareWhole(panorama: usize, picture: usize, width: i32, model: usize, cells: usize, weights: usize, out: usize): void {
  const height = width >> 1;
  const line = <usize>width << 2;
  const step: f32 = 6.2831855 / <f32>width;
  const gain = number(model, 9);
  const lift = number(model, 10);
  const enough = f32x4.mul(number(model, 11), number(model, 11));
  const one = f32x4.splat(1);
  memory.fill(out, 0, SUMS * 8);
  for (let y = 2; y < height - 2; y += EVERY) {
    memory.fill(row, 0, SUMS * 16);
    const latitude = latitudeAt(y, height);
    const high = f32x4.splat(<f32>Math.sin(latitude));
    const flat = f32x4.splat(<f32>Math.cos(latitude));
    const north = f32x4.mul(f32x4.splat(0.5 / step), gain);
    const east = f32x4.div(north, flat);
    for (let x = 4; x < width - 4; x += 4) {
      const longitude = longitudes(x, step);
      const s = sine(longitude);
      const c = sine(f32x4.add(longitude, f32x4.splat(1.5707964)));
      const dx = f32x4.mul(flat, s);
      const dz = f32x4.mul(flat, c);
      const px = turned(model, 0, dx, high, dz);
      const py = turned(model, 3, dx, high, dz);
      const pz = turned(model, 6, dx, high, dz);
      let u = acrossOf(px, pz, width);
      let v = downOf(px, py, pz, width);
      const inside = within(u, v, width);
      u = v128.and(u, inside);
      v = v128.and(v, inside);
      const at = panorama + <usize>y * line + (<usize>x << 2);
      const was = v128.load(at);
      const left = f32x4.sub(blendFour(picture, width, u, v), f32x4.add(f32x4.mul(was, gain), lift));
      // Slopes of the panorama, and with them what a turn about each of its axes changes.
      const ge = f32x4.mul(f32x4.sub(v128.load(at + 4), v128.load(at - 4)), east);
      const gn = f32x4.mul(f32x4.sub(v128.load(at - line), v128.load(at + line)), north);
      const slant = f32x4.neg(f32x4.mul(high, ge));
      const jx = f32x4.sub(f32x4.mul(slant, s), f32x4.mul(gn, c));
      const jy = f32x4.mul(flat, ge);
      const jz = f32x4.add(f32x4.mul(slant, c), f32x4.mul(gn, s));
      const steep = f32x4.add(f32x4.mul(ge, ge), f32x4.mul(gn, gn));
      const clear = f32x4.div(steep, f32x4.add(steep, enough));
      const counts = f32x4.mul(weightsAt(u, v, width, cells, weights), f32x4.mul(flat, clear));
      add(jx, jy, jz, was, one, left, v128.and(counts, inside));
    }
    for (let k = 0; k < SUMS; k++) {
      const sum = v128.load(row + (<usize>k << 4));
      const total = f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1) + f32x4.extract_lane(sum, 2) + f32x4.extract_lane(sum, 3);
      const to = out + (<usize>k << 3);
      store<f64>(to, load<f64>(to) + <f64>total);
    }
  }
}

/** Mixes a share of a picture into the panorama. */
export function mixWhole(panorama: usize, picture: usize, width: i32, model: usize, share: f32): void {
  const height = width >> 1;
  const step: f32 = 6.2831855 / <f32>width;
  const dim = f32x4.div(f32x4.splat(1), number(model, 9));
  const lift = number(model, 10);
  const part = f32x4.splat(share);
  for (let y = 0; y < height; y++) {
    const latitude = latitudeAt(y, height);
    const high = f32x4.splat(<f32>Math.sin(latitude));
    const flat = f32x4.splat(<f32>Math.cos(latitude));
    for (let x = 0; x < width; x += 4) {
      const longitude = longitudes(x, step);
      const dx = f32x4.mul(flat, sine(longitude));
      const dz = f32x4.mul(flat, sine(f32x4.add(longitude, f32x4.splat(1.5707964))));
      const px = turned(model, 0, dx, high, dz);
      const py = turned(model, 3, dx, high, dz);
      const pz = turned(model, 6, dx, high, dz);
      const u = acrossOf(px, pz, width);
      const v = downOf(px, py, pz, width);
      const inside = within(u, v, width);
      const seen = f32x4.mul(f32x4.sub(blendFour(picture, width, v128.and(u, inside), v128.and(v, inside)), lift), dim);
      const at = panorama + (<usize>(y * width + x) << 2);
      const old = v128.load(at);
      v128.store(at, f32x4.add(old, v128.and(f32x4.mul(f32x4.sub(seen, old), part), inside)));
    }
  }
}

@inline
function latitudeAt(y: i32, height: i32): f64 {
  return (0.5 - (<f64>y + 0.5) / <f64>height) * 3.141592653589793;
}

/** Longitudes of four pixels from x on. */
@inline
function longitudes(x: i32, step: f32): v128 {
  const middles = f32x4.add(f32x4.splat(<f32>x), f32x4(0.5, 1.5, 2.5, 3.5));
  return f32x4.sub(f32x4.mul(middles, f32x4.splat(step)), f32x4.splat(3.1415927));
}

@inline
function number(at: usize, k: i32): v128 {
  return f32x4.splat(<f32>load<f64>(at + (<usize>k << 3)));
}

/** What a row of a rotation makes of four directions. */
@inline
function turned(rotation: usize, k: i32, x: v128, y: v128, z: v128): v128 {
  const flat = f32x4.add(f32x4.mul(number(rotation, k), x), f32x4.mul(number(rotation, k + 2), z));
  return f32x4.add(flat, f32x4.mul(number(rotation, k + 1), y));
}

/** Where four directions lie in a picture, half a pixel less than usual. */
@inline
function acrossOf(x: v128, z: v128, width: i32): v128 {
  return f32x4.add(f32x4.mul(atan2(x, z), f32x4.splat(<f32>width / 6.2831855)), f32x4.splat(<f32>width * 0.5 - 0.5));
}

@inline
function downOf(x: v128, y: v128, z: v128, width: i32): v128 {
  const flat = f32x4.sqrt(f32x4.add(f32x4.mul(x, x), f32x4.mul(z, z)));
  return f32x4.sub(f32x4.splat(<f32>width * 0.25 - 0.5), f32x4.mul(atan2(y, flat), f32x4.splat(<f32>width / 6.2831855)));
}

/** Which places have all their neighbours in the picture: not those at its sides, nor at the poles. */
@inline
function within(u: v128, v: v128, width: i32): v128 {
  const sides = v128.and(f32x4.gt(u, f32x4.splat(1)), f32x4.lt(u, f32x4.splat(<f32>(width - 2))));
  const poles = v128.and(f32x4.gt(v, f32x4.splat(1)), f32x4.lt(v, f32x4.splat(<f32>((width >> 1) - 2))));
  return v128.and(sides, poles);
}

/** How much the cells count in which four places lie. */
@inline
function weightsAt(u: v128, v: v128, width: i32, cells: usize, weights: usize): v128 {
  const at = i32x4.add(i32x4.mul(i32x4.trunc_sat_f32x4_s(v), i32x4.splat(width)), i32x4.trunc_sat_f32x4_s(u));
  let counts = f32x4.splat(weightAt(i32x4.extract_lane(at, 0), cells, weights));
  counts = f32x4.replace_lane(counts, 1, weightAt(i32x4.extract_lane(at, 1), cells, weights));
  counts = f32x4.replace_lane(counts, 2, weightAt(i32x4.extract_lane(at, 2), cells, weights));
  return f32x4.replace_lane(counts, 3, weightAt(i32x4.extract_lane(at, 3), cells, weights));
}

@inline
function weightAt(at: i32, cells: usize, weights: usize): f32 {
  return load<f32>(weights + (<usize>load<u16>(cells + (<usize>at << 1)) << 2));
}

/** atan for four values of 0…1, after Cephes' atanf. */
@inline
function atan01(x: v128): v128 {
  const one = f32x4.splat(1);
  const steep = f32x4.gt(x, f32x4.splat(0.41421356));
  const t = v128.bitselect(f32x4.div(f32x4.sub(x, one), f32x4.add(x, one)), x, steep);
  const z = f32x4.mul(t, t);
  let p = f32x4.sub(f32x4.mul(f32x4.splat(8.05374449538e-2), z), f32x4.splat(1.38776856032e-1));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(1.99777106478e-1));
  p = f32x4.sub(f32x4.mul(p, z), f32x4.splat(3.33329491539e-1));
  return f32x4.add(v128.and(steep, f32x4.splat(0.78539816)), f32x4.add(t, f32x4.mul(f32x4.mul(t, z), p)));
}

@inline
function atan2(y: v128, x: v128): v128 {
  const ax = f32x4.abs(x);
  const ay = f32x4.abs(y);
  let a = atan01(f32x4.div(f32x4.min(ax, ay), f32x4.max(f32x4.max(ax, ay), f32x4.splat(1e-20))));
  a = v128.bitselect(f32x4.sub(f32x4.splat(1.5707964), a), a, f32x4.gt(ay, ax));
  a = v128.bitselect(f32x4.sub(f32x4.splat(3.1415927), a), a, f32x4.lt(x, f32x4.splat(0)));
  return v128.bitselect(f32x4.neg(a), a, f32x4.lt(y, f32x4.splat(0)));
}

/** Sines of four angles of −π…2π. */
@inline
function sine(angle: v128): v128 {
  const pi = f32x4.splat(3.1415927);
  // Brought to −π/2…π/2, where the polynomial is good to 1e-7 or so.
  const turns = f32x4.floor(f32x4.add(f32x4.div(angle, pi), f32x4.splat(0.5)));
  const a = f32x4.sub(angle, f32x4.mul(turns, pi));
  const odd = f32x4.sub(turns, f32x4.mul(f32x4.floor(f32x4.mul(turns, f32x4.splat(0.5))), f32x4.splat(2)));
  const z = f32x4.mul(a, a);
  let p = f32x4.add(f32x4.mul(f32x4.splat(2.6083159e-6), z), f32x4.splat(-1.981069e-4));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(8.3330786e-3));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-0.16666659));
  const value = f32x4.add(a, f32x4.mul(f32x4.mul(a, z), p));
  return v128.bitselect(f32x4.neg(value), value, f32x4.gt(odd, f32x4.splat(0.5)));
}

@inline
function sumUp(k: i32, value: v128): void {
  const at = row + (<usize>k << 4);
  v128.store(at, f32x4.add(v128.load(at), value));
}

/** Adds four pixels' rows to the sums. */
@inline
function add(a: v128, b: v128, c: v128, d: v128, e: v128, left: v128, weight: v128): void {
  const wa = f32x4.mul(weight, a);
  const wb = f32x4.mul(weight, b);
  const wc = f32x4.mul(weight, c);
  const wd = f32x4.mul(weight, d);
  const we = f32x4.mul(weight, e);
  sumUp(0, f32x4.mul(wa, a));
  sumUp(1, f32x4.mul(wa, b));
  sumUp(2, f32x4.mul(wa, c));
  sumUp(3, f32x4.mul(wa, d));
  sumUp(4, f32x4.mul(wa, e));
  sumUp(5, f32x4.mul(wb, b));
  sumUp(6, f32x4.mul(wb, c));
  sumUp(7, f32x4.mul(wb, d));
  sumUp(8, f32x4.mul(wb, e));
  sumUp(9, f32x4.mul(wc, c));
  sumUp(10, f32x4.mul(wc, d));
  sumUp(11, f32x4.mul(wc, e));
  sumUp(12, f32x4.mul(wd, d));
  sumUp(13, f32x4.mul(wd, e));
  sumUp(14, f32x4.mul(we, e));
  sumUp(15, f32x4.mul(wa, left));
  sumUp(16, f32x4.mul(wb, left));
  sumUp(17, f32x4.mul(wc, left));
  sumUp(18, f32x4.mul(wd, left));
  sumUp(19, f32x4.mul(we, left));
  sumUp(20, weight);
  sumUp(21, f32x4.mul(f32x4.mul(weight, left), left));
}
