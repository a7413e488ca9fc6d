/**
 * The Meter: the virtual camera's own exposure. What the view sees along its path decides it; the way to the target is smoothed with
 * a Gaussian that looks ahead as well as back, so that a way out of a tunnel is met and not chased.
 */
import { apply, multiply, transpose, type Matrix3 } from '../geometry/rotation.js';
import { cameraDirection, cameraOf, type View } from '../lens/view.js';
import { LIGHT, luminanceAt, type FootageLight } from './light.js';

export interface Meter {
  /** Stops from mid-grey to which the mean brightness of the Frame is brought, −4 to 4. */
  target: number;
  /** Most stops that it goes either way. */
  limit: number;
  /** Seconds over which it goes smoothly: the Gaussian's standard deviation. */
  smooth: number;
  /** Seconds of the footage at which it is held; it goes with the view when absent. */
  lock?: number;
}

export const METER_LIMITS = {
  target: { least: -4, most: 4 },
  limit: { least: 0, most: 6 },
  smooth: { least: 0.2, most: 5 },
} as const;

export const USUAL_METER: Meter = { target: 0, limit: 3, smooth: 0.35 };

const MID_GREY = 0.18;
/** Darker than this is as dark as this: ten stops below white. */
const DARKEST = 2 ** -10;
/** Points across and down at which the Frame is looked at, and how far the weight of the middle reaches, in half sides. */
const GRID = 9;
const MIDDLE = 0.6;

/** What a Meter needs to know of a take: where it looks, and how the picture lies in the world. */
export interface Metered {
  light: FootageLight;
  viewAt: (time: number) => View;
  correctionAt: (time: number) => Matrix3;
  /** Width to height of the frame. */
  ratio: number;
}

/** Mean brightness of what is seen at a sample, in stops from mid-grey, the middle weighing most. */
export function seenStops({ light, viewAt, correctionAt, ratio }: Metered, sample: number): number {
  const time = sample / LIGHT.rate;
  const camera = cameraOf(viewAt(time), 90 * ratio, 90);
  const toSource = multiply(transpose(correctionAt(time)), camera.rotation);
  let [sum, weights] = [0, 0];
  for (let j = 0; j < GRID; j++)
    for (let i = 0; i < GRID; i++) {
      const [x, y] = [(2 * (i + 0.5)) / GRID - 1, (2 * (j + 0.5)) / GRID - 1];
      const direction = cameraDirection(camera, ((x + 1) / 2) * camera.width, ((y + 1) / 2) * camera.height);
      if (!direction) continue;
      const weight = Math.exp(-0.5 * ((x * x + y * y) / MIDDLE ** 2));
      sum += weight * Math.log2(Math.max(DARKEST, luminanceAt(light, sample, apply(toSource, direction))));
      weights += weight;
    }
  return weights > 0 ? sum / weights - Math.log2(MID_GREY) : 0;
}

/** A Meter's exposure over the footage, in stops; a number for each of the light's samples. */
export function meterStops(meter: Meter, metered: Metered): number[] {
  const { samples } = metered.light;
  const { target, limit, smooth, lock } = meter;
  const held = (v: number) => Math.max(-limit, Math.min(limit, v));
  const wanted = Array.from({ length: samples }, (_, n) => held(target - seenStops(metered, n)));
  const reach = Math.ceil(3 * smooth * LIGHT.rate);
  const weights = Array.from({ length: reach + 1 }, (_, k) => Math.exp(-0.5 * (k / (smooth * LIGHT.rate)) ** 2));
  const stops = wanted.map((_, n) => {
    let [sum, total] = [0, 0];
    for (let k = Math.max(0, n - reach); k <= Math.min(samples - 1, n + reach); k++) {
      sum += weights[Math.abs(k - n)]! * wanted[k]!;
      total += weights[Math.abs(k - n)]!;
    }
    return sum / total;
  });
  return lock === undefined ? stops : stops.map(() => stopsAt(stops, lock));
}

/** The exposure at a time in seconds, straight between the samples. */
export function stopsAt(stops: readonly number[], time: number): number {
  if (stops.length === 0) return 0;
  const place = Math.max(0, Math.min(stops.length - 1, time * LIGHT.rate));
  const n = Math.min(stops.length - 1, Math.floor(place));
  const next = stops[Math.min(stops.length - 1, n + 1)]!;
  return stops[n]! + (next - stops[n]!) * (place - n);
}
