/** Following one way: from a frame in which a subject is known forwards or backwards, picture by picture. */
import type { Beside } from '@glimbo/core/follow/not-world';
import type { Place, Strangers } from '@glimbo/core/follow/strangers';
import { foundOf, lookBetween, lookOf, type SubjectLook } from '@glimbo/core/follow/subject';
import type { Box } from '@glimbo/core/follow/box';
import { SubjectTracker } from '@glimbo/core/follow/tracker';
import type { WhoIsWhere } from '@glimbo/core/follow/next-frame';
import type { SphereFrame } from '@glimbo/core/frame/sphere-frame';
import { apply, matrixOf, multiply, RADIANS, transpose, type Matrix3 } from '@glimbo/core/geometry/rotation';
import type { Motion } from '@glimbo/core/motion/motion';
import { toWorldOf } from './moving.js';
import { ahead, letCome, pictures } from './sphere-pictures.js';

/** Squares of pictures' widths that are read at a time on the way back: 20 large ones. */
const PIECE = 20 * 1920 ** 2;
/** Looks a second at least, about: more where somebody goes fast or is not plainly seen. */
const LOOKS = 15;
/** Threads that decode for a way: pictures so small come faster than they are looked at, and the other way is decoded meanwhile. */
const THREADS = 1;

/** From where to where a subject is followed, and in what. */
export interface Way {
  file: string;
  /** Frames a second. */
  rate: number;
  /** The frame in which the subject is known; and that before which it ends, which is the earlier one on a way back. */
  from: number;
  until: number;
  box: Box;
  /** Pixels across the whole sphere at which it is looked at. */
  width: number;
}

/** What is known of a footage beside its pictures. */
export interface Known {
  /** How the rig moved, where that is known: the prediction goes with it. */
  motion: Motion | null;
  /** The still world beside a frame, where it is known; null where it is not. */
  besideAt: (frame: number) => Promise<Beside | null>;
  /** Who else is there, where that is known. */
  strangers: Strangers | null;
}

/** Is told each look that was found, in the order of the way. */
export type Step = (frame: number, look: SubjectLook) => void;

/**
 * Follows a subject one way, looking at it as often as it takes. Throws MediaError; rejects with an AbortError when the signal was
 * given.
 */
export const followWay = (way: Way, known: Known, step: Step, signal?: AbortSignal): Promise<void> =>
  followPictures(way.from < way.until ? onwards(way, signal) : backwards(way, signal), way, known, step);

/** The same in pictures that come in the order of the way; between two looks it goes from the one to the other in the world. */
export async function followPictures(
  pictures: AsyncIterable<Pictured> | Iterable<Pictured>,
  { rate, from, until, box }: Pick<Way, 'rate' | 'from' | 'until' | 'box'>,
  known: Known,
  step: Step,
): Promise<void> {
  const toWorld = toWorldOf(known.motion);
  const sense = Math.sign(until - from);
  const most = Math.max(1, Math.round(rate / LOOKS));
  let on: { tracker: SubjectTracker; next: ReturnType<typeof goingOn> } | null = null;
  let last: { n: number; look: SubjectLook } | null = null;
  for await (const { n, picture } of pictures) {
    if (!on || !last) {
      const tracker = new SubjectTracker(picture, box, await known.besideAt(n));
      on = { tracker, next: goingOn(known, tracker, n) };
      last = { n, look: lookOf(tracker.found) };
      continue;
    }
    if (Math.abs(n - last.n) < Math.min(most, on.tracker.rests) && n + sense !== until) continue;
    const look = await on.next(picture, n);
    const ends = [turned(last.look, toWorld(last.n)), turned(look, toWorld(n))] as const;
    const trust = Math.min(last.look[5], look[5]);
    for (let between: number = last.n + sense; between !== n; between += sense) {
      const share = (between - last.n) / (n - last.n);
      step(between, turned(lookBetween(...ends, share, trust), transpose(toWorld(between))));
    }
    step(n, look);
    last = { n, look };
  }
}

/** A look with its direction turned by a matrix. */
function turned(look: SubjectLook, turn: Matrix3): SubjectLook {
  const found = foundOf(look);
  return lookOf({ ...found, direction: apply(turn, found.direction) });
}

/** Goes on with a tracker from the frame where it began, one way: is given each next picture and its frame, and gives the look. */
export function goingOn({ motion, besideAt, strangers }: Known, tracker: SubjectTracker, from: number) {
  const toWorld = toWorldOf(motion);
  const lastSeen = (frame: number) => {
    const { direction, width, height } = tracker.found;
    return { frame, direction: apply(toWorld(frame), direction), size: Math.max(width, height) };
  };
  let last = lastSeen(from);
  let before = from;
  return async (picture: SphereFrame, n: number): Promise<SubjectLook> => {
    const who = strangers ? whoIn(strangers, n, toWorld(n), last) : undefined;
    const turn = turnBetween(motion, before, n);
    const found = tracker.step(picture, { turn, beside: await besideAt(n), who, frames: Math.abs(n - before) });
    if (tracker.isSure) last = lastSeen(n);
    before = n;
    return lookOf(found);
  };
}

/** Who is where in a frame, as directions of its picture. */
const whoIn = (strangers: Strangers, n: number, toWorld: Matrix3, last: Place): WhoIsWhere => ({
  whose: (direction) => strangers.whose(n, apply(toWorld, direction), last),
  isRecognised: (direction) => strangers.isRecognised(n, apply(toWorld, direction)),
  mayBe: () =>
    strangers.mayBe(n, last).map(({ direction, size }) => ({
      direction: apply(transpose(toWorld), direction),
      size: size * RADIANS,
    })),
});

/** From directions in one frame's picture to those in another's; null where the rig's motion is not known. */
function turnBetween(motion: Motion | null, from: number, to: number): Matrix3 | null {
  const [a, b] = [motion?.frames[from], motion?.frames[to]];
  return a && b ? multiply(transpose(matrixOf(b.orientation)), matrixOf(a.orientation)) : null;
}

/** A picture, and the number of its frame. */
interface Pictured {
  n: number;
  picture: SphereFrame;
}

/** The pictures of a way forwards, the one in which the subject is known first. */
async function* onwards({ file, rate, from, until, width }: Way, signal?: AbortSignal): AsyncGenerator<Pictured> {
  const stretch = { rate, from, count: until - from, width, threads: THREADS, passing: true };
  let n = from;
  for await (const picture of pictures(file, stretch, signal)) yield { n: n++, picture };
}

/** And of a way back, read in pieces, since decoders only go forwards. The piece before is read while one is looked at. */
async function* backwards({ file, rate, from, until, width }: Way, signal?: AbortSignal): AsyncGenerator<Pictured> {
  const length = Math.floor(PIECE / width ** 2);
  const pieceBefore = (end: number) => {
    const begin = Math.max(until + 1, end - length);
    if (begin >= end) return null;
    const stretch = { rate, from: begin, count: end - begin, width, threads: THREADS };
    return { begin, ...ahead(pictures(file, stretch, signal)) };
  };
  let next = pieceBefore(from + 1);
  while (next) {
    const { begin, got, read } = next;
    await read;
    next = pieceBefore(begin);
    const count = got.length;
    for (let n = begin + count - 1; n >= begin; n--) {
      yield { n, picture: got.pop()! };
      await letCome(() => !next || next.got.length >= begin + count - n);
    }
  }
}
