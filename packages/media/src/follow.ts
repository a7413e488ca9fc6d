/** Following a subject through a footage, from where it was pointed out, forwards and backwards. */
import { boxAround } from '@glimbo/core/follow/point-out';
import { lookOf, type SubjectLook, type SubjectTrack } from '@glimbo/core/follow/subject';
import { SphereFrame } from '@glimbo/core/follow/sphere-frame';
import { SubjectTracker, type Box } from '@glimbo/core/follow/tracker';
import { matrixOf, multiply, transpose, type Matrix3, type Vec3 } from '@glimbo/core/geometry/rotation';
import type { Motion } from '@glimbo/core/motion/motion';
import { MediaError, SAFE_INPUT } from './ffmpeg.js';
import { rawBytes } from './raw-bytes.js';

/** Width in pixels at which frames are looked at; small subjects are looked at more closely. */
const WIDTH = 960;
const CLOSE = 1920;
/** Degrees below which a subject is small. */
const SMALL = 6;
/** Seconds that are read at a time on the way back. */
const PIECE = 1;

/** A subject as it was pointed out: in which frame, where in its picture, and how large; its size is found where that is not said. */
export interface FollowOrder {
  frame: number;
  /** Unit direction. */
  direction: Vec3;
  /** Degrees across, or across and up where its outline was drawn. */
  size?: number | { width: number; height: number };
}

interface FollowOptions {
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
  { frame, direction, size }: FollowOrder,
  { motion = null, progress, signal }: FollowOptions = {},
): Promise<SubjectTrack> {
  if (frame < 0 || frame >= frames) throw new MediaError('The subject was pointed out outside the footage.');
  const box = await boxOf(file, { rate, from: frame }, direction, size, signal);
  const width = Math.max(box.width, box.height) < SMALL ? CLOSE : WIDTH;
  const looks: (SubjectLook | null)[] = new Array<SubjectLook | null>(frames).fill(null);
  let done = 0;
  const step = (n: number, tracker: SubjectTracker, picture: SphereFrame, before: number) => {
    looks[n] = lookOf(tracker.step(picture, turnBetween(motion, before, n)));
    if (++done % 10 === 0) progress?.(Math.min(0.99, done / frames));
  };
  const read = (from: number, count: number) => pictures(file, { rate, from, count, width }, signal);

  let tracker: SubjectTracker | null = null;
  let first: SphereFrame | null = null;
  let n = frame;
  for await (const picture of read(frame, frames - frame)) {
    if (!tracker) {
      first = picture;
      tracker = new SubjectTracker(picture, box);
      looks[n] = lookOf(tracker.found);
    } else step(n, tracker, picture, n - 1);
    n++;
  }
  if (!first) throw new MediaError('The frame in which the subject was pointed out could not be read.');
  tracker = new SubjectTracker(first, box);
  for (let end = frame; end > 0;) {
    const from = Math.max(0, end - Math.round(PIECE * rate));
    const piece: SphereFrame[] = [];
    for await (const picture of read(from, end - from)) piece.push(picture);
    for (let k = piece.length - 1; k >= 0; k--) step(from + k, tracker, piece[k]!, from + k + 1);
    end = from;
  }
  return { format: 'glimbo-subject', version: 1, rate, looks };
}

/** The box of what was pointed out. */
async function boxOf(
  file: string,
  { rate, from }: { rate: number; from: number },
  direction: Vec3,
  size: FollowOrder['size'],
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
