/**
 * Motion blur: a frame is the mean of what the view saw while the shutter was open. The view moves along the take; the footage's
 * picture is the same for all of them.
 */
import { movesOf } from '../lens/shifts.js';
import type { View } from '../lens/view.js';

/** Most looks that a frame is made of. */
export const MOST_LOOKS = 64;

/** Pixels from one look to the next, so that fine detail is not seen several times (media/test/blur.test.ts). */
export const SPACING = 1.5;

/** Points across and down at which it is seen how far the picture moves. */
const GRID = 5;
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
  /** Width in pixels of the whole sphere that is looked at; where it is not known it is taken to be finer than the frame. */
  sphereWidth?: number;
  /** At most so many looks. */
  most?: number;
}

/**
 * When to look, in frames of the clip before and after the frame: so often that from one look to the next nothing moves by more
 * than SPACING pixels of the frame, or of the footage where those are larger; once where nothing moves.
 */
export function looksOf({ most = MOST_LOOKS, ...seen }: Open): number[] {
  const open = seen.shutter / 360;
  if (open <= 0) return [0];
  const looks = Math.max(1, Math.min(most, Math.ceil(farthest(seen, open) / SPACING)));
  return evenly(looks, open);
}

/** So many looks while the shutter is open for some frames, in the middle of an equal share of the time each. */
export const evenly = (looks: number, open: number): number[] =>
  Array.from({ length: looks }, (_, i) => ((i + 0.5) / looks - 0.5) * open);

/** By how many of the larger pixels that part of the picture moves that moves most. */
function farthest({ viewAt, width, height, sphereWidth }: Omit<Open, 'shutter'>, open: number): number {
  const points = Array.from({ length: GRID * GRID }, (_, i): [number, number] => [
    ((i % GRID) / (GRID - 1)) * width,
    (Math.floor(i / GRID) / (GRID - 1)) * height,
  ]);
  const ways = points.map(() => 0);
  let before = viewAt(-open / 2);
  for (let part = 1; part <= PARTS; part++) {
    const now = viewAt((part / PARTS - 0.5) * open);
    movesOf(before, now, { width, height }, points).forEach(({ pixels, degrees }, i) => {
      ways[i]! += sphereWidth === undefined ? pixels : Math.min(pixels, (degrees / 360) * sphereWidth);
    });
    before = now;
  }
  return Math.max(...ways);
}
