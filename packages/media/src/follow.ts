/** Following a subject through a footage, from where it was pointed out, forwards and backwards. */
import { boxAround } from '@glimbo/core/follow/point-out';
import { isSeen, lookOf, type SubjectLook, type SubjectTrack } from '@glimbo/core/follow/subject';
import { SphereFrame } from '@glimbo/core/follow/sphere-frame';
import { SubjectTracker, type Box } from '@glimbo/core/follow/tracker';
import {
  angleBetween,
  matrixOf,
  multiply,
  transpose,
  unit,
  vec3,
  type Matrix3,
  type Vec3,
} from '@glimbo/core/geometry/rotation';
import type { Motion } from '@glimbo/core/motion/motion';
import { MediaError, SAFE_INPUT } from './ffmpeg.js';
import { rawBytes } from './raw-bytes.js';

/** Width in pixels at which frames are looked at; small subjects are looked at more closely. */
const WIDTH = 960;
const CLOSE = 1920;
/** Degrees below which a subject is small. */
const SMALL = 8;
/** Seconds that are read at a time on the way back. */
const PIECE = 1;

/** Pixels across the whole sphere at which a subject of a size in degrees is looked at. */
export const lookWidth = ({ width, height }: { width: number; height: number }) =>
  Math.max(width, height) < SMALL ? CLOSE : WIDTH;

/** Where a subject was pointed out: in which frame, where in its picture, and how large; its size is found where that is not said. */
export interface FollowKey {
  frame: number;
  /** Unit direction. */
  direction: Vec3;
  /** Degrees across, or across and up where its outline was drawn. */
  size?: number | { width: number; height: number };
}

/** A subject as it was pointed out first, and where it was put right by hand: its track goes through all of them. */
export interface FollowOrder extends FollowKey {
  keys?: FollowKey[];
}

interface FollowOptions {
  /** What is known already: then only the stretch around the key of a frame, as far as the keys beside it, is followed anew. */
  again?: { known: SubjectTrack; frame: number } | null;
  /** How the rig moved, where that is known: the prediction goes with it. */
  motion?: Motion | null;
  progress?: (share: number) => void;
  signal?: AbortSignal;
}

/**
 * Follows a subject through a whole sphere laid flat, such as a proxy, of `frames` frames at a constant `rate`. Throws MediaError;
 * rejects with an AbortError when the signal was given.
 */
export async function followSubject(
  file: string,
  { rate, frames }: { rate: number; frames: number },
  { keys = [], ...first }: FollowOrder,
  { motion = null, again = null, progress, signal }: FollowOptions = {},
): Promise<SubjectTrack> {
  const order = [first, ...keys].sort((a, b) => a.frame - b.frame);
  if (order.some((k) => k.frame < 0 || k.frame >= frames))
    throw new MediaError('The subject was pointed out outside the footage.');
  const looks: (SubjectLook | null)[] = Array.from({ length: frames }, (_, n) => again?.known.looks[n] ?? null);
  const touches = (key: FollowKey | undefined) => !again || key?.frame === again.frame;
  let done = 0;
  const step = () => void (++done % 10 === 0 && progress?.(Math.min(0.99, done / frames)));
  const stretch: Reading = { file, rate, motion, step, signal };
  for (const [i, key] of order.entries()) {
    const [before, after] = [order[i - 1], order[i + 1]];
    // Nothing is followed from here.
    if (![before, key, after].some(touches)) continue;
    const from = await beginning(stretch, key);
    const back = touches(key) || touches(before) ? await backwards(stretch, key, from, before?.frame ?? -1) : null;
    const on = touches(key) || touches(after) ? await forwards(stretch, key, from, after?.frame ?? frames) : null;
    looks[key.frame] = from.look;
    // Between two keys it is the way from the one that meets the way back from the other.
    back?.forEach(
      (look, n) => (looks[n] = before ? met(looks[n], look, (n - before.frame) / (key.frame - before.frame)) : look),
    );
    on?.forEach((look, n) => (looks[n] = look));
  }
  return { format: 'glimbo-subject', version: 1, rate, looks };
}

/** What both ways come to at a share of the way between two keys: what was seen, in between what both saw alike, else the nearer key's. */
function met(on: SubjectLook | null | undefined, back: SubjectLook, share: number): SubjectLook {
  if (!on || (!isSeen(on) && isSeen(back))) return back;
  if (!isSeen(back)) return on;
  const alike = angleBetween([on[0], on[1], on[2]], [back[0], back[1], back[2]]) < (on[3] + back[3]) / 2;
  if (!alike) return share < 0.5 ? on : back;
  const mix = (k: number) => on[k]! + (back[k]! - on[k]!) * share;
  return lookOf({ direction: unit(vec3([mix(0), mix(1), mix(2)])), size: mix(3), trust: mix(4) });
}

/** A footage that is read, and what is known of it. */
interface Reading {
  file: string;
  rate: number;
  motion: Motion | null;
  step: () => void;
  signal?: AbortSignal;
}

