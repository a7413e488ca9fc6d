/** Arcs of the map from directions to pictures, cheaper than the standard library's. */

/** atan for 0…1, after Cephes' atanf: error below 1e-7. */
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

@inline
export function atan2(y: f64, x: f64): f64 {
  const ax = abs(x);
  const ay = abs(y);
  const large = max(ax, ay);
  if (large == 0) return 0;
  let a = atan01(min(ax, ay) / large);
  if (ay > ax) a = 1.5707963267948966 - a;
  if (x < 0) a = 3.141592653589793 - a;
  return y < 0 ? -a : a;
}
