/** How large a clip will be, and learning that from the clips that were made. */
import { DEFAULT_QUALITY, type ClipSettings, type Codec } from './clip.js';

/**
 * A guess at a clip's size in bytes. With a bit rate it is nearly exact; with a quality it comes from bits per pixel as
 * measured on moving views of the demo footage, halving every 6 steps, and may be off by two until something was learned.
 */
export function estimateSize(settings: ClipSettings, seconds: number, rate: number, sound: boolean): number {
  const perPixel =
    0.085 *
    2 ** ((DEFAULT_QUALITY - (settings.quality ?? DEFAULT_QUALITY)) / 6) *
    (settings.codec === 'h265' ? 0.65 : 1);
  // ProRes 422 HQ takes about as much whatever is in the picture.
  if (settings.codec === 'prores') return (settings.width * settings.height * rate * 3.5 * seconds) / 8;
  const video = settings.bitRate ?? settings.width * settings.height * rate * perPixel;
  return ((video + (sound ? 192_000 : 0)) * seconds) / 8;
}

/** What came out over what was guessed, by codec and by what the amount is given as: this person's footage is its own. */
export type SizeRatios = Record<string, number>;

export const ratioKey = ({ codec, bitRate }: { codec: Codec; bitRate?: number }) =>
  bitRate ? `${codec} by bit rate` : codec;

/** Weight of what was known before. */
const MEMORY = 0.6;
/** Nothing is believed to be further off than by this factor. */
const FURTHEST = 8;

/** The ratio after one more clip of `bytes` that was guessed at `estimate`; ratios are averaged as logarithms. */
export function learnedRatio(before: number | undefined, bytes: number, estimate: number): number {
  if (!(bytes > 0 && estimate > 0)) return before ?? 1;
  const seen = Math.max(1 / FURTHEST, Math.min(FURTHEST, bytes / estimate));
  return before === undefined ? seen : Math.exp(MEMORY * Math.log(before) + (1 - MEMORY) * Math.log(seen));
}
