/** Turning about the vertical, apart from lean: what ahead follows. */
import {
  apply,
  cross,
  dot,
  matrixOf,
  multiply,
  quaternionOf,
  rotationAbout,
  unit,
  type Quaternion,
  type Vec3,
} from '../geometry/rotation.js';
import type { Rig } from '../motion/rig.js';

/** The part of an orientation that turns about a vertical (swing–twist), in radians, −π…π. */
export const twistOf = (q: Quaternion, vertical: Vec3) =>
  wrap(2 * Math.atan2(q[0] * vertical[0] + q[1] * vertical[1] + q[2] * vertical[2], q[3]));

const wrap = (angle: number) => angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI));

/** An orientation turned about a vertical, so that its twist is another. */
export function withTwist(q: Quaternion, vertical: Vec3, twist: number): Quaternion {
  const turn = twist - twistOf(q, vertical);
  return quaternionOf(
    multiply(rotationAbout([vertical[0] * turn, vertical[1] * turn, vertical[2] * turn]), matrixOf(q)),
  );
}

/** The headings of a rig over its frames, in radians and without jumps. */
export class Headings {
  /** The rig's own twist in every frame, unwrapped. */
  readonly rig: Float64Array;
  /** The heading of its travel as a twist, and how sure it is. */
  private travel: { twist: Float64Array; weight: Float64Array } | null = null;

  constructor(private readonly of: Rig) {
    this.rig = new Float64Array(of.frames);
    for (let n = 0; n < of.frames; n++) {
      const twist = twistOf(of.frame(n), of.vertical);
      this.rig[n] = n ? this.rig[n - 1]! + wrap(twist - this.rig[n - 1]!) : twist;
    }
  }

  /** The rig's twist at a frame, smoothed over some seconds to either side. */
  smoothRig(n: number, window: number): number {
    const [sum, total] = this.gather(n, window, (k) => [this.rig[k]!, 1]);
    return total > 0 ? sum / total : this.rig[n]!;
  }

  /** The heading of the travel at a frame, smoothed; where none is known, the nearest that is. */
  smoothTravel(n: number, window: number): number {
    const { twist, weight } = (this.travel ??= this.travels());
    const [sum, total] = this.gather(n, window, (k) => [twist[k]!, weight[k]!]);
    return total > 1e-6 ? sum / total : twist[n]!;
  }

  private gather(n: number, window: number, value: (k: number) => [number, number]): [sum: number, total: number] {
    const { rate, part, frames } = this.of;
    const reach = Math.round(window * rate);
    if (reach < 1) {
      const [v, w] = value(n);
      return [v * w, w];
    }
    let [sum, total] = [0, 0];
    for (let k = Math.max(0, n - reach); k <= Math.min(frames - 1, n + reach); k++) {
      if (part[k] !== part[n]) continue;
      const [v, w] = value(k);
      const g = w * Math.exp(-2 * ((k - n) / reach) ** 2);
      sum += v * g;
      total += g;
    }
    return [sum, total];
  }

  private travels() {
    const { of } = this;
    const up = of.vertical;
    const north = unit(cross(cross(up, [0, 0, 1]), up));
    const east = cross(up, north);
    const twist = new Float64Array(of.frames);
    const weight = new Float64Array(of.frames);
    let last: number | null = null;
    for (let n = 0; n < of.frames; n++) {
      const { travel, travelConfidence } = of.motion.frames[n]!;
      const along = apply(matrixOf(of.frame(n)), apply(of.mount, travel));
      const flat = Math.hypot(dot(along, east), dot(along, north));
      weight[n] = flat > 0.3 ? travelConfidence ** 2 : 0;
      const heading = Math.atan2(dot(along, east), dot(along, north));
      // An unsure heading must not bring in a turn; it keeps the last sure one.
      if (weight[n]! > 0.1) last = last === null ? heading : last + wrap(heading - last);
      twist[n] = weight[n]! > 0.1 ? last! : (last ?? NaN);
    }
    const first = twist.find((v) => !Number.isNaN(v)) ?? 0;
    for (let n = 0; n < of.frames && Number.isNaN(twist[n]!); n++) twist[n] = first;
    return { twist, weight };
  }
}
