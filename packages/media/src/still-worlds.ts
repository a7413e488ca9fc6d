/** The still worlds of a footage, kept as a small film: each picture, and below it what is usual. */
import { once } from 'node:events';
import type { Level } from '@glimbo/core/frame/sphere-frame';
import { framesOf, type Beside } from '@glimbo/core/follow/not-world';
import type { StillWorld } from '@glimbo/core/moving/still-world';
import { finished, start } from './ffmpeg.js';
import { rawBytes } from './raw-bytes.js';

/** Usual grey levels are few: they are kept so many times as large. */
const TIMES = 6;
/** Worlds that are read at a time, one group of pictures of the film. */
const PIECE = 8;
/** Pieces that are kept: one for each way in which somebody may be followed. */
const KEPT = 2;

/** The picture of a world above what is usual: rows of luma, then of each colour. */
function filmed({ picture, usual: [luma, tint] }: StillWorld): Buffer {
  const more = (plane: Uint8Array) => plane.map((v) => Math.min(255, TIMES * v));
  const [light, blue, red] = picture.planes;
  return Buffer.concat([light, more(luma), blue, more(tint), red, new Uint8Array(red.length).fill(128)]);
}

/** The usual grey levels that a kept one stands for. */
const USUAL = Uint8Array.from({ length: 256 }, (_, v) => Math.round(v / TIMES));

/** A world from such a picture, `width` pixels across. */
function world(bytes: Uint8Array, width: number): Pick<Beside, 'world' | 'usual'> {
  const [count, tint] = [(width * width) / 2, (width * width) / 8];
  const at = (from: number, length: number) => bytes.slice(from, from + length);
  const less = (plane: Uint8Array) => plane.map((v) => USUAL[v]!);
  const planes: Level['planes'] = [at(0, count), at(2 * count, tint), at(2 * count + 2 * tint, tint)];
  const usual = [less(at(count, count)), less(at(2 * count + tint, tint))] as const;
  return framesOf({ picture: { width, height: width / 2, planes }, usual });
}

/** Writes worlds of `width` pixels into a film. */
export class StillWorldsWriter {
  private readonly encoder;
  private readonly ended: Promise<void>;

  constructor(file: string, width: number) {
    const raw = ['-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-s', `${width}x${width}`, '-r', '1', '-i', '-'];
    // Each piece begins with a whole picture, wherever the world changes.
    const pieces = ['-g', `${PIECE}`, '-sc_threshold', '0', '-bf', '0'];
    const encode = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '16', ...pieces, '-f', 'mp4'];
    this.encoder = start(
      'ffmpeg',
      ['-v', 'error', '-nostdin', '-y', ...raw, ...encode, file],
      ['pipe', 'ignore', 'pipe'],
    );
    this.ended = finished(this.encoder);
    this.ended.catch(() => undefined);
    // A broken pipe is told by how the program ends.
    this.encoder.stdin!.on('error', () => undefined);
  }

  async write(still: StillWorld): Promise<void> {
    const { stdin } = this.encoder;
    if (!stdin!.write(filmed(still)) && stdin!.writable) await Promise.race([once(stdin!, 'drain'), this.ended]);
  }

  /** Rejects with MediaError where the film could not be written. */
  async end(): Promise<void> {
    this.encoder.stdin!.end();
    await this.ended;
  }

  stop() {
    this.encoder.kill('SIGKILL');
  }
}

type World = Pick<Beside, 'world' | 'usual'>;

/** Reads the worlds of a film, some at a time. */
export class StillWorldsReader {
  /** The pieces that were asked for last. */
  private readonly pieces = new Map<number, Promise<World[]>>();

  constructor(
    private readonly file: string,
    private readonly width: number,
    private readonly signal?: AbortSignal,
  ) {}

  /** The world of a number; null where the film has none. Throws MediaError where it cannot be read. */
  async at(n: number): Promise<World | null> {
    const piece = Math.floor(n / PIECE);
    const worlds = this.pieces.get(piece) ?? this.read(piece * PIECE);
    this.pieces.delete(piece);
    this.pieces.set(piece, worlds);
    for (const [oldest] of this.pieces) if (this.pieces.size > KEPT) this.pieces.delete(oldest);
    return (await worlds)[n - piece * PIECE] ?? null;
  }

  private async read(from: number): Promise<World[]> {
    const { width } = this;
    const bytes: Buffer[] = [];
    // From the whole picture with which the piece begins.
    const seek = ['-noaccurate_seek', '-ss', String(from + 0.1), '-threads', '1', '-i', this.file];
    const read = [...seek, '-frames:v', `${PIECE}`, '-pix_fmt', 'yuv420p', '-f', 'rawvideo', '-'];
    for await (const chunk of rawBytes(read, this.signal)) bytes.push(chunk);
    const all = Buffer.concat(bytes);
    const size = width * width * 1.5;
    return Array.from({ length: Math.floor(all.length / size) }, (_, k) =>
      world(all.subarray(k * size, (k + 1) * size), width),
    );
  }
}
