/** Tetrahedral interpolation in a lattice of three inputs and three outputs: of four points about a place, the grey ones among them. */
import { vec3, type Vec3 } from '../geometry/rotation.js';

export interface Lattice {
  /** Points a side. */
  steps: number;
  /** Three numbers for each point, the first input running fastest. */
  values: Float32Array;
}

/** The value at a place, each input 0…1; what lies outside is taken to lie on the side. */
export function tetrahedral({ steps, values }: Lattice, inputs: Vec3): Vec3 {
  const strides = [3, 3 * steps, 3 * steps * steps];
  let corner = 0;
  const axes = inputs.map((v, k) => {
    const place = Math.max(0, Math.min(1, v)) * (steps - 1);
    const whole = Math.min(steps - 2, Math.floor(place));
    corner += whole * strides[k]!;
    return { stride: strides[k]!, share: place - whole };
  });
  // From the near corner to the far one along the axes, the farthest inside first.
  axes.sort((a, b) => b.share - a.share);
  const out = [0, 0, 0];
  let at = corner;
  let left = 1;
  for (let k = 0; k <= 3; k++) {
    const next = axes[k]?.share ?? 0;
    for (let c = 0; c < 3; c++) out[c]! += (left - next) * values[at + c]!;
    left = next;
    at += axes[k]?.stride ?? 0;
  }
  return vec3(out);
}
