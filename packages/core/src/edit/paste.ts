/** Putting parts of one take into others: keyframes at the same distance from the in point, and settings as a whole. */
import { pasteClipping, type Clipping } from '../path/clipping.js';
import { layLookouts } from './lookouts.js';
import type { CurveName } from '../path/path.js';
import { curvesOf, withCurves } from './curves.js';
import type { Take } from '../take/take.js';

export const SETTINGS = ['level', 'steady', 'orientation', 'pace', 'look', 'formats', 'lookouts'] as const;
export type Setting = (typeof SETTINGS)[number];

export interface TakePaste {
  /** Keyframes, and how many seconds after a take's in point they begin. */
  keys?: { clipping: Clipping; after: number; channels?: readonly CurveName[] };
  /** The take that settings come from, and which. */
  from?: Take;
  settings?: readonly Setting[];
}

/** A take with those parts. `footage`: frames a second and seconds of its own footage; nothing is put past its end. */
export function pasteOnto(
  take: Take,
  { keys, from, settings = [] }: TakePaste,
  footage: { rate: number; duration: number },
): Take {
  let next = { ...take };
  for (const setting of from ? settings : []) next = withSetting(next, from!, setting);
  if (!keys) return next;
  const { rate, duration } = footage;
  const { path } = pasteClipping(curvesOf(next), keys.clipping, take.range.in + keys.after, {
    rate,
    end: duration - 1 / rate,
    channels: keys.channels,
  });
  return withCurves(next, path);
}

function withSetting(take: Take, from: Take, setting: Setting): Take {
  if (setting === 'formats') return { ...take, frame: from.frame };
  if (setting === 'lookouts') return layLookouts(take, from.lookouts, take.footage === from.footage);
  const { [setting]: value } = from;
  const { [setting]: _, ...rest } = take;
  return (value === undefined ? rest : { ...rest, [setting]: value }) as Take;
}
