/** From many samples to few keyframes: what was performed by hand or drawn, as a path that can be edited. */
import { evaluate, type Keyframe } from '../curve/channel.js';
import type { Clipping } from './clipping.js';
import { CURVES, type CurveName } from './path.js';

/** What was steered at a time in seconds, each channel in its own unit. */
export interface Sample {
  time: number;
  values: Partial<Record<CurveName, number>>;
}

const channelsOf = (samples: readonly Sample[]): CurveName[] =>
  CURVES.filter((name) => samples[0]?.values[name] !== undefined);

/** Means under a Gaussian whose standard deviation is `width` seconds; the samples lie evenly. The ends stay where they are. */
export function smoothed(samples: readonly Sample[], width: number): Sample[] {
  const step = ((samples.at(-1)?.time ?? 0) - (samples[0]?.time ?? 0)) / Math.max(1, samples.length - 1);
  if (!(width > 0) || !(step > 0)) return [...samples];
  const reach = Math.ceil((3 * width) / step);
  const channels = channelsOf(samples);
  return samples.map((sample, i) => {
    // As far on one side as on the other, so that the ends are not drawn inwards.
    const span = Math.min(reach, i, samples.length - 1 - i);
    const values: Sample['values'] = {};
    for (const name of channels) {
      let [sum, weights] = [0, 0];
      for (let k = -span; k <= span; k++) {
        const weight = Math.exp(-0.5 * ((k * step) / width) ** 2);
        sum += weight * samples[i + k]!.values[name]!;
        weights += weight;
      }
      values[name] = sum / weights;
    }
    return { ...sample, values };
  });
}

/** Smooth keyframes at some of the samples, and how far the curve through them is from all of them at most. */
export interface Simplified {
  /** Times from the first sample on. */
  clipping: Clipping;
  deviation: number;
}

/**
 * The fewest keyframes it finds whose smooth curves stay within a tolerance (degrees; of a bend the same number counts in
 * hundredths) of every sample: as Ramer, Douglas and Peucker do, the sample that is furthest off becomes a keyframe until none is.
 */
export function simplify(samples: readonly Sample[], tolerance: number): Simplified {
  const channels = channelsOf(samples);
  const chosen = new Set([0, samples.length - 1]);
  for (;;) {
    const clipping = keysAt(samples, chosen, channels);
    const off = samples.map((s) => deviationAt(s, samples[0]!.time, clipping, channels));
    const deviation = Math.max(0, ...off);
    const more = deviation > tolerance ? worst(off, chosen, tolerance) : [];
    if (!more.length) return { clipping, deviation };
    for (const i of more) chosen.add(i);
  }
}

function keysAt(samples: readonly Sample[], chosen: ReadonlySet<number>, channels: readonly CurveName[]): Clipping {
  const order = [...chosen].sort((a, b) => a - b).map((i) => samples[i]!);
  const key =
    (name: CurveName) =>
    (s: Sample): Keyframe => ({
      time: s.time - samples[0]!.time,
      value: s.values[name]!,
      ease: 'smooth',
    });
  return Object.fromEntries(channels.map((name) => [name, order.map(key(name))]));
}

/** One hundredth of bend, or of a stop, weighs as much as a degree. */
const FINE: readonly CurveName[] = ['bend', 'shiftX', 'shiftY', 'exposure'];
const weightOf = (name: CurveName) => (FINE.includes(name) ? 100 : 1);

const deviationAt = ({ time, values }: Sample, start: number, clipping: Clipping, channels: readonly CurveName[]) =>
  Math.max(
    ...channels.map((name) => weightOf(name) * Math.abs(evaluate(clipping[name]!, time - start, 0) - values[name]!)),
  );

/** Between each two chosen samples the one that is furthest off, where it is too far. */
function worst(off: readonly number[], chosen: ReadonlySet<number>, tolerance: number): number[] {
  const bounds = [...chosen].sort((a, b) => a - b);
  return bounds.slice(1).flatMap((to, n) => {
    let at = -1;
    for (let i = bounds[n]! + 1; i < to; i++) if (off[i]! > tolerance && (at < 0 || off[i]! > off[at]!)) at = i;
    return at < 0 ? [] : [at];
  });
}
