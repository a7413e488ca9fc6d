/** Keyframes cut out of a path, to be put elsewhere: into another moment, another take, or kept as a move. */
import type { View } from '../lens/view.js';
import { easeOf, type Keyframe } from '../curve/channel.js';
import { isSelected, keyId, sameTime, selectedTimes, type Selection } from './keys.js';
import { CHANNELS, CURVES, keysOf, type CurveName, type Curves } from './path.js';

/** Keyframes by channel, with times from the first of them on. */
export type Clipping = Partial<Record<CurveName, Keyframe[]>>;

/** The selected keyframes of a path; null when it has none of them. */
export function clippingOf(path: Curves, selection: Selection): Clipping | null {
  const [first] = selectedTimes(path, selection);
  if (first === undefined) return null;
  const clipping: Clipping = {};
  for (const name of CURVES) {
    const keys = keysOf(path, name).filter((k) => isSelected(selection, name, k));
    if (keys.length) clipping[name] = keys.map((k) => ({ ...k, time: k.time - first, ease: easeOf(k) }));
  }
  return clipping;
}

/** A view as a clipping of one keyframe; shifts only where there are any. */
export const clippingOfView = (view: View): Clipping =>
  Object.fromEntries(
    CHANNELS.filter((name) => !name.startsWith('shift') || view[name] !== 0).map((name) => [
      name,
      [{ time: 0, value: view[name], ease: 'smooth' as const }],
    ]),
  );

/** Seconds from the first keyframe of a clipping to its last. */
export const lengthOf = (clipping: Clipping): number =>
  Math.max(0, ...Object.values(clipping).flatMap((keys) => keys.map((k) => k.time)));

/**
 * Puts a clipping into a path at a time, onto frames of a rate. What the path had in its channels from its beginning to its end
 * gives way. Keyframes past `end`, in seconds, are left out. Gives the path and what was put there as a selection.
 */
export function pasteClipping(
  path: Curves,
  clipping: Clipping,
  at: number,
  { rate, end = Infinity, channels = CURVES }: { rate: number; end?: number; channels?: readonly CurveName[] },
): { path: Curves; selection: Selection } {
  const next = { ...path };
  const selection = new Set<ReturnType<typeof keyId>>();
  for (const name of channels) {
    const byFrame = new Map<number, Keyframe>();
    for (const key of clipping[name] ?? []) {
      const frame = Math.round((at + key.time) * rate);
      if (frame >= 0 && frame / rate <= end + 1e-6) byFrame.set(frame, { ...key, time: frame / rate });
    }
    const put = [...byFrame.values()].sort((a, b) => a.time - b.time);
    const [first, last] = [put[0]?.time, put.at(-1)?.time];
    if (first === undefined || last === undefined) continue;
    const stay = keysOf(path, name).filter(
      (k) => (k.time < first || k.time > last) && !sameTime(k.time, first) && !sameTime(k.time, last),
    );
    next[name] = [...stay, ...put].sort((a, b) => a.time - b.time);
    for (const { time } of put) selection.add(keyId({ channel: name, time }));
  }
  return { path: next, selection };
}
