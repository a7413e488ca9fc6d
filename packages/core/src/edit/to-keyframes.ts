/** What leads the camera (Lookouts, Follows) written down as keyframes of the path. */
import { unwrapNear } from '../geometry/rotation.js';
import { isCutBetween } from '../lookouts/lookouts.js';
import type { Keyframe } from '../curve/channel.js';
import { VIEW_CHANNELS } from '../path/edit.js';
import { keysOf, type ChannelName, type Path } from '../path/path.js';
import { simplify, type Sample } from '../path/simplify.js';
import { laidAim, type ViewContext } from '../view/view-of.js';
import type { Take } from '../take/take.js';

export interface Written {
  path: Path;
  /** Keyframes in the stretch, and how far they are at most from what was seen, degrees. */
  keys: number;
  deviation: number;
}

interface Stretch {
  /** Seconds of the footage. */
  from: number;
  to: number;
  /** Frames a second of the footage. */
  rate: number;
  /** Degrees. */
  tolerance: number;
}

/** What is seen at every frame of a stretch, cut where the picture is cut; pans are counted on. */
function samplesOf(take: Take, context: ViewContext, { from, to, rate }: Stretch): Sample[][] {
  const pieces: Sample[][] = [];
  const [first, last] = [Math.round(from * rate), Math.round(to * rate)];
  let before: Sample | null = null;
  for (let n = first; n < last || n === first; n++) {
    const time = n / rate;
    const view = laidAim(take, context, time);
    const values: Sample['values'] = Object.fromEntries(VIEW_CHANNELS.map((name) => [name, view[name]]));
    for (const name of ['pan', 'roll'] as const)
      if (before) values[name] = unwrapNear(values[name]!, before.values[name]!);
    const sample = { time, values };
    if (!before || isCutBetween(take.lookouts, time - 0.5 / rate, time + 1e-9)) pieces.push([sample]);
    else pieces.at(-1)!.push(sample);
    before = sample;
  }
  return pieces;
}

const stands = (piece: readonly Sample[]) =>
  VIEW_CHANNELS.every((name) => piece.every((s) => Math.abs(s.values[name]! - piece[0]!.values[name]!) < 1e-6));

/** The keyframes of one piece between cuts: one where it stands still; the last holds until the next piece. */
function keysOfPiece(piece: readonly Sample[], tolerance: number) {
  const [start] = piece as [Sample];
  if (stands(piece)) {
    const hold = (name: ChannelName): Keyframe => ({ time: start.time, value: start.values[name]!, ease: 'hold' });
    return { keys: Object.fromEntries(VIEW_CHANNELS.map((n) => [n, [hold(n)]])), deviation: 0 };
  }
  const { clipping, deviation } = simplify(piece, tolerance);
  const keys = Object.fromEntries(
    VIEW_CHANNELS.map((name) => {
      const list = clipping[name]!;
      return [
        name,
        list.map((k, i) => ({
          ...k,
          time: k.time + start.time,
          ...(i === list.length - 1 ? { ease: 'hold' as const } : {}),
        })),
      ];
    }),
  );
  return { keys, deviation };
}

/**
 * The path with keyframes for all that is seen in a stretch, simplified within a tolerance; what it had there itself goes, what it has
 * elsewhere stays. Of several views in one picture the first is written down.
 */
export function toKeyframes(take: Take, context: ViewContext, stretch: Stretch): Written {
  const { from, to, rate, tolerance } = stretch;
  const pieces = samplesOf(take, context, stretch).map((piece) => keysOfPiece(piece, tolerance));
  const path: Path = { ...take.path };
  const outside = (k: Keyframe) => k.time < from - 0.5 / rate || k.time >= to - 0.5 / rate;
  for (const name of VIEW_CHANNELS) {
    const own = keysOf(take.path, name).filter(outside);
    path[name] = [...own, ...pieces.flatMap((p) => p.keys[name]!)].sort((a, b) => a.time - b.time);
  }
  return {
    path,
    keys: pieces.reduce((sum, p) => sum + p.keys.pan!.length, 0),
    deviation: Math.max(0, ...pieces.map((p) => p.deviation)),
  };
}
