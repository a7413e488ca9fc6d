/** Directions spread about one. */
import { apply, RADIANS, turnTo, type Vec3 } from '../../geometry/rotation.js';

/** Directions on a net about one: within `reach` degrees, `step` degrees apart. */
export function net(about: Vec3, reach: number, step: number): Vec3[] {
  const turn = turnTo([0, 1, 0], about);
  const out: Vec3[] = [];
  const n = Math.floor(reach / step);
  for (let i = -n; i <= n; i++)
    for (let j = -n; j <= n; j++) {
      const away = Math.hypot(i, j) * step;
      if (away > reach + 1e-9) continue;
      const [s, c] = [Math.sin(away * RADIANS), Math.cos(away * RADIANS)];
      const [x, z] = away > 0 ? [(i * step) / away, (j * step) / away] : [0, 0];
      out.push(apply(turn, [s * x, c, s * z]));
    }
  return out;
}
