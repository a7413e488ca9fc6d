/** What the encoder is told for each codec. A codec's facts (label, container, pixels) stand in core/export. */
import { codecFacts, type Codec } from '@glimbo/core/export/codecs';
import type { Container } from '@glimbo/core/export/containers';
import type { ClipSettings } from '@glimbo/core/export/settings';
import { BT709 } from '../ffmpeg.js';

type Amount = Pick<ClipSettings, 'quality' | 'bitRate'>;

interface Encoder {
  video: (amount: Amount) => string[];
  sound: string[];
}

/** Quality or bit rate as x264 and x265 take it. */
const amountOf = (codec: Codec, { quality, bitRate }: Amount): string[] =>
  bitRate
    ? ['-b:v', String(bitRate), '-maxrate', String(Math.round(bitRate * 1.5)), '-bufsize', String(bitRate * 2)]
    : ['-crf', String(quality ?? codecFacts(codec).quality!.usual)];

const AAC = ['-c:a', 'aac', '-b:a', '192k'];

const ENCODERS: Record<Codec, Encoder> = {
  h264: {
    video: (amount) => ['-c:v', 'libx264', '-preset', 'medium', ...amountOf('h264', amount), '-pix_fmt', 'yuv420p'],
    sound: AAC,
  },
  h265: {
    video: (amount) => [
      ...['-c:v', 'libx265', '-tag:v', 'hvc1', '-x265-params', 'log-level=error'],
      ...['-preset', 'medium', ...amountOf('h265', amount), '-pix_fmt', 'yuv420p'],
    ],
    sound: AAC,
  },
  prores: {
    video: () => ['-c:v', 'prores_ks', '-profile:v', '3', '-pix_fmt', 'yuv422p10le'],
    sound: ['-c:a', 'pcm_s16le'],
  },
};

/** The video encoder's arguments; also what the benchmark gives to ffmpeg alone, so that both do the same work. */
export const encoderArguments = ({ codec, ...amount }: Pick<ClipSettings, 'codec'> & Amount): string[] =>
  ENCODERS[codec].video(amount);

/** The sound encoder's arguments. */
export const soundArguments = (codec: Codec): string[] => ENCODERS[codec].sound;

/** How each container is written: ffmpeg's muxer and what it is told. */
const MUXERS: Record<Container, string[]> = {
  // Its index first, so that it plays before it is there as a whole.
  mp4: ['-movflags', '+faststart', '-f', 'mp4'],
  mov: ['-movflags', '+faststart', '-f', 'mov'],
};

/** What ends a command line that writes a clip: colour tags, container and file. */
export const fileArguments = (codec: Codec, file: string): string[] => [
  ...BT709,
  ...MUXERS[codecFacts(codec).container],
  file,
];
