/**
 * A motion sidecar: what a sensor in the rig wrote while it filmed (docs/formats/sidecar.md). Rates of turning and
 * accelerations in the picture's axes, on a clock of its own that is brought together with the picture by correlation.
 */
import {
  apply,
  DEGREES,
  IDENTITY,
  matrixOf,
  multiply,
  quaternionOf,
  rotationAbout,
  rotationVector,
  transpose,
  unit,
  type Matrix3,
  type Vec3,
  vec3,
} from '../geometry/rotation.js';
import { DocumentError } from '../boundary/document-error.js';
import { TRUSTED, type Motion } from './motion.js';

export interface SidecarSample {
  /** Seconds on the sensor's clock. */
  time: number;
  /** rad/s about each axis: x turns y to z, y turns z to x, z turns x to y. */
  rate: Vec3;
  /** m/s² as felt: at rest it points up. */
  acceleration: Vec3 | null;
}

const COLUMNS = ['time', 'rate_x', 'rate_y', 'rate_z'];
const FORCES = ['acceleration_x', 'acceleration_y', 'acceleration_z'];

/** The samples of a CSV text. Throws DocumentError. */
export function readSidecar(text: string): SidecarSample[] {
  const lines = text.split(/\r?\n/).filter((l) => l.trim() !== '' && !l.startsWith('#'));
  const names = (lines[0] ?? '').split(/[,;\t]/).map((n) => n.trim().toLowerCase());
  const at = (name: string) => names.indexOf(name);
  const missing = COLUMNS.filter((c) => at(c) < 0);
  if (missing.length) throw new DocumentError(`its first line does not name the columns ${missing.join(', ')}`);
  const force = FORCES.every((c) => at(c) >= 0);
  const samples: SidecarSample[] = [];
  for (const [n, line] of lines.slice(1).entries()) {
    const cells = line.split(/[,;\t]/).map(Number);
    const pick = (list: string[]) => vec3(list.map((c) => cells[at(c)]!));
    const sample = {
      time: cells[at('time')]!,
      rate: pick(COLUMNS.slice(1)),
      acceleration: force ? pick(FORCES) : null,
    };
    if (![sample.time, ...sample.rate, ...(sample.acceleration ?? [])].every(Number.isFinite))
      throw new DocumentError(`line ${n + 2} has something that is not a number`);
    if (samples.length && sample.time <= samples.at(-1)!.time)
      throw new DocumentError(`line ${n + 2} goes back in time`);
    samples.push(sample);
  }
  if (samples.length < 10) throw new DocumentError('it has fewer than ten samples');
  return samples;
}

/** Largest time by which the clocks may differ, in seconds, and the grid on which they are compared. */
const MOST_APART = 3;
const GRID = 0.005;

interface SidecarMatch {
  /** What has to be added to the picture's time for the sensor's, in seconds. */
  offset: number;
  /** Correlation of the rates there, −1…1. */
  agreement: number;
  /** What the sensor says when nothing turns, rad/s. */
  bias: Vec3;
}

/** Below this agreement a sidecar does not belong to the footage. */
const LEAST_AGREEMENT = 0.5;

/** Finds when the sensor's clock and the picture's agree: where their rates of turning correlate best. */
export function matchSidecar(samples: readonly SidecarSample[], motion: Motion): SidecarMatch {
  const { rate, frames } = motion;
  const seen = frames.map((f, n) =>
    n > 0 && f.trust >= TRUSTED && frames[n - 1]!.trust >= TRUSTED ? turnOf(motion, n).map((v) => v * rate) : null,
  );
  const integral = integrate(samples);
  const used = seen.flatMap((v, n) => (v ? [n] : []));
  const compare = (offset: number): { agreement: number; bias: Vec3 } => {
    const own = used.map((n) => meanRate(integral, (n - 1) / rate + offset, n / rate + offset));
    const pairs = used.flatMap((n, i) => (own[i] ? [[seen[n]!, own[i]!] as const] : []));
    if (pairs.length < 20) return { agreement: -1, bias: [0, 0, 0] };
    const means = [0, 1].map((side) =>
      [0, 1, 2].map((k) => pairs.reduce((s, p) => s + p[side]![k]!, 0) / pairs.length),
    );
    let [ab, aa, bb] = [0, 0, 0];
    for (const [a, b] of pairs)
      for (let k = 0; k < 3; k++) {
        const [x, y] = [a[k]! - means[0]![k]!, b[k]! - means[1]![k]!];
        ab += x * y;
        aa += x * x;
        bb += y * y;
      }
    return {
      agreement: ab / Math.sqrt(aa * bb + 1e-12),
      bias: vec3(means[1]!.map((v, k) => v - means[0]![k]!)),
    };
  };
  let best = 0;
  let most = -2;
  const steps = Math.round(MOST_APART / GRID);
  // A coarse look at every fourth place, then every place around the best.
  const scan = (from: number, to: number, step: number) => {
    for (let k = from; k <= to; k += step) {
      const { agreement } = compare(k * GRID);
      if (agreement > most) [best, most] = [k, agreement];
    }
  };
  scan(-steps, steps, 4);
  scan(best - 4, best + 4, 1);
  const [a, b, c] = [best - 1, best, best + 1].map((k) => compare(k * GRID).agreement) as [number, number, number];
  const bend = a - 2 * b + c;
  const offset = (best + (bend < -1e-12 ? (0.5 * (a - c)) / bend : 0)) * GRID;
  return { offset, ...compare(offset) };
}

