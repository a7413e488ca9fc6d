/**
 * Motion blur: a frame is the mean of what the view saw while the shutter was open. The view moves along the take; the footage's
 * picture is the same for all of them.
 */
import { shifts } from '../lens/shifts.js';
import type { View } from '../lens/view.js';

/** Degrees of the shutter: 360 is open from one frame to the next, more goes on over the neighbours; 180 is what films have. */
export const SHUTTER = { least: 0, most: 720, usual: 180 } as const;

/** Most looks that a frame is made of. */
export const MOST_LOOKS = 64;

/** Points across and down at which it is seen how far the picture moves. */
const GRID = 5;
/** Between the points something may move a little more than at them. */
const MORE = 1.1;
/** In how many parts the time is measured: turning there and back is not standing still. */
const PARTS = 6;

interface Open {
  /** Degrees of the shutter. */
  shutter: number;
  /** The view at some frames of the clip before or after the frame, which is in the middle of the time. */
  viewAt: (frames: number) => View;
  /** Pixels. */
  width: number;
  height: number;
  /** At most so many looks. */
  most?: number;
}

/**
 * When to look, in frames of the clip before and after the frame: so often that from one look to the next nothing moves by more
 * than a pixel, once where nothing moves.
 */
export function looksOf({ shutter, viewAt, width, height, most = MOST_LOOKS }: Open): number[] {
  const open = shutter / 360;
  if (open <= 0) return [0];
  const moved = farthest({ viewAt, width, height }, open);
  const looks = Math.max(1, Math.min(most, Math.ceil(moved * MORE)));
  return Array.from({ length: looks }, (_, i) => ((i + 0.5) / looks - 0.5) * open);
}

/** By how many pixels that part of the picture moves that moves most. */
function farthest({ viewAt, width, height }: Pick<Open, 'viewAt' | 'width' | 'height'>, open: number): number {
  const points = Array.from({ length: GRID * GRID }, (_, i): [number, number] => [
    ((i % GRID) / (GRID - 1)) * width,
    (Math.floor(i / GRID) / (GRID - 1)) * height,
  ]);
  const ways = points.map(() => 0);
  let before = viewAt(-open / 2);
  for (let part = 1; part <= PARTS; part++) {
    const now = viewAt((part / PARTS - 0.5) * open);
    shifts(before, now, { width, height }, points).forEach((way, i) => (ways[i]! += way));
    before = now;
  }
  return Math.max(...ways);
}
