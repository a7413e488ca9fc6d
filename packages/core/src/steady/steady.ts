/**
 * Steadying. The rig's orientation Q is known in every frame; the orientation S it should have had is made from the
 * settings, and the picture is turned by K = S⁻¹ · Q, so that it looks as if the rig had been held at S. With a strength
 * below 100 % K is that part of the way from no correction.
 */
import {
  IDENTITY,
  matrixOf,
  multiply,
  quaternionOf,
  slerp,
  transpose,
  type Matrix3,
  type Quaternion,
} from '../geometry/rotation.js';
import type { Rig } from '../motion/rig.js';
import { Headings, withTwist } from './heading.js';
import { meanOrientation } from './mean.js';
import type { Pin, Steady } from './settings.js';

const NONE: Quaternion = [0, 0, 0, 1];

/** The steadying of one rig by settings, whatever the strength; what was computed for a frame is kept. */
export class Steadying {
  private readonly frames = new Map<number, Quaternion>();
  private headings: Headings | null = null;
  /** Rolling: weights of the frames from the middle outwards; the Gaussian's spread is half the window, which ends it. */
  private readonly bell: number[];

  constructor(
    private readonly rig: Rig,
    private readonly settings: Omit<Steady, 'strength'>,
  ) {
    const reach = Math.round(settings.window * rig.rate);
    this.bell = Array.from({ length: reach + 1 }, (_, k) => Math.exp(-2 * (k / Math.max(1, reach)) ** 2));
  }

  /** The correction K at a time in seconds, from the mounted picture to the steadied one; strength in per cent. */
  at(time: number, strength: number): Matrix3 {
    const { mode } = this.settings;
    if (mode === 'off' || strength <= 0 || this.rig.frames === 0) return IDENTITY;
    const n = this.rig.frameOf(time);
    const f = time * this.rig.rate - n;
    const held = this.wanted(n);
    const between = f > 1e-6 && n + 1 < this.rig.frames && this.rig.part[n] === this.rig.part[n + 1];
    const wanted = between ? slerp(held, this.wanted(n + 1), f) : held;
    const full = multiply(transpose(matrixOf(wanted)), matrixOf(this.rig.at(time)));
    return strength >= 100 ? full : matrixOf(slerp(NONE, quaternionOf(full), strength / 100));
  }

  /** The orientation wanted in a frame. */
  private wanted(n: number): Quaternion {
    let wanted = this.frames.get(n);
    if (!wanted) {
      wanted = this.withHeading(n, this.leaning(n));
      this.frames.set(n, wanted);
    }
    return wanted;
  }

  private leaning(n: number): Quaternion {
    const { mode, frame } = this.settings;
    if (mode === 'rolling') return this.rolling(n);
    if (mode === 'pinned') return this.pinned(n);
    return this.rig.frame(this.rig.frameOf(frame));
  }

  /** Gaussian mean of the orientations around a frame. */
  private rolling(n: number): Quaternion {
    const { rig, bell } = this;
    if (bell.length < 2) return rig.frame(n);
    const [first, last] = rig.partOf(n);
    const from = Math.max(first, n - bell.length + 1);
    const to = Math.min(last, n + bell.length - 1);
    const list: Quaternion[] = [];
    const weights: number[] = [];
    for (let k = from; k <= to; k++) {
      list.push(rig.frame(k));
      weights.push(bell[Math.abs(k - n)]!);
    }
    return meanOrientation(list, weights, rig.frame(n));
  }

  /** As filmed at the pins, evenly from one to the next; before the first and after the last one held. */
  private pinned(n: number): Quaternion {
    const { rig } = this;
    const frameOf = (p: Pin) => Math.max(0, Math.min(rig.frames - 1, Math.round(p.time * rig.rate)));
    const pins = this.settings.pins.filter((p) => rig.part[frameOf(p)] === rig.part[n]);
    const after = pins.findIndex((p) => frameOf(p) > n);
    const before = pins[after < 0 ? pins.length - 1 : after - 1];
    const next = after < 0 ? undefined : pins[after];
    if (!before) return rig.frame(next ? frameOf(next) : rig.partOf(n)[0]);
    const from = frameOf(before);
    if (before.kind === 'off') return rig.frame(n);
    if (before.kind === 'still' || !next) return rig.frame(from);
    return slerp(rig.frame(from), rig.frame(frameOf(next)), (n - from) / (frameOf(next) - from));
  }

  private withHeading(n: number, leaning: Quaternion): Quaternion {
    const { mode, heading, window } = this.settings;
    const { follows } = heading;
    // A pin is as filmed, and so is what is not corrected: their heading is the rig's already.
    if (mode === 'pinned' && follows === 'rig') return leaning;
    if (mode === 'rolling' && follows === 'rig' && heading.window === window) return leaning;
    if (mode === 'still' && follows === 'world') return leaning;
    this.headings ??= new Headings(this.rig);
    const twist =
      follows === 'world'
        ? this.headings.rig[this.rig.partOf(n)[0]]!
        : follows === 'rig'
          ? this.headings.smoothRig(n, heading.window)
          : this.headings.smoothTravel(n, heading.window);
    return withTwist(leaning, this.rig.vertical, twist);
  }
}
