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
import { GRADE_NAMES, type GradeCurves, type GradeName } from '../look/channels.js';
import { easeOf, evaluate, indexAt, type Channel, type Keyframe, type Turn } from '../curve/channel.js';
import type { Ease } from '../curve/ease.js';

export const CHANNELS = ['pan', 'tilt', 'roll', 'fov', 'bend', 'shiftX', 'shiftY'] as const;
export type ChannelName = (typeof CHANNELS)[number];

export interface Path {
  /** How angles go between keyframes, where a segment does not say so itself. */
  turn: Turn;
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

/** A path from a document, in which channels may be absent. */
export function withEveryChannel(path: Partial<Path> | undefined): Path {
  const whole = { ...emptyPath(), ...path };
  for (const name of CHANNELS) whole[name] ??= [];
  return whole;
}

/** How what is ahead goes on over time, for the whole sphere. */
export const TURN_NAMES = ['turnPan', 'turnTilt', 'turnRoll'] as const;
export type TurnName = (typeof TURN_NAMES)[number];

/** Everything that is keyed over time: the path's channels, the dials of a grade, and the turn of the sphere. */
export const CURVES = [...CHANNELS, ...GRADE_NAMES, ...TURN_NAMES] as const;
export type CurveName = ChannelName | GradeName | TurnName;
export type Curves = Path & GradeCurves & Partial<Record<TurnName, Channel>>;

export const keysOf = (curves: Partial<Record<CurveName, Channel>>, name: CurveName): readonly Keyframe[] => {
  const channel = curves[name];
  return typeof channel === 'object' ? channel : [];
};

const isChannel = (name: CurveName): name is ChannelName => (CHANNELS as readonly string[]).includes(name);

const FAMILIES: readonly (readonly CurveName[])[] = [CHANNELS, GRADE_NAMES, TURN_NAMES];

/** The channels that are keyed and shaped together with one: those of the view, of the grade, or of the sphere's turn. */
export const familyOf = (name: CurveName): readonly CurveName[] => FAMILIES.find((f) => f.includes(name))!;

/** The value of any curve at a time in seconds. */
export const curveAt = (curves: Curves, name: CurveName, time: number): number =>
  isChannel(name) ? viewAt(curves, time)[name] : evaluate(curves[name] ?? 0, time, 0);

/** The view at a time in seconds from the footage's start. Angles are unwrapped. */
export function viewAt(path: Path, time: number): View {
  const view = { ...DEFAULT_VIEW };
  for (const name of CHANNELS) view[name] = evaluate(path[name], time, DEFAULT_VIEW[name]);
  const turning = turningOf(path);
  return turning ? { ...view, ...arcAt(path, turning, time, view) } : view;
}

/** How the view turns after a time: along its dials, or by an arc. */
export function turnAfter(path: Path, time: number): Turn {
  const keys = keysOf(path, 'pan');
  return keys[indexAt(keys, time)]?.turn ?? path.turn;
}

/** The keyframes of a path's turning: times, orientations, the angle turned since the first, and where it goes by arcs. */
interface Turning {
  times: { time: number }[];
  turns: Quaternion[];
  progress: Keyframe[];
  arcs: boolean[];
}

/** A path is never changed, so its turning is found out once; null where it has no arcs. */
const turnings = new WeakMap<Path, Turning | null>();

function turningOf(path: Path): Turning | null {
  const known = turnings.get(path);
  if (known !== undefined) return known;
  const arcs = path.turn === 'arc' || keysOf(path, 'pan').some((k) => k.turn === 'arc');
  const turning = arcs ? findTurning(path) : null;
  turnings.set(path, turning);
  return turning;
}

function findTurning(path: Path): Turning {
  const times = turningTimes(path);
  const turns = times.map((t) => quaternionOf(rotationOf(dialsAt(path, t))));
  let travelled = 0;
  const progress = times.map((time, n): Keyframe => {
    if (n > 0) travelled += turnBetween(turns[n - 1]!, turns[n]!);
    return { time, value: travelled, ease: panEaseAt(path, time) };
  });
  const arcs = times.map((t) => turnAfter(path, t) === 'arc');
  return { times: times.map((time) => ({ time })), turns, progress, arcs };
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
function arcAt(path: Path, { times, turns, progress, arcs }: Turning, time: number, dials: Angles): Angles {
  const i = indexAt(times, time);
  const plain = { pan: dials.pan, tilt: dials.tilt, roll: dials.roll };
  if (i < 0 || i >= times.length - 1 || !arcs[i] || time === times[i]!.time) return plain;
  const span = progress[i + 1]!.value - progress[i]!.value;
  if (span < 1e-9) return dialsAt(path, times[i]!.time);
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
