/**
 * Keeping a time-stretcher in step with what it should do. One that works in blocks takes a tempo too early or too late, and
 * what it is off by adds up over a ramp. So clicks are sent through it, it is seen when each is heard, and the tempos are
 * corrected by that (a fixed-point iteration): after a few rounds what is heard is where it should be.
 */

/** A tempo from a second of the input on; 1 leaves it as it is. */
export interface Tempo {
  at: number;
  tempo: number;
}

/** How late something at a second of the input is heard, in seconds. */
export interface Lateness {
  at: number;
  late: number;
}

/** Seconds between two tempos. */
const STEP = 0.025;
/** Tempos that a stretcher is ever told. */
const [SLOWEST, FASTEST] = [0.05, 20];
/** How much of what is off is corrected in one round: all of it would swing. */
const DAMPING = 0.7;

/** Seconds of the output at which each step of an input of some seconds should be heard. */
export function wantedTimes(tempos: readonly Tempo[], seconds: number): number[] {
  const times = [0];
  let n = 0;
  for (let i = 0; i * STEP < seconds; i++) {
    while (n + 1 < tempos.length && tempos[n + 1]!.at <= (i + 0.5) * STEP) n++;
    times.push(times.at(-1)! + STEP / (tempos[n]?.tempo ?? 1));
  }
  return times;
}

/** The tempos that lead through such times, as a stretcher without faults would take them. */
export const temposThrough = (times: readonly number[]): Tempo[] =>
  times.slice(1).map((time, i) => ({
    at: i * STEP,
    tempo: Math.max(SLOWEST, Math.min(FASTEST, STEP / Math.max(1e-6, time - times[i]!))),
  }));

/** The time of a second of the input, between the steps. */
export function timeAt(times: readonly number[], at: number): number {
  const place = Math.max(0, Math.min(times.length - 1, at / STEP));
  const i = Math.min(times.length - 2, Math.floor(place));
  return times[i]! + (times[i + 1]! - times[i]!) * (place - i);
}

/** Seconds of the input at which clicks are heard evenly, some seconds apart, and lie no nearer than `nearest` to each other. */
export function clicksFor(times: readonly number[], apart: number, nearest: number): number[] {
  const clicks: number[] = [];
  const seconds = (times.length - 1) * STEP;
  let last = 0;
  for (let at = nearest; at < seconds - 2 * nearest; at += STEP / 4) {
    const far = timeAt(times, at) - timeAt(times, last) >= apart && at - last >= nearest;
    if (far) clicks.push((last = at));
  }
  return clicks;
}

/** Seconds at which a signal rises out of silence: above a level, after it was below for some seconds. */
export function onsets(signal: ArrayLike<number>, rate: number, level: number, silence: number): number[] {
  const found: number[] = [];
  let quiet = Infinity;
  for (let i = 0; i < signal.length; i++) {
    if (Math.abs(signal[i]!) < level) quiet++;
    else {
      if (quiet > silence * rate) found.push(i / rate);
      quiet = 0;
    }
  }
  return found;
}

/** How late each click is, by what is heard nearest to where it should be; those of which nothing is heard near are left out. */
export function latenessOf(clicks: readonly number[], times: readonly number[], heard: readonly number[]): Lateness[] {
  return clicks.flatMap((at, n) => {
    const time = timeAt(times, at);
    const neighbours = [clicks[n - 1], clicks[n + 1]].flatMap((c) => (c === undefined ? [] : [timeAt(times, c)]));
    const near = Math.min(0.15, ...neighbours.map((other) => 0.45 * Math.abs(other - time)));
    const late = heard.map((h) => h - time).reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a), Infinity);
    return Math.abs(late) < near ? [{ at, late }] : [];
  });
}

/** The times to ask for next, when those that were asked for were off by so much. They never go back. */
export function correctedTimes(asked: readonly number[], off: readonly Lateness[]): number[] {
  if (off.length === 0) return [...asked];
  const smooth = off.map(({ at, late }, i) => ({
    at,
    late: ((off[i - 1]?.late ?? late) + 2 * late + (off[i + 1]?.late ?? late)) / 4,
  }));
  let n = 0;
  const lateAt = (at: number) => {
    while (n + 1 < smooth.length && smooth[n + 1]!.at <= at) n++;
    const [a, b] = [smooth[n]!, smooth[n + 1]];
    if (at <= a.at) return a.at > 0 ? (a.late * at) / a.at : a.late;
    return b ? a.late + ((b.late - a.late) * (at - a.at)) / (b.at - a.at) : a.late;
  };
  const next: number[] = [];
  for (const [i, time] of asked.entries())
    next.push(Math.max(i ? next[i - 1]! + STEP / FASTEST : 0, time - DAMPING * lateAt(i * STEP)));
  return next;
}
