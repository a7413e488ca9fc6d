/** A small picture of a subject where it was pointed out, by which a list tells one from another. */
import { rename, writeFile } from 'node:fs/promises';
import { uprightIn } from '@glimbo/core/follow/aim';
import { glimpse, glimpseOf, type SphereFrame } from '@glimbo/core/frame/sphere-frame';
import type { Box } from '@glimbo/core/follow/box';
import { IDENTITY, RADIANS, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { output, TO_JPEG } from './ffmpeg.js';

/** Pixels of a side, and how many subjects wide it is. */
const SIDE = 96;
const PADDING = 1.3;

/**
 * The picture of a subject: SIDE × SIDE, planes of Y', Cb and Cr (BT.709, limited range), each of that size. `toWorld`: from directions of
 * the frame's picture to the world's, in which it stands upright.
 */
export function portraitOf(
  frame: SphereFrame,
  { direction, width, height }: Box,
  toWorld: Matrix3 = IDENTITY,
): Uint8Array {
  const look = glimpseOf(SIDE);
  glimpse(frame, uprightIn(toWorld, direction), Math.max(width, height) * PADDING * RADIANS, look);
  return Uint8Array.from({ length: 3 * SIDE * SIDE }, (_, i) =>
    Math.round(look.planes[Math.floor(i / SIDE ** 2)]![i % SIDE ** 2]!),
  );
}

/** It as a JPEG. Throws MediaError. */
export async function jpegOf(portrait: Uint8Array): Promise<Uint8Array> {
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'yuv444p', '-s', `${SIDE}x${SIDE}`, '-i', '-'];
  const jpeg = ['-vf', `scale=${TO_JPEG},format=yuvj420p`, '-frames:v', '1', '-c:v', 'mjpeg', '-q:v', '3'];
  return output('ffmpeg', ['-v', 'error', ...raw, ...jpeg, '-f', 'image2pipe', '-'], portrait);
}

/** Writes it as a JPEG, whole or not at all. Throws MediaError. */
export async function writePortrait(portrait: Uint8Array, file: string): Promise<void> {
  await writeFile(`${file}.part`, await jpegOf(portrait));
  await rename(`${file}.part`, file);
}
