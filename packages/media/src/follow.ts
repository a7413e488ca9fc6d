/** Following a subject through a footage, from where it was pointed out, forwards and backwards. */
import type { Beside } from '@glimbo/core/follow/not-world';
import { boxAround, boxMoving, boxOfSize } from '@glimbo/core/follow/point-out';
import {
  foundOf,
  isSeen,
  lookBetween,
  lookOf,
  sizeOf,
  type SubjectLook,
  type SubjectTrack,
} from '@glimbo/core/follow/subject';
import type { SphereFrame } from '@glimbo/core/frame/sphere-frame';
import type { Box } from '@glimbo/core/follow/box';
import { SubjectTracker } from '@glimbo/core/follow/tracker';
import { angleBetween, type Vec3 } from '@glimbo/core/geometry/rotation';
import { MediaError } from './ffmpeg.js';
import { followWay, type Known, type Step, type Way } from './follow-way.js';
import { portraitOf } from './portrait.js';
import { pictures } from './sphere-pictures.js';

/** Width in pixels at which frames are looked at; small subjects are looked at more closely. */
const WIDTH = 960;
const CLOSE = 1920;
/** By which factor a subject that is put right may be larger or smaller than it was nearby. */
const UNLIKELY = 1.6;
/** Degrees below which a subject is small. */
const SMALL = 8;

/** Pixels across the whole sphere at which a subject of a size in degrees is looked at. */
export const lookWidth = ({ width, height }: { width: number; height: number }) =>
  Math.max(width, height) < SMALL ? CLOSE : WIDTH;

/** Where a subject was pointed out: in which frame, where in its picture, and how large; its size is found where that is not said. */
export interface FollowKey {
  frame: number;
  /** Unit direction; its middle where the size is said. */
  direction: Vec3;
  /** Degrees across, or across and up where its outline was drawn. */
  size?: number | { width: number; height: number };
}

/** A subject as it was pointed out first, and where it was put right by hand: its track goes through all of them. */
export interface FollowOrder extends FollowKey {
  keys?: FollowKey[];
}

/** Follows one way, and tells each look. */
export type Follows = (way: Way, step: Step, signal?: AbortSignal) => Promise<void>;

export interface FollowOptions extends Partial<Known> {
  /** What is known already: then only the stretch around the key of a frame, as far as the keys beside it, is followed anew. */
  again?: { known: SubjectTrack; frame: number } | null;
  /** How each way is followed; both at once. In this thread where it is not said. */
  follows?: Follows;
  progress?: (share: number) => void;
  /** Is given, some 60 times, what the track is so far. */
  grown?: (track: SubjectTrack) => void;
  /** Is given what it looks like where it was pointed out first, if that is looked at. */
  seen?: (portrait: Uint8Array) => void;
  signal?: AbortSignal;
}

/** How often a growing track is told, and after how many frames at the earliest. */
const TOLD = 60;
const TELL = 15;

/**
 * Follows a subject through a whole sphere laid flat, such as a proxy, of `frames` frames at a constant `rate`. Throws MediaError;
 * rejects with an AbortError when the signal was given.
 */
export async function followSubject(
  file: string,
  { rate, frames }: { rate: number; frames: number },
  { keys = [], ...first }: FollowOrder,
  {
    motion = null,
    besideAt = async () => null,
    strangers = null,
    again = null,
    follows = (way, step, signal) => followWay(way, { motion, besideAt, strangers }, step, signal),
    progress,
    grown,
    seen,
    signal,
  }: FollowOptions = {},
): Promise<SubjectTrack> {
  const order = [first, ...keys].sort((a, b) => a.frame - b.frame);
  if (order.some((k) => k.frame < 0 || k.frame >= frames))
    throw new MediaError('The subject was pointed out outside the footage.');
  const looks: (SubjectLook | null)[] = Array.from({ length: frames }, (_, n) => again?.known.looks[n] ?? null);
  const touches = (key: FollowKey | undefined) => !again || key?.frame === again.frame;
  const soFar = [...looks];
  const every = Math.max(TELL, Math.round(frames / TOLD));
  let done = 0;
  const step = (n: number, look: SubjectLook) => {
    soFar[n] = look;
    if (++done % 10 === 0) progress?.(Math.min(0.99, done / frames));
    if (done % every === 0) grown?.(trackOf(rate, [...soFar]));
  };
  for (const [i, key] of order.entries()) {
    const [before, after] = [order[i - 1], order[i + 1]];
    // Nothing is followed from here.
    if (![before, key, after].some(touches)) continue;
    const from = await beginning({ file, rate, besideAt, signal }, key, sizeNear(looks, key.frame));
    if (key === first) seen?.(portraitOf(from.picture, from.box, from.beside?.toWorld));
    const way = { file, rate, from: key.frame, box: from.box, width: from.width };
    const followed = async (until: number, stop: AbortSignal) =>
      // No thread is begun where no frame lies between.
      Math.abs(until - key.frame) > 1 ? looksAlong(step, (told) => follows({ ...way, until }, told, stop)) : null;
    const [back, on] = await allOrNone(signal, (stop) => [
      touches(key) || touches(before) ? followed(before?.frame ?? -1, stop) : null,
      touches(key) || touches(after) ? followed(after?.frame ?? frames, stop) : null,
    ]);
    looks[key.frame] = from.look;
    // Between two keys it is the way from the one that meets the way back from the other.
    back?.forEach(
      (look, n) => (looks[n] = before ? met(looks[n], look, (n - before.frame) / (key.frame - before.frame)) : look),
    );
    on?.forEach((look, n) => (looks[n] = look));
  }
  return trackOf(rate, looks);
}

