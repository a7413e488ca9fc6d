/** Frames of a whole sphere as they are looked at to follow somebody: of a common width, one by one, or read ahead. */
import { setImmediate } from 'node:timers/promises';
import { SphereFrame } from '@glimbo/core/frame/sphere-frame';
import { SAFE_INPUT } from './ffmpeg.js';
import { rawBytes } from './raw-bytes.js';

/** Turns of the event loop that are left to reading after a picture was looked at: about one for each 64 KB of the next. */
const TURNS = 48;

interface Stretch {
  /** Frames a second. */
  rate: number;
  from: number;
  count: number;
  /** Pixels across. */
  width: number;
  /** Only some of every so many frames; all of them unless it is said. */
  every?: number;
  /** Which of them: those that leave these numbers when divided by `every`; the first alone unless it is said. */
  phases?: readonly number[];
  /** Threads that decode and scale; as many as there are cores unless it is said. */
  threads?: number;
  /** Each picture is only looked at until the next is asked for: its memory serves again. */
  passing?: boolean;
}

/** The numbers of the frames that are read, from the first of the stretch on. */
export function* chosenFrames({ count, every = 1, phases = [0] }: Pick<Stretch, 'count' | 'every' | 'phases'>) {
  for (let n = 0; n < count; n++) if (phases.includes(n % every)) yield n;
}

/**
 * Frames of a file of a constant rate: of `count` from the one of a number on, scaled to `width` pixels (a multiple of 32) by half of that.
 * Throws MediaError where it cannot be read, and rejects with an AbortError when the signal was given.
 */
export async function* pictures(file: string, stretch: Stretch, signal?: AbortSignal): AsyncGenerator<SphereFrame> {
  const { rate, from, width, every = 1, phases = [0], threads = 0, passing = false } = stretch;
  const height = width / 2;
  const bytes = (width * height * 3) / 2;
  // Somewhat before the frame, so that rounding never meets its neighbour.
  const seek = from > 0 ? ['-ss', ((from - 0.4) / rate).toFixed(6)] : [];
  const thinned = every > 1 ? `select=${phases.map((k) => `eq(mod(n\\,${every})\\,${k})`).join('+')},` : '';
  const filters = `${thinned}scale=${width}:${height}:flags=area,format=yuv420p`;
  const input = [
    '-threads',
    String(threads),
    '-filter_threads',
    String(threads),
    ...seek,
    ...SAFE_INPUT,
    '-i',
    file,
    '-an',
    '-sn',
    '-frames:v',
    String([...chosenFrames(stretch)].length),
    '-fps_mode',
    'passthrough',
  ];
  let frame = new Uint8Array(bytes);
  let filled = 0;
  for await (const chunk of rawBytes([...input, '-vf', filters, '-f', 'rawvideo', '-'], signal))
    for (let at = 0; at < chunk.length;) {
      const some = Math.min(chunk.length - at, bytes - filled);
      frame.set(chunk.subarray(at, at + some), filled);
      at += some;
      filled += some;
      if (filled < bytes) continue;
      yield pictureOf(frame, width);
      if (!passing) frame = new Uint8Array(bytes);
      filled = 0;
    }
}

function pictureOf(frame: Uint8Array, width: number): SphereFrame {
  const height = width / 2;
  const luma = width * height;
  const planes = [frame.subarray(0, luma), frame.subarray(luma, luma * 1.25), frame.subarray(luma * 1.25)] as const;
  return new SphereFrame({ width, height, planes });
}

/** Reads on while something else is done: `got` grows, `read` ends with it. */
export function ahead<T>(items: AsyncIterable<T>): { got: T[]; read: Promise<void> } {
  const got: T[] = [];
  const read = (async () => {
    for await (const item of items) got.push(item);
  })();
  // Whoever waits for it is told; until then nobody is.
  read.catch(() => undefined);
  return { got, read };
}

/** Lets what is read come in, until there is enough of it or nothing came for some turns. */
export async function letCome(enough: () => boolean): Promise<void> {
  for (let turn = 0; turn < TURNS && !enough(); turn++) await setImmediate();
}
