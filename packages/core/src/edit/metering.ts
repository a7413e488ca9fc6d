/** The Meter of a take: what it comes to, and turned into keyframes of the exposure. */
import { gradeAt } from '../look/channels.js';
import { LIGHT, type FootageLight } from '../look/light.js';
import { meterStops, stopsAt, type Meter } from '../look/meter.js';
import { simplify } from '../path/simplify.js';
import { aimOf, TAKE_ALONE, type ViewContext } from '../view/view-of.js';
import type { Correction } from '../correction/correction.js';
import { ratioOf } from '../take/formats.js';
import { withGrade, withLook } from './look.js';
import type { Take } from '../take/take.js';

/** Stops at a time in seconds of the footage. */
export type Metering = (time: number) => number;

const metered = (take: Take, light: FootageLight, correction: Correction, context: ViewContext) => ({
  light,
  viewAt: (time: number) => aimOf(take, context, time),
  correctionAt: (time: number) => correction.at(time),
  ratio: ratioOf(take),
});

/** What the take's Meter adds to its exposure; null where it has none, or the light is not known. */
export function meteringOf(
  take: Take,
  light: FootageLight | null,
  correction: Correction,
  context: ViewContext = TAKE_ALONE,
): Metering | null {
  const meter = take.look?.meter;
  if (!meter || !light || light.samples === 0) return null;
  const stops = meterStops(meter, metered(take, light, correction, context));
  return (time) => stopsAt(stops, time);
}

/** A take whose Meter is switched on, its target the mean of what the view sees between in and out; it changes that mean by nothing. */
export function meteredByItself(take: Take, meter: Meter, light: FootageLight, correction: Correction): Take {
  const stops = meterStops({ ...meter, target: 0, limit: Infinity }, metered(take, light, correction, TAKE_ALONE));
  const [from, to] = [take.range.in, take.range.out].map((t) => Math.round(t * LIGHT.rate)) as [number, number];
  const seen = stops.slice(from, Math.max(from + 1, to));
  const mean = seen.reduce((a, b) => a + b, 0) / Math.max(1, seen.length);
  return withLook(take, { meter: { ...meter, target: Math.round(-10 * mean) / 10 } });
}

/** Stops by which keyframes of the exposure may be off from the Meter, in hundredths. */
const TOLERANCE = 3;

/** The Meter as keyframes of the exposure over the take's range, and by how many stops they are off at most. */
export function meterToKeys(take: Take, metering: Metering, rate: number): { take: Take; off: number } {
  const frames = Math.max(1, Math.round((take.range.out - take.range.in) * LIGHT.rate));
  const exposureAt = (time: number) => gradeAt(take.look?.grade ?? {}, time).exposure + metering(time);
  const samples = Array.from({ length: frames + 1 }, (_, i) => {
    const time = Math.round((take.range.in + i / LIGHT.rate) * rate) / rate;
    return { time, values: { exposure: Math.max(-4, Math.min(4, exposureAt(time))) } };
  });
  const { clipping, deviation } = simplify(samples, TOLERANCE);
  const keys = clipping.exposure!.map((k) => ({ ...k, time: k.time + samples[0]!.time }));
  return { take: withGrade(withLook(take, { meter: undefined }), { exposure: keys }), off: deviation / 100 };
}
