/** Bringing a twin's light to that of what is kept: both are compared along the sector's edges, where they meet. */
import { LUMA_BLACK } from '../colour/bt709.js';
import { apply, transpose, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { codeAt, LIGHT, type FootageLight } from './light.js';
import { edgeLines, twinFromWorld, twinTime, type Sector, type Twin } from './sector.js';

/** Seconds before and after over which the comparison is steadied. */
const AROUND = 1.5;
/** Degrees from one place of comparison to the next. */
const STEP = 4;
/** Codes added to both, so that what is nearly black says little. */
const DIM = 12;
const [LEAST, MOST] = [0.4, 2.5];

interface Lights {
  sector: Sector & { twin: Twin };
  kept: FootageLight;
  twin: FootageLight;
  /** The take's correction C at a time in seconds of its own footage. */
  correctionAt: (time: number) => Matrix3;
}

/**
 * Factors of the twin's signal (of Y′ over black, and of its colour differences) by a time in seconds of the take's footage; 1 leaves
 * it as it is. The middle of the ratios along the edges, so that somebody who walks through there does not count, and the mean of
 * those over a while. Each sample of the light is looked at when it is needed first.
 */
export function twinGains({ sector, kept, twin: other, correctionAt }: Lights): (time: number) => number {
  const { twin } = sector;
  const places = edgeLines(sector, STEP).flatMap((e) => e.line);
  const known = new Map<number, number>();
  const logRatio = (n: number) => {
    const time = n / LIGHT.rate;
    const then = twinTime(twin, time);
    const toKept = transpose(correctionAt(time));
    const toTwin = twinFromWorld(twin, correctionAt(twin.footage === undefined ? then : time));
    const over = (light: FootageLight, sample: number, d: Vec3) => codeAt(light, sample, d) - LUMA_BLACK + DIM;
    const logs = places.map((d) =>
      Math.log(over(kept, n, apply(toKept, d)) / over(other, Math.round(then * LIGHT.rate), apply(toTwin, d))),
    );
    return logs.length ? middle(logs) : 0;
  };
  const logAt = (n: number) => {
    if (!known.has(n)) known.set(n, logRatio(n));
    return known.get(n)!;
  };
  const reach = Math.round(AROUND * LIGHT.rate);
  const meanAt = (n: number) => {
    const [from, to] = [Math.max(0, n - reach), Math.min(kept.samples - 1, n + reach)];
    let sum = 0;
    for (let i = from; i <= to; i++) sum += logAt(i);
    return sum / (to - from + 1);
  };
  return (time) => {
    const place = Math.max(0, Math.min(kept.samples - 1, time * LIGHT.rate));
    const n = Math.floor(place);
    const next = Math.min(kept.samples - 1, n + 1);
    const mean = meanAt(n) + (meanAt(next) - meanAt(n)) * (place - n);
    return Math.max(LEAST, Math.min(MOST, Math.exp(mean)));
  };
}

function middle(values: number[]): number {
  const sorted = values.sort((a, b) => a - b);
  return (sorted[(sorted.length - 1) >> 1]! + sorted[sorted.length >> 1]!) / 2;
}
