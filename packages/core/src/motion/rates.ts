/** How fast the picture turns, before and after the correction, and what can be told from that: jolts and trims. */
import { DEGREES, matrixOf, multiply, rotationVector, transpose, type Matrix3 } from '../geometry/rotation.js';
import type { Motion } from './motion.js';

/** Turning from each frame to the next in °/s about the picture's axes: pan, tilt and roll in turn; the first frame has none. */
export function turningOf(motion: Motion, correction?: (time: number) => Matrix3): Float32Array {
  const { frames, rate } = motion;
  const rates = new Float32Array(frames.length * 3);
  const cuts = new Set(motion.cuts.map((t) => Math.round(t * rate)));
  // What a direction of the corrected picture is in the first frame's axes.
  const at = (n: number) => {
    const q = matrixOf(frames[n]!.orientation);
    return correction ? multiply(q, transpose(correction(frames[n]!.time))) : q;
  };
  let before = frames.length ? at(0) : null;
  for (let n = 1; n < frames.length; n++) {
    const now = at(n);
    if (!cuts.has(n)) {
      const [x, y, z] = rotationVector(multiply(transpose(before!), now));
      rates.set([y * DEGREES * rate, -x * DEGREES * rate, -z * DEGREES * rate], 3 * n);
    }
    before = now;
  }
  return rates;
}

/** How much the turning changes from frame to frame, °/s². */
function jerkiness(rates: Float32Array, rate: number): Float32Array {
  const out = new Float32Array(rates.length / 3);
  for (let n = 2; n < out.length; n++)
    out[n] = Math.hypot(...[0, 1, 2].map((k) => rates[3 * n + k]! - rates[3 * (n - 1) + k]!)) * rate;
  return out;
}

const median = (values: ArrayLike<number>) => Array.from(values).sort((a, b) => a - b)[values.length >> 1] ?? 0;

/** How many times the usual a jolt stands out, and the least change that anybody sees, °/s². */
const STANDS_OUT = 4;
const SEEN = 60;
/** Seconds between one jolt and the next that is counted. */
const APART = 0.3;

/** Times of jolts in seconds: where the turning changes far more than it usually does. */
export function joltsIn(rates: Float32Array, rate: number): number[] {
  const jerks = jerkiness(rates, rate);
  const least = Math.max(SEEN, STANDS_OUT * median(jerks));
  const jolts: number[] = [];
  const reach = Math.round(APART * rate);
  for (let n = 2; n < jerks.length; n++) {
    if (jerks[n]! < least) continue;
    let top = true;
    for (let k = Math.max(2, n - reach); k <= Math.min(jerks.length - 1, n + reach); k++)
      if (jerks[k]! > jerks[n]! || (jerks[k] === jerks[n] && k < n)) top = false;
    if (top) jolts.push(n / rate);
  }
  return jolts;
}

/** Seconds at either end in which switching the camera on or off may show, and how long it must be calm again. */
const ENDS = 4;
const CALM = 0.4;

/** In and out points that leave out the jerk of switching the camera on and off; null at an end where there is none. */
export function trimsOf(rates: Float32Array, rate: number): { in: number | null; out: number | null } {
  const jerks = jerkiness(rates, rate);
  const count = jerks.length;
  const ends = Math.min(Math.round(ENDS * rate), count >> 2);
  // A rough ride is rough at its ends too: what is cut off must be rougher than nearly all of the rest.
  const rest = Array.from(jerks.subarray(ends, count - ends)).sort((a, b) => a - b);
  const least = Math.max(SEEN * 2, 2 * STANDS_OUT * median(jerks), 1.5 * (rest[Math.floor(rest.length * 0.98)] ?? 0));
  const calm = Math.round(CALM * rate);
  let first = -1;
  for (let n = 2; n < ends; n++) if (jerks[n]! > least && (first < 0 ? n < ends / 2 : n - first < calm)) first = n;
  let last = -1;
  for (let n = count - 1; n > count - ends; n--)
    if (jerks[n]! > least && (last < 0 ? count - n < ends / 2 : last - n < calm)) last = n;
  return { in: first < 0 ? null : (first + 3) / rate, out: last < 0 ? null : (last - 3) / rate };
}

/** Root mean square of the angular acceleration above 2 Hz in °/s²: what is felt as jitter. */
export function jitterOf(rates: Float32Array, rate: number): number {
  const count = rates.length / 3;
  // What is left of the turning after a mean over the period of 2 Hz to either side is the part above it.
  const reach = Math.max(1, Math.round(rate / 4));
  let sum = 0;
  let used = 0;
  for (let k = 0; k < 3; k++) {
    const high = new Float64Array(count);
    for (let n = reach + 1; n < count - reach; n++) {
      let [mean, total] = [0, 0];
      for (let i = -reach; i <= reach; i++) {
        const w = 1 + Math.cos((Math.PI * i) / (reach + 1));
        mean += w * rates[3 * (n + i) + k]!;
        total += w;
      }
      high[n] = rates[3 * n + k]! - mean / total;
    }
    for (let n = reach + 2; n < count - reach; n++) {
      sum += ((high[n]! - high[n - 1]!) * rate) ** 2;
      used++;
    }
  }
  return used ? Math.sqrt((3 * sum) / used) : 0;
}
