/** The path: the virtual camera's keyframed curves, evaluated together. */
import {
  anglesOf,
  matrixOf,
  quaternionOf,
  rotationOf,
  slerp,
  turnBetween,
  unwrapNear,
  type Angles,
  type Quaternion,
} from '../geometry/rotation.js';
import { DEFAULT_VIEW, type View } from '../lens/view.js';
import { easeOf, evaluate, indexAt, type Channel, type Keyframe } from './channel.js';
import type { Ease } from './ease.js';

export const CHANNELS = ['pan', 'tilt', 'roll', 'fov', 'bend', 'shiftX', 'shiftY'] as const;
export type ChannelName = (typeof CHANNELS)[number];

export interface Path {
  /** How angles go between keyframes: each along its own curve, or by the shortest turn. */
  turn: 'dials' | 'arc';
  pan: Channel;
  tilt: Channel;
  roll: Channel;
  fov: Channel;
  bend: Channel;
  shiftX: Channel;
  shiftY: Channel;
}

export const emptyPath = (): Path => ({
  turn: 'dials',
  pan: [],
  tilt: [],
  roll: [],
  fov: [],
  bend: [],
  shiftX: [],
  shiftY: [],
});

export const keysOf = (path: Path, name: ChannelName): readonly Keyframe[] => {
  const channel = path[name];
  return typeof channel === 'number' ? [] : channel;
};

/** The view at a time in seconds from the footage's start. Angles are unwrapped. */
export function viewAt(path: Path, time: number): View {
  const view = { ...DEFAULT_VIEW };
  for (const name of CHANNELS) view[name] = evaluate(path[name], time, DEFAULT_VIEW[name]);
  return path.turn === 'arc' ? { ...view, ...arcAt(path, time, view) } : view;
}

/** Times at which pan, tilt or roll has a keyframe, in order. */
function turningTimes(path: Path): number[] {
  const times = new Set<number>();
  for (const name of ['pan', 'tilt', 'roll'] as const) for (const k of keysOf(path, name)) times.add(k.time);
  return [...times].sort((a, b) => a - b);
}

function dialsAt(path: Path, time: number): Angles {
  return {
    pan: evaluate(path.pan, time, 0),
    tilt: evaluate(path.tilt, time, 0),
    roll: evaluate(path.roll, time, 0),
  };
}

/**
 * The shortest turn by slerp between the orientations at the keyframes on either side. Progress is the
 * angle turned since the first keyframe, run through the pan channel's eases as if it were a channel itself.
 */
function arcAt(path: Path, time: number, dials: Angles): Angles {
  const times = turningTimes(path);
  const i = indexAt(
    times.map((t) => ({ time: t })),
    time,
  );
  if (i < 0 || i >= times.length - 1) return { pan: dials.pan, tilt: dials.tilt, roll: dials.roll };
  if (time === times[i]) return dialsAt(path, time);
  const turns: Quaternion[] = times.map((t) => quaternionOf(rotationOf(dialsAt(path, t))));
  const progress: Keyframe[] = [];
  let travelled = 0;
  times.forEach((t, n) => {
    if (n > 0) travelled += turnBetween(turns[n - 1]!, turns[n]!);
    progress.push({ time: t, value: travelled, ease: panEaseAt(path, t) });
  });
  const span = progress[i + 1]!.value - progress[i]!.value;
  if (span < 1e-9) return dialsAt(path, times[i]!);
  const f = (evaluate(progress, time, 0) - progress[i]!.value) / span;
  const angles = anglesOf(matrixOf(slerp(turns[i]!, turns[i + 1]!, f)));
  return {
    pan: unwrapNear(angles.pan, dials.pan),
    tilt: angles.tilt,
    roll: unwrapNear(angles.roll, dials.roll),
  };
}

function panEaseAt(path: Path, time: number): Ease {
  const keys = keysOf(path, 'pan');
  const i = indexAt(keys, time);
  return i < 0 ? 'smooth' : easeOf(keys[i]!);
}

/** Angular speed of the view in °/s at a time, from the orientations half a frame on either side. */
export function speedAt(path: Path, time: number, rate: number): number {
  const at = (t: number) => quaternionOf(rotationOf(viewAt(path, t)));
  return turnBetween(at(time - 0.5 / rate), at(time + 0.5 / rate)) * rate;
}