interface Beginning {
  box: Box;
  /** Pixels at which it is looked at. */
  width: number;
  picture: SphereFrame;
  look: SubjectLook;
}

async function beginning({ file, rate, signal }: Reading, { frame, direction, size }: FollowKey): Promise<Beginning> {
  const box = await boxOf(file, { rate, from: frame }, direction, size, signal);
  const width = lookWidth(box);
  for await (const picture of pictures(file, { rate, from: frame, count: 1, width }, signal))
    return { box, width, picture, look: lookOf(new SubjectTracker(picture, box).found) };
  throw new MediaError('The frame in which the subject was pointed out could not be read.');
}

/** Looks from the frame after a key to before another, by frame. */
async function forwards(
  { file, rate, motion, step, signal }: Reading,
  { frame }: FollowKey,
  { box, width, picture }: Beginning,
  until: number,
): Promise<Map<number, SubjectLook>> {
  const looks = new Map<number, SubjectLook>();
  const tracker = new SubjectTracker(picture, box);
  let n = frame + 1;
  if (n >= until) return looks;
  for await (const next of pictures(file, { rate, from: n, count: until - n, width }, signal)) {
    looks.set(n, lookOf(tracker.step(next, turnBetween(motion, n - 1, n))));
    step();
    n++;
  }
  return looks;
}

/** Looks from the frame before a key down to after another, by frame; read in pieces, since decoders only go forwards. */
async function backwards(
  { file, rate, motion, step, signal }: Reading,
  { frame }: FollowKey,
  { box, width, picture }: Beginning,
  after: number,
): Promise<Map<number, SubjectLook>> {
  const looks = new Map<number, SubjectLook>();
  const tracker = new SubjectTracker(picture, box);
  for (let end = frame; end > after + 1;) {
    const from = Math.max(after + 1, end - Math.round(PIECE * rate));
    const piece: SphereFrame[] = [];
    for await (const next of pictures(file, { rate, from, count: end - from, width }, signal)) piece.push(next);
    for (let k = piece.length - 1; k >= 0; k--) {
      looks.set(from + k, lookOf(tracker.step(piece[k]!, turnBetween(motion, from + k + 1, from + k))));
      step();
    }
    end = from;
  }
  return looks;
}

/** The box of what was pointed out. */
async function boxOf(
  file: string,
  { rate, from }: { rate: number; from: number },
  direction: Vec3,
  size: FollowKey['size'],
  signal?: AbortSignal,
): Promise<Box> {
  if (typeof size === 'object') return { direction, ...size };
  for await (const picture of pictures(file, { rate, from, count: 1, width: CLOSE }, signal)) {
    const found = boxAround(picture, direction);
    if (size === undefined) return found;
    // Its shape is found, its size is said.
    const scale = size / Math.max(found.width, found.height);
    return { direction, width: found.width * scale, height: found.height * scale };
  }
  throw new MediaError('The frame in which the subject was pointed out could not be read.');
}

/** From directions in one frame's picture to those in another's; null where the rig's motion is not known. */
function turnBetween(motion: Motion | null, from: number, to: number): Matrix3 | null {
  const [a, b] = [motion?.frames[from], motion?.frames[to]];
  return a && b ? multiply(transpose(matrixOf(b.orientation)), matrixOf(a.orientation)) : null;
}

/** Frames of a file, from one on, `width` pixels wide. */
async function* pictures(
  file: string,
  { rate, from, count, width }: { rate: number; from: number; count: number; width: number },
  signal?: AbortSignal,
): AsyncGenerator<SphereFrame> {
  const height = width / 2;
  const bytes = (width * height * 3) / 2;
  // Somewhat before the frame, so that rounding never meets its neighbour.
  const seek = from > 0 ? ['-ss', ((from - 0.4) / rate).toFixed(6)] : [];
  const filters = `scale=${width}:${height}:flags=area,format=yuv420p`;
  const input = [...seek, ...SAFE_INPUT, '-i', file, '-an', '-sn', '-frames:v', String(count)];
  let frame = new Uint8Array(bytes);
  let filled = 0;
  for await (const chunk of rawBytes([...input, '-vf', filters, '-f', 'rawvideo', '-'], signal))
    for (let at = 0; at < chunk.length;) {
      const some = Math.min(chunk.length - at, bytes - filled);
      frame.set(chunk.subarray(at, at + some), filled);
      at += some;
      filled += some;
      if (filled < bytes) continue;
      yield pictureOf(frame, width);
      frame = new Uint8Array(bytes);
      filled = 0;
    }
}

function pictureOf(frame: Uint8Array, width: number): SphereFrame {
  const height = width / 2;
  const luma = width * height;
  const planes = [frame.subarray(0, luma), frame.subarray(luma, luma * 1.25), frame.subarray(luma * 1.25)] as const;
  return new SphereFrame({ width, height, planes });
}
