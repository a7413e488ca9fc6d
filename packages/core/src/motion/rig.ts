/** The rig's orientation at any time, from a motion analysis. */
import {
  apply,
  matrixOf,
  multiply,
  quaternionOf,
  slerp,
  transpose,
  unit,
  type Matrix3,
  type Quaternion,
  type Vec3,
  vec3,
} from '../geometry/rotation.js';
import { segments } from './finish.js';
import type { Motion } from './motion.js';
import { frameOf } from '../time/frames.js';

/** A motion analysis seen from a mounted picture: everything is in the axes of its first frame, turned as it is mounted. */
export class Rig {
  readonly frames: number;
  readonly rate: number;
  /** Number of the part between cuts to which each frame belongs. */
  readonly part: Int32Array;
  private readonly orientations: Quaternion[];
  /** First frame of each part, and one past the last of all. */
  private readonly starts: number[];

  constructor(
    readonly motion: Motion,
    readonly mount: Matrix3,
  ) {
    this.frames = motion.frames.length;
    this.rate = motion.rate;
    this.part = segments(new Set(motion.cuts.map((t) => Math.round(t * motion.rate))), this.frames);
    this.starts = [0];
    for (let n = 1; n < this.frames; n++) if (this.part[n] !== this.part[n - 1]) this.starts.push(n);
    this.starts.push(this.frames);
    const back = transpose(mount);
    this.orientations = motion.frames.map((f) =>
      quaternionOf(multiply(mount, multiply(matrixOf(f.orientation), back))),
    );
  }

  /** Orientation in a frame. */
  frame(n: number): Quaternion {
    return this.orientations[Math.max(0, Math.min(this.frames - 1, n))]!;
  }

  /** Number of the frame shown at a time. */
  frameOf(time: number): number {
    return Math.max(0, Math.min(this.frames - 1, frameOf(time, this.rate)));
  }

  /** First and last frame of the part between cuts in which a frame lies. */
  partOf(n: number): [first: number, last: number] {
    const part = this.part[n]!;
    return [this.starts[part]!, this.starts[part + 1]! - 1];
  }

  /** Orientation at a time in seconds, between frames by slerp, but not across a cut. */
  at(time: number): Quaternion {
    const place = Math.max(0, Math.min(this.frames - 1, time * this.rate));
    const n = Math.floor(place + 1e-6);
    const f = place - n;
    if (f < 1e-6 || n + 1 >= this.frames || this.part[n] !== this.part[n + 1]) return this.frame(n);
    return slerp(this.frame(n), this.frame(n + 1), f);
  }

  /** Up in the axes of the first frame: from gravity where it is known, else where the picture's own top points on the whole. */
  get vertical(): Vec3 {
    this.up ??= this.motion.up ? apply(this.mount, this.motion.up) : meanUp(this.orientations);
    return this.up;
  }
  private up: Vec3 | null = null;
}

function meanUp(orientations: readonly Quaternion[]): Vec3 {
  const sum = [0, 0, 0];
  const step = Math.max(1, Math.floor(orientations.length / 2000));
  for (let n = 0; n < orientations.length; n += step)
    apply(matrixOf(orientations[n]!), [0, 1, 0]).forEach((v, k) => (sum[k]! += v));
  return Math.hypot(...sum) > 1e-6 ? unit(vec3(sum)) : [0, 1, 0];
}
