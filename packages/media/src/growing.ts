/**
 * A proxy while it is made. The encoder writes a fragmented MP4, of which every fragment that is whole can be read; snapshots of
 * what is there are ordinary MP4 files. After a kill the work goes on in another piece where the last snapshot ended.
 */
import { open, rename, writeFile, type FileHandle } from 'node:fs/promises';
import { join } from 'node:path';
import { finished, start } from './ffmpeg.js';

/** The encoder's options for a file that can be read while it grows; with its moov late enough to say where the sound begins. */
export const GROWING = [
  ...['-movflags', '+frag_keyframe+empty_moov+delay_moov+default_base_moof'],
  ...['-flush_packets', '1', '-f', 'mp4'],
];

/** A part of a proxy that was written in one go, from that frame of the footage on. */
export interface Piece {
  file: string;
  from: number;
}

/** Counts the frames in the whole fragments of a growing MP4 whose first track is the picture (ISO/IEC 14496-12, 8.8). */
export class FragmentCounter {
  private at = 0;
  private frames = 0;
  private pending = 0;

  constructor(private readonly file: string) {}

  /** How many frames are there now; 0 as long as there is no file. */
  async count(): Promise<number> {
    const file = await open(this.file).catch(() => null);
    if (!file) return this.frames;
    try {
      const { size } = await file.stat();
      for (;;) {
        const head = await read(file, this.at, 8);
        if (head.length < 8) break;
        const length = head.readUInt32BE(0);
        if (length < 8 || this.at + length > size) break;
        const type = head.toString('latin1', 4);
        if (type === 'moof') this.pending = samplesIn(await read(file, this.at + 8, length - 8));
        if (type === 'mdat') {
          this.frames += this.pending;
          this.pending = 0;
        }
        this.at += length;
      }
      return this.frames;
    } finally {
      await file.close();
    }
  }
}

async function read(file: FileHandle, at: number, length: number): Promise<Buffer> {
  const { buffer, bytesRead } = await file.read(Buffer.alloc(length), 0, length, at);
  return buffer.subarray(0, bytesRead);
}

/** The boxes that follow each other in a buffer. */
function* boxesIn(data: Buffer): Generator<{ type: string; body: Buffer }> {
  for (let at = 0; at + 8 <= data.length;) {
    const size = data.readUInt32BE(at);
    if (size < 8) return;
    yield { type: data.toString('latin1', at + 4, at + 8), body: data.subarray(at + 8, at + size) };
    at += size;
  }
}

/** Samples of the first track in the body of a moof. */
function samplesIn(moof: Buffer): number {
  let samples = 0;
  for (const traf of boxesIn(moof)) {
    if (traf.type !== 'traf') continue;
    let track = 0;
    for (const { type, body } of boxesIn(traf.body)) {
      if (type === 'tfhd') track = body.readUInt32BE(4);
      if (type === 'trun' && track === 1) samples += body.readUInt32BE(4);
    }
  }
  return samples;
}

/**
 * Writes the first frames of a proxy in pieces as one MP4 with its index in front, beside its place and renamed when whole.
 * `rate` in frames a second. Throws MediaError.
 */
export async function joinPieces(folder: string, pieces: Piece[], frames: number, rate: number, out: string) {
  const list = join(folder, 'pieces.txt');
  const lines = pieces.flatMap(({ file, from }, i) => {
    const until = pieces[i + 1]?.from;
    // A microsecond less, so that rounding never lets the next frame in.
    const end = until === undefined ? [] : [`outpoint ${((until - from) / rate - 1e-6).toFixed(6)}`];
    // Without a point to come in, time would begin with what an encoder of sound puts before its first sample.
    return [`file '${file}'`, 'inpoint 0', ...end];
  });
  await writeFile(list, `ffconcat version 1.0\n${lines.join('\n')}\n`);
  const part = `${out}.part`;
  const child = start(
    'ffmpeg',
    [
      ...[
        '-v',
        'fatal',
        '-nostdin',
        '-y',
        '-copyts',
        '-f',
        'concat',
        '-safe',
        '0',
        '-i',
        list,
        '-map',
        '0',
        '-c',
        'copy',
      ],
      ...['-frames:v', String(frames), '-t', (frames / rate).toFixed(6), '-movflags', '+faststart', '-f', 'mp4', part],
    ],
    ['ignore', 'ignore', 'pipe'],
  );
  await finished(child);
  await rename(part, out);
}