/** The looks that following one way tells, by frame. */
async function looksAlong(step: Step, follow: (told: Step) => Promise<void>): Promise<Map<number, SubjectLook>> {
  const looks = new Map<number, SubjectLook>();
  await follow((frame, look) => {
    looks.set(frame, look);
    step(frame, look);
  });
  return looks;
}

/** Waits for all that are begun; where one fails the others are stopped. */
async function allOrNone<T>(
  signal: AbortSignal | undefined,
  begin: (stop: AbortSignal) => (Promise<T> | null)[],
): Promise<(T | null)[]> {
  const failed = new AbortController();
  try {
    return await Promise.all(begin(signal ? AbortSignal.any([signal, failed.signal]) : failed.signal));
  } catch (error) {
    failed.abort();
    throw error;
  }
}

const trackOf = (rate: number, looks: SubjectTrack['looks']): SubjectTrack => ({
  format: 'glimbo-subject',
  version: 2,
  rate,
  looks,
});

/** What both ways come to at a share of the way between two keys: what was seen, in between what both saw alike, else the nearer key's. */
function met(on: SubjectLook | null | undefined, back: SubjectLook, share: number): SubjectLook {
  if (!on || (!isSeen(on) && isSeen(back))) return back;
  if (!isSeen(back)) return on;
  const alike = angleBetween(foundOf(on).direction, foundOf(back).direction) < (sizeOf(on) + sizeOf(back)) / 2;
  if (!alike) return share < 0.5 ? on : back;
  return lookBetween(on, back, share);
}

interface Beginning {
  box: Box;
  /** Pixels at which it is looked at. */
  width: number;
  picture: SphereFrame;
  beside: Beside | null;
  look: SubjectLook;
}

async function beginning(
  { file, rate, besideAt, signal }: Pick<Known, 'besideAt'> & { file: string; rate: number; signal?: AbortSignal },
  { frame, direction, size }: FollowKey,
  expected: number | null,
): Promise<Beginning> {
  const beside = await besideAt(frame);
  const box = await boxOf(file, { rate, from: frame, expected, beside, recognised: null }, direction, size, signal);
  const width = lookWidth(box);
  for await (const picture of pictures(file, { rate, from: frame, count: 1, width }, signal)) {
    return { box, width, picture, beside, look: lookOf(new SubjectTracker(picture, box, beside).found) };
  }
  throw new MediaError('The frame in which the subject was pointed out could not be read.');
}

/**
 * The outline of what somebody presses on in a frame: what moves there, else what was recognised, else what stands out. Throws
 * MediaError, with a sentence for the user where there is only bare ground.
 */
export const outlineOf = (
  file: string,
  { rate, frame, ...known }: { rate: number; frame: number; direction: Vec3 } & Pick<Pressed, 'beside' | 'recognised'>,
): Promise<Box> => boxOf(file, { rate, from: frame, expected: null, ...known }, known.direction, undefined);

/** The size in degrees at the moment nearest to a frame at which a subject was seen; null where it never was. */
function sizeNear(looks: readonly (SubjectLook | null)[], frame: number): number | null {
  for (let d = 1; d < looks.length; d++)
    for (const look of [looks[frame - d], looks[frame + d]]) if (look && isSeen(look)) return sizeOf(look);
  return null;
}

const isUnlikely = ({ width, height }: Box, expected: number) =>
  Math.abs(Math.log(Math.max(width, height) / expected)) > Math.log(UNLIKELY);

/** What is known of a press. */
interface Pressed {
  rate: number;
  from: number;
  /** Degrees across its larger side, where it was seen before. */
  expected: number | null;
  beside: Beside | null;
  /** What was recognised there. */
  recognised: Box | null;
}

/** The box of what was pointed out; where it is about as large as expected, as it is found, else of that size. */
async function boxOf(
  file: string,
  { rate, from, expected, beside, recognised }: Pressed,
  direction: Vec3,
  size: FollowKey['size'],
  signal?: AbortSignal,
): Promise<Box> {
  if (typeof size === 'object') return { direction, ...size };
  for await (const picture of pictures(file, { rate, from, count: 1, width: CLOSE }, signal)) {
    if (size !== undefined) return boxOfSize(picture, direction, size);
    const found = (beside && boxMoving(picture, direction, beside)) ?? recognised ?? boxAround(picture, direction);
    if (expected !== null && (!found || isUnlikely(found, expected))) return boxOfSize(picture, direction, expected);
    if (!found)
      throw new MediaError(
        `${beside ? 'Nothing moves there, and nothing' : 'Nothing'} stands out there from what is about it. Nothing was followed; point at the middle of something, or draw round it.`,
      );
    return found;
  }
  throw new MediaError('The frame in which the subject was pointed out could not be read.');
}
