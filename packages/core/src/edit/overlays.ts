/** Changing the overlays of a take. Every function gives another take. */
import { evaluate, type Channel, type Keyframe } from '../curve/channel.js';
import { sameTime } from '../path/keys.js';
import { withLook } from './look.js';
import type { Take } from '../take/take.js';
import type { Logo, Overlay, Title } from '../overlay/overlays.js';

export type OverlayChannel = 'x' | 'y' | 'opacity';

export const overlaysOf = (take: Pick<Take, 'look'>): readonly Overlay[] => take.look?.overlays ?? [];

const withOverlays = (take: Take, overlays: Overlay[]): Take =>
  withLook(take, { overlays: overlays.length ? overlays : undefined });

/** Bars lie below all else; everything else comes on top. */
export const addOverlay = (take: Take, overlay: Overlay): Take =>
  withOverlays(take, overlay.kind === 'bars' ? [overlay, ...overlaysOf(take)] : [...overlaysOf(take), overlay]);

export const removeOverlay = (take: Take, index: number): Take =>
  withOverlays(
    take,
    overlaysOf(take).filter((_, i) => i !== index),
  );

/** Changes some settings of an overlay of the same kind. */
export const changeOverlay = (take: Take, index: number, change: Partial<Overlay>): Take =>
  withOverlays(
    take,
    overlaysOf(take).map((o, i) => (i === index ? ({ ...o, ...change } as Overlay) : o)),
  );

/** Sets a value of a channel: a key at a time in seconds where it is keyed, else its only value. */
export function setOverlayValue(take: Take, index: number, name: OverlayChannel, time: number, value: number): Take {
  const overlay = overlaysOf(take)[index] as Title | Logo;
  const channel = overlay[name];
  return changeOverlay(take, index, { [name]: Array.isArray(channel) ? withKey(channel, time, value) : value });
}

/** Sets a key at a time, or takes the one there away; without its last key a channel keeps its value. */
export function toggleOverlayKey(take: Take, index: number, name: OverlayChannel, time: number): Take {
  const channel = (overlaysOf(take)[index] as Title | Logo)[name];
  const value = evaluate(channel, time, 0);
  const keys = typeof channel === 'number' ? [] : channel;
  const others = keys.filter((k) => !sameTime(k.time, time));
  const next: Channel = others.length < keys.length ? (others.length ? others : value) : withKey(keys, time, value);
  return changeOverlay(take, index, { [name]: next });
}

const withKey = (keys: readonly Keyframe[], time: number, value: number): Keyframe[] =>
  [...keys.filter((k) => !sameTime(k.time, time)), { time, value, ease: 'smooth' as const }].sort(
    (a, b) => a.time - b.time,
  );
