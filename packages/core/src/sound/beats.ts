/**
 * Beats: the tempo by autocorrelation of the onset strength, the beats by dynamic programming (D. Ellis, Beat Tracking by Dynamic
 * Programming, J. New Music Research 36, 2007), with the tempo found anew along the way. Where nothing recurs there are none.
 */
import { ONSET_RATE } from './onsets.js';

/** The beats of a footage's sound as they are kept in `beats.json`, see docs/formats/gathered.md. */
export interface BeatsFile {
  format: 'glimbo-beats';
  version: 1;
  /** Beats a minute; null where there are none. */
  tempo: number | null;
  /** Seconds of the footage. */
  beats: number[];
}

/** Seconds that a tempo is found in, and after which it is found anew. */
const LOOK = 12;
const STEP = 4;
/** Seconds between beats that are thought of, and which of them is likeliest; people tap near two a second. */
const FASTEST = 0.25;
const SLOWEST = 1.5;
const LIKELIEST = 0.5;
/** Octaves from the likeliest within which two thirds lie. */
const SPREAD = 0.9;
/** How strongly the onsets must recur, 1 being exactly. */
const RECURS = 0.22;
/** By how many values onset strength is highest after a beat was struck. */
const LATE = 0.5;
/** What it costs to leave the tempo, against a beat on a usual onset. */
const TIGHT = 100;

/** A tempo round a moment: values between beats, and how strongly they recur. */
interface Tempo {
  period: number;
  recurs: number;
}

/** Seconds of the beats in an onset strength of ONSET_RATE values a second, in order. */
export function beatsOf(onsets: ArrayLike<number>): number[] {
  if (onsets.length < 4 * ONSET_RATE) return [];
  const strength = evened(onsets);
  const tempi = temposOf(strength);
  const tempoAt = (n: number) => tempi[Math.min(tempi.length - 1, Math.max(0, Math.round(n / (STEP * ONSET_RATE))))]!;
  if (!tempi.some((t) => t.recurs >= RECURS)) return [];
  return chain(strength, (n) => tempoAt(n).period)
    .filter((n) => tempoAt(n).recurs >= RECURS)
    .map((n) => Math.max(0, n - LATE) / ONSET_RATE);
}

/** Beats a minute of some beats, but for gaps and pauses between them; null without two. */
export function tempoOf(beats: readonly number[]): number | null {
  const gaps = beats.slice(1).map((t, i) => t - beats[i]!);
  const middle = [...gaps].sort((a, b) => a - b)[gaps.length >> 1];
  if (!middle) return null;
  const usual = gaps.filter((g) => Math.abs(g - middle) < middle / 8);
  return (60 * usual.length) / usual.reduce((a, b) => a + b, 0);
}

/** Onset strength smoothed, its own mean over a second taken off, in units of its spread. */
function evened(onsets: ArrayLike<number>): Float64Array {
  const n = onsets.length;
  const sums = new Float64Array(n + 1);
  for (let i = 0; i < n; i++) sums[i + 1] = sums[i]! + onsets[i]!;
  const mean = (from: number, to: number) => {
    const [a, b] = [Math.max(0, from), Math.min(n, to)];
    return (sums[b]! - sums[a]!) / (b - a);
  };
  const half = ONSET_RATE / 2;
  const out = Float64Array.from({ length: n }, (_, i) => Math.max(0, mean(i - 1, i + 2) - mean(i - half, i + half)));
  const spread = Math.sqrt(out.reduce((sum, v) => sum + v * v, 0) / n) || 1;
  return out.map((v) => v / spread);
}

/** A tempo for every STEP seconds. */
function temposOf(strength: Float64Array): Tempo[] {
  const [look, step] = [LOOK * ONSET_RATE, STEP * ONSET_RATE];
  const count = Math.floor(strength.length / step) + 1;
  return Array.from({ length: count }, (_, i) => {
    const from = Math.max(0, Math.min(strength.length - look, i * step - look / 2));
    return tempoIn(strength.subarray(from, from + look));
  });
}

function tempoIn(part: Float64Array): Tempo {
  const agrees = agreement(part);
  const [least, most] = [FASTEST * ONSET_RATE, SLOWEST * ONSET_RATE];
  let best: Tempo = { period: LIKELIEST * ONSET_RATE, recurs: 0 };
  let likeliest = 0;
  for (let lag = least; lag <= Math.min(most, part.length / 3); lag++) {
    // What recurs once by chance does not recur twice.
    const twice = Math.max(...[-2, -1, 0, 1, 2].map((d) => agrees(2 * lag + d)));
    const recurs = (agrees(lag) + twice) / 2;
    const octaves = Math.log2(lag / (LIKELIEST * ONSET_RATE)) / SPREAD;
    const likely = recurs * Math.exp(-0.5 * octaves * octaves);
    if (likely > likeliest) [likeliest, best] = [likely, { period: lag, recurs }];
  }
  return best;
}

/** How strongly values agree with those a lag before: their correlation. */
function agreement(part: Float64Array): (lag: number) => number {
  const mean = part.reduce((sum, v) => sum + v, 0) / part.length;
  const swing = part.map((v) => v - mean);
  const own = swing.reduce((sum, v) => sum + v * v, 0) / part.length;
  const known = new Map<number, number>();
  return (lag) => {
    let value = known.get(lag);
    if (value === undefined) {
      let sum = 0;
      for (let i = lag; i < swing.length; i++) sum += swing[i]! * swing[i - lag]!;
      value = own > 0 ? sum / (swing.length - lag) / own : 0;
      known.set(lag, value);
    }
    return value;
  };
}

/** The chain of beats that meets the most onsets while it keeps to the period. */
function chain(strength: Float64Array, periodAt: (n: number) => number): number[] {
  const score = new Float64Array(strength.length);
  const from = new Int32Array(strength.length).fill(-1);
  for (let n = 0; n < strength.length; n++) {
    const period = periodAt(n);
    let most = 0;
    for (let p = Math.max(0, Math.ceil(n - 2 * period)); p <= n - period / 2; p++) {
      const off = Math.log((n - p) / period);
      const sum = score[p]! - TIGHT * off * off;
      if (sum > most) [most, from[n]] = [sum, p];
    }
    score[n] = strength[n]! + most;
  }
  const last = periodAt(strength.length - 1);
  let at = strength.length - 1;
  for (let n = Math.max(0, Math.ceil(strength.length - 1 - last)); n < strength.length; n++)
    if (score[n]! > score[at]!) at = n;
  const beats: number[] = [];
  for (; at >= 0; at = from[at]!) beats.push(at);
  return beats.reverse();
}
