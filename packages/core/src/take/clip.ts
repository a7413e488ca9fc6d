/** What an exported clip is to be like. */

export const CODECS = ['h264', 'h265', 'prores'] as const;
export type Codec = (typeof CODECS)[number];
export const CODEC_NAMES: Record<Codec, string> = {
  h264: 'H.264 in MP4',
  h265: 'H.265 in MP4',
  prores: 'ProRes 422 HQ in MOV',
};
/** Ending of a codec's files. */
export const endingOf = (codec: Codec) => (codec === 'prores' ? 'mov' : 'mp4');

/** Side by side, one over the other, or before small in a corner of after. */
export const COMPARISONS = ['beside', 'over', 'inset'] as const;
export type Comparison = (typeof COMPARISONS)[number];

/** Size of a picture that shows before as well, so that each keeps the whole frame's size: twice as wide or as high. */
export const sizeWithBefore = ({ width, height }: { width: number; height: number }, compare?: Comparison) => ({
  width: compare === 'beside' ? 2 * width : width,
  height: compare === 'over' ? 2 * height : height,
});

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
