/** What an exported clip is to be like. */
import type { Codec } from './codecs.js';

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
  /** Constant quality as the codec counts it; used when no bit rate is given. */
  quality?: number;
  /** Bits a second. */
  bitRate?: number;
  /** The whole sphere as an equirectangular picture instead of the take's view. */
  sphere?: boolean;
  /** Before and after steadying and level in one picture of the size given, each part with the whole frame. */
  compare?: Comparison;
}
