/**
 * A picture of the whole sphere as it was decoded: planes of luma and chroma. What a decoder leaves in memory goes to the
 * graphics card at three eighths of its size as RGBA, and is converted where it is drawn; what it left on the card stays there.
 */

import type { Planes } from '@glimbo/core/colour/shrink';

export type { Planes };

/** Whether a picture is one in planes: of the browser's own, some have a `y` too, but never as bytes. */
export const isPlanes = (picture: object): picture is Planes => 'y' in picture && picture.y instanceof Uint8Array;

/** Copies the planes of a decoded picture into `memory` where that is large enough; null if it has no such planes. */
export async function planesOf(frame: VideoFrame, memory: Uint8Array | null): Promise<Planes | null> {
  const rect = frame.visibleRect;
  if (frame.format !== 'I420' || !rect || rect.width % 2 || rect.height % 2) return null;
  const [width, height] = [rect.width, rect.height];
  const [whole, quarter] = [width * height, (width * height) / 4];
  const size = whole + 2 * quarter;
  const bytes = memory && memory.length === size ? memory : new Uint8Array(size);
  await frame.copyTo(bytes, {
    rect,
    layout: [
      { offset: 0, stride: width },
      { offset: whole, stride: width / 2 },
      { offset: whole + quarter, stride: width / 2 },
    ],
  });
  return {
    width,
    height,
    y: bytes.subarray(0, whole),
    u: bytes.subarray(whole, whole + quarter),
    v: bytes.subarray(whole + quarter),
  };
}

/** Pictures at once in use: the one on the screen, the one that a small drawing still waits to take, and the next. */
const IN_USE = 3;

/** What copies the planes of the picture a video shows; null where the browser does not hand them out. Each is good for two more. */
export function framePlanes() {
  const memory: (Uint8Array | null)[] = new Array<null>(IN_USE).fill(null);
  let next = 0;
  let possible = 'VideoFrame' in globalThis;
  return async (video: HTMLVideoElement): Promise<Planes | null> => {
    if (!possible) return null;
    try {
      const frame = new VideoFrame(video);
      const planes = await planesOf(frame, memory[next]!).finally(() => frame.close());
      if (planes) memory[next] = new Uint8Array(planes.y.buffer);
      possible = planes !== null;
      next = (next + 1) % IN_USE;
      return planes;
    } catch {
      possible = false;
      return null;
    }
  };
}