const turnOf = (motion: Motion, n: number): Vec3 =>
  rotationVector(
    multiply(transpose(matrixOf(motion.frames[n - 1]!.orientation)), matrixOf(motion.frames[n]!.orientation)),
  );

/** Running sums of the rates, so that a mean over any stretch is two look-ups. */
function integrate(samples: readonly SidecarSample[]) {
  const sums = new Float64Array(samples.length * 3);
  for (let i = 1; i < samples.length; i++) {
    const [a, b] = [samples[i - 1]!, samples[i]!];
    for (let k = 0; k < 3; k++)
      sums[3 * i + k] = sums[3 * (i - 1) + k]! + ((a.rate[k]! + b.rate[k]!) / 2) * (b.time - a.time);
  }
  return { samples, sums };
}

function meanRate({ samples, sums }: ReturnType<typeof integrate>, from: number, to: number): Vec3 | null {
  if (from < samples[0]!.time || to > samples.at(-1)!.time) return null;
  const at = (time: number, k: number) => {
    let [lo, hi] = [0, samples.length - 1];
    while (hi - lo > 1) {
      const mid = (lo + hi) >> 1;
      if (samples[mid]!.time <= time) lo = mid;
      else hi = mid;
    }
    const f = (time - samples[lo]!.time) / (samples[hi]!.time - samples[lo]!.time);
    return sums[3 * lo + k]! * (1 - f) + sums[3 * hi + k]! * f;
  };
  return vec3([0, 1, 2].map((k) => (at(to, k) - at(from, k)) / (to - from)));
}

/**
 * The motion with a sidecar's help. `replace`: all turning comes from the sensor; `anchor`: only where the picture was
 * not to be trusted. Either way its accelerations tell where up is. What the sensor does not cover stays as it was.
 */
export function withSidecar(
  motion: Motion,
  samples: readonly SidecarSample[],
  match: SidecarMatch,
  use: 'replace' | 'anchor',
): Motion {
  const integral = integrate(samples);
  const { rate } = motion;
  let orientation: Matrix3 = IDENTITY;
  let replaced = 0;
  const frames = motion.frames.map((frame, n) => {
    if (n === 0) return frame;
    const doubtful =
      frame.trust < TRUSTED || motion.bad.some((b) => frame.time >= b.in - 1e-6 && frame.time < b.out - 1e-6);
    const sensed =
      use === 'replace' || doubtful ? meanRate(integral, (n - 1) / rate + match.offset, n / rate + match.offset) : null;
    if (sensed) replaced++;
    const turn = sensed ? vec3(sensed.map((v, k) => (v - match.bias[k]!) / rate)) : turnOf(motion, n);
    orientation = multiply(orientation, rotationAbout(turn));
    return {
      ...frame,
      orientation: quaternionOf(orientation),
      ...(sensed ? { trust: Math.max(frame.trust, 0.9), residual: 0 } : {}),
    };
  });
  const helped = { ...motion, frames, ...(use === 'replace' && replaced > 0 ? { method: 'sidecar' as const } : {}) };
  const up = gravityUp(helped, samples, match);
  const covered = (time: number) => meanRate(integral, time + match.offset, time + 1 / rate + match.offset) !== null;
  return {
    ...helped,
    bad: motion.bad.filter((b) => !covered(b.in) || !covered(b.out - 1 / rate)),
    ...(up ? { up } : {}),
  };
}

/** Up in the first frame's axes: what is felt on the whole, once the rig's turning is taken out. */
function gravityUp(motion: Motion, samples: readonly SidecarSample[], { offset }: SidecarMatch): Vec3 | null {
  const sum = [0, 0, 0];
  let count = 0;
  for (const { time, acceleration } of samples) {
    const n = Math.round((time - offset) * motion.rate);
    if (!acceleration || n < 0 || n >= motion.frames.length) continue;
    apply(matrixOf(motion.frames[n]!.orientation), acceleration).forEach((v, k) => (sum[k]! += v));
    count++;
  }
  const mean = Math.hypot(...sum) / Math.max(1, count);
  return count > 10 && mean > 5 && mean < 15 ? unit(vec3(sum)) : null;
}

/** A match in words, for people. */
const matchInWords = ({ offset, agreement, bias }: SidecarMatch) =>
  `the sensor's clock is ${Math.abs(offset).toFixed(3)} s ${offset < 0 ? 'behind' : 'ahead'}, agreement ${Math.round(agreement * 100)} %, zero off by ${(Math.hypot(...bias) * DEGREES).toFixed(2)} °/s`;

/** A motion with what a sidecar says, and how the two fit in words. Throws DocumentError when they do not belong together. */
export function joinSidecar(motion: Motion, samples: readonly SidecarSample[], use: 'replace' | 'anchor') {
  const match = matchSidecar(samples, motion);
  const words = matchInWords(match);
  if (match.agreement < LEAST_AGREEMENT) throw new DocumentError(`it does not belong to this footage, ${words}`);
  return { motion: withSidecar(motion, samples, match, use), words };
}
