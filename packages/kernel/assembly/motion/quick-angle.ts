/** atan2 of four numbers to 0.0001 radians, a fiftieth of a pixel of the reduced copy (Abramowitz and Stegun 4.4.47, with fewer terms). */
@inline
export function atan2(y: v128, x: v128): v128 {
  const ay = f32x4.abs(y);
  const ax = f32x4.abs(x);
  const large = f32x4.max(f32x4.max(ay, ax), f32x4.splat(1e-20));
  const t = f32x4.div(f32x4.min(ay, ax), large);
  const s = f32x4.mul(t, t);
  let p = f32x4.add(f32x4.splat(0.14626446), f32x4.mul(s, f32x4.splat(-0.0389862)));
  p = f32x4.add(f32x4.splat(-0.321175), f32x4.mul(s, p));
  let angle = f32x4.mul(t, f32x4.add(f32x4.splat(0.99921406), f32x4.mul(s, p)));
  angle = v128.bitselect(f32x4.sub(f32x4.splat(1.57079633), angle), angle, f32x4.gt(ay, ax));
  angle = v128.bitselect(f32x4.sub(f32x4.splat(3.14159265), angle), angle, f32x4.lt(x, f32x4.splat(0)));
  return v128.bitselect(f32x4.neg(angle), angle, f32x4.lt(y, f32x4.splat(0)));
}
