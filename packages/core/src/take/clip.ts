/** What an exported clip is to be like. */

export const CODECS = ['h264', 'h265', 'prores'] as const;
export type Codec = (typeof CODECS)[number];
/** Ending of a codec's files. */
export const endingOf = (codec: Codec) => (codec === 'prores' ? 'mov' : 'mp4');

/** Side by side, one over the other, or before small in a corner of after. */
export const COMPARISONS = ['beside', 'over', 'inset'] as const;
export type Comparison = (typeof COMPARISONS)[number];

export interface ClipSettings {
  width: number;
  height: number;
  /** Frames a second of the clip; the footage's own when absent. */
  rate?: number;
  codec: Codec;
  /** Constant quality as x264 and x265 count it, 0 (best) to 51; used when no bit rate is given. */
  quality?: number;
  /** Bits a second. */
  bitRate?: number;
  /** The whole sphere as an equirectangular picture instead of the take's view. */
  sphere?: boolean;
  /** Before and after steadying and level in one picture of the size given, each part with the whole frame. */
  compare?: Comparison;
}

export const DEFAULT_QUALITY = 19;

/**
 * A guess at a clip's size in bytes. With a bit rate it is nearly exact; with a quality it comes from bits
 * per pixel as measured on moving views of the demo footage, halving every 6 steps, and may be off by two.
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
