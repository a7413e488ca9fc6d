/**
 * Every codec that clips are exported in, once: what it is called, how its amount is set, how large it comes out, and in
 * which pixels it wants its pictures. What the encoder is told stands in media/render/encoders.
 */
import { CONTAINER_FACTS, type Container } from './containers.js';
import { YUV420, YUV444, type PixelFormat } from '../colour/pixels.js';

/** Constant quality as the codec counts it; a smaller number is better. */
export interface QualityScale {
  best: number;
  least: number;
  usual: number;
  /** Steps that halve the size. */
  halving: number;
}

export interface CodecFacts {
  /** In lists and on the Exports page. */
  label: string;
  /** What its clips are written in. */
  container: Container;
  /** How its amount is set; null where it takes what it needs. */
  quality: QualityScale | null;
  /** Bits a pixel at the usual quality, measured on moving views of the demo footage. */
  bitsPerPixel: number;
  /** The pictures that its encoder is given. */
  pixels: PixelFormat;
  /** Bits a second of its sound. */
  soundBits: number;
}

const CRF: QualityScale = { best: 0, least: 51, usual: 19, halving: 6 };

const CODEC_FACTS = {
  h264: {
    label: 'H.264 in MP4',
    container: 'mp4',
    quality: CRF,
    bitsPerPixel: 0.085,
    pixels: YUV420,
    soundBits: 192_000,
  },
  h265: {
    label: 'H.265 in MP4',
    container: 'mp4',
    quality: CRF,
    bitsPerPixel: 0.055,
    pixels: YUV420,
    soundBits: 192_000,
  },
  // About as much whatever is in the picture; its sound is not compressed.
  prores: {
    label: 'ProRes 422 HQ in MOV',
    container: 'mov',
    quality: null,
    bitsPerPixel: 3.5,
    pixels: YUV444,
    soundBits: 1_536_000,
  },
} as const satisfies Record<string, CodecFacts>;

export type Codec = keyof typeof CODEC_FACTS;
export const CODECS = Object.keys(CODEC_FACTS) as Codec[];

/** Facts of a codec, typed alike for all. */
export const codecFacts = (codec: Codec): CodecFacts => CODEC_FACTS[codec];

/** Ending of the files of a codec. */
export const endingOf = (codec: Codec): string => CONTAINER_FACTS[codecFacts(codec).container].ending;

/** Of the codec that is chosen first. */
export const DEFAULT_QUALITY = CRF.usual;

/** What was chosen of a clip's amount, in words; nothing where the codec has none to choose. */
export function amountInWords(codec: Codec, { quality, bitRate }: { quality?: number; bitRate?: number }): string {
  if (!codecFacts(codec).quality) return '';
  return bitRate ? `${bitRate / 1e6} Mbit/s` : `quality ${quality ?? codecFacts(codec).quality!.usual}`;
}
