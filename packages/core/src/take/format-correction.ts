/**
 * What one format of a take has of its own over the path that all share: turned by some degrees, closer or wider by a factor,
 * shifted. Each is a channel, so that it can be one value or keyframes.
 */
import type { View } from '../lens/view.js';
import { evaluate, type Channel } from '../curve/channel.js';
import { sameTime } from '../path/keys.js';

export const CORRECTED = ['pan', 'tilt', 'roll', 'zoom', 'shiftX', 'shiftY'] as const;
export type Corrected = (typeof CORRECTED)[number];

/** Degrees and half shorter sides are added; `zoom` is what the field of view is multiplied with. */
export type FormatCorrection = Partial<Record<Corrected, Channel>>;

/** Values that each may take. */
export const CORRECTION_LIMITS: Readonly<Record<Corrected, readonly [least: number, most: number]>> = {
  pan: [-360, 360],
  tilt: [-180, 180],
  roll: [-360, 360],
  zoom: [0.1, 10],
  shiftX: [-20, 20],
  shiftY: [-20, 20],
};

const NONE: Readonly<Record<Corrected, number>> = { pan: 0, tilt: 0, roll: 0, zoom: 1, shiftX: 0, shiftY: 0 };
const ADDED = ['pan', 'tilt', 'roll', 'shiftX', 'shiftY'] as const;

const valueAt = (correction: FormatCorrection, name: Corrected, time: number) =>
  evaluate(correction[name] ?? [], time, NONE[name]);

/** The path's view as a format with a correction sees it. */
export function corrected(view: View, correction: FormatCorrection | undefined, time: number): View {
  if (!correction) return view;
  const seen = { ...view, fov: view.fov * valueAt(correction, 'zoom', time) };
  for (const name of ADDED) seen[name] += valueAt(correction, name, time);
  return seen;
}

/** What the path's view must be so that a format sees some values; those that are not given are left out. */
export function uncorrected(
  seen: Partial<View>,
  correction: FormatCorrection | undefined,
  time: number,
): Partial<View> {
  if (!correction) return seen;
  const view = { ...seen };
  if (view.fov !== undefined) view.fov /= valueAt(correction, 'zoom', time);
  for (const name of ADDED) if (view[name] !== undefined) view[name] -= valueAt(correction, name, time);
  return view;
}

/**
 * The correction with which a format sees some values where the path's view is `view`: as one value each, or with keyframes
 * where a channel has them, or where `keyed` is set.
 */
export function correctTo(
  correction: FormatCorrection | undefined,
  view: View,
  seen: Partial<View>,
  time: number,
  keyed = false,
): FormatCorrection {
  const next: FormatCorrection = { ...correction };
  const put = (name: Corrected, value: number) => {
    const [least, most] = CORRECTION_LIMITS[name];
    const within = Math.max(least, Math.min(most, value));
    const channel = next[name];
    const keys = typeof channel === 'object' ? channel : [];
    if (!keyed && !keys.length) return void (next[name] = within);
    const key = { time, value: within, ease: 'smooth' as const };
    next[name] = [...keys.filter((k) => !sameTime(k.time, time)), key].sort((a, b) => a.time - b.time);
  };
  if (seen.fov !== undefined) put('zoom', seen.fov / view.fov);
  for (const name of ADDED) if (seen[name] !== undefined) put(name, seen[name] - view[name]);
  return next;
}

/** Whether a correction does anything. */
export const corrects = (correction: FormatCorrection | undefined): boolean =>
  !!correction && CORRECTED.some((name) => correction[name] !== undefined && correction[name] !== NONE[name]);
