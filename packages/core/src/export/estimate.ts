/** How large a clip will be, and learning that from the clips that were made. */
import { codecFacts, type Codec } from './codecs.js';
import type { ClipSettings } from './settings.js';

/**
 * A guess at a clip's size in bytes. With a bit rate it is nearly exact; with a quality it comes from the codec's bits per
 * pixel and may be off by two until something was learned.
 */
export function estimateSize(settings: ClipSettings, seconds: number, rate: number, sound: boolean): number {
  const { width, height, bitRate } = settings;
  const { quality: scale, bitsPerPixel, soundBits } = codecFacts(settings.codec);
  const finer = scale ? 2 ** ((scale.usual - (settings.quality ?? scale.usual)) / scale.halving) : 1;
  const video = (scale && bitRate) || width * height * rate * bitsPerPixel * finer;
  return ((video + (sound ? soundBits : 0)) * seconds) / 8;
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
