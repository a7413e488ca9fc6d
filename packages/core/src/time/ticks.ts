/** Times that are good to read on an axis. */

/** Steps in seconds that people count in; below a tenth it is frames. */
const STEPS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200];

export interface Ticks {
  /** Seconds from one tick to the next. */
  step: number;
  /** The ticks in seconds, in order. */
  times: number[];
  /** Decimals that tell the ticks apart. */
  digits: number;
}

/**
 * Ticks from `from` to `to` seconds on an axis of some pixels, so many pixels apart at least. A step is never shorter than
 * a frame at `rate` frames a second.
 */
export function timeTicks(from: number, to: number, pixels: number, rate: number, apart = 56): Ticks {
  const least = ((to - from) * apart) / Math.max(1, pixels);
  const frames = [1, 2, 5].map((n) => n / rate).filter((s) => s < STEPS[0]!);
  const step = [...frames, ...STEPS].find((s) => s >= least) ?? Math.ceil(least / 3600) * 3600;
  const first = Math.ceil(from / step - 1e-9);
  const last = Math.floor(to / step + 1e-9);
  const times = Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => (first + i) * step);
  return { step, times, digits: step >= 1 ? 0 : step >= 0.1 ? 1 : 2 };
}

/** A tick's time as text: minutes and seconds, with hours from the first on. */
export function tickText(seconds: number, digits: number): string {
  const hours = Math.floor(seconds / 3600 + 1e-9);
  const minutes = Math.floor((seconds - hours * 3600) / 60 + 1e-9);
  const rest = Math.max(0, seconds - hours * 3600 - minutes * 60);
  const two = (n: number) => String(n).padStart(2, '0');
  const last = rest.toFixed(digits).padStart(digits ? digits + 3 : 2, '0');
  return hours ? `${hours}:${two(minutes)}:${last}` : `${minutes}:${last}`;
}
