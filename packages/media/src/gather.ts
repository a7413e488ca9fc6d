/** What Glimbo makes of a footage when it is gathered: a proxy, thumbnails and the Sweep, in one decode. */
import { mkdir, readdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { squeezeBand, SWEEP_BAND, SWEEP_MOST_ROWS, SWEEP_WIDTH } from '@glimbo/core/sweep/sweep';
import { BT709, finished, MediaError, output, SAFE_INPUT, start } from './ffmpeg.js';
import type { MediaFacts } from './probe.js';

export interface Gathered {
  proxy: { width: number; height: number; frames: number };
  thumbnails: { count: number; interval: number };
  sweep: { rows: number; framesPerRow: number };
}

const PROXY_WIDTH = 1920;
const BAND_HEIGHT = 24;
const MOST_THUMBNAILS = 48;

/**
 * Makes `proxy.mp4`, `thumb-0001.jpg` … and `sweep.png` in a folder that must not exist yet; it is built
 * beside its place and renamed when whole. `progress` gets the share done, 0…1.
 */
export async function gather(
  file: string,
  facts: MediaFacts,
  folder: string,
  options: { variableRate?: boolean; progress?: (share: number) => void; signal?: AbortSignal } = {},
): Promise<Gathered> {
  const part = `${folder}.part`;
  await rm(part, { recursive: true, force: true });
  await mkdir(part, { recursive: true });
  try {
    const result = await decodeOnce(file, facts, part, options);
    await writeFile(join(part, 'gathered.json'), JSON.stringify(result));
    await rm(folder, { recursive: true, force: true });
    await rename(part, folder);
    return result;
  } catch (error) {
    await rm(part, { recursive: true, force: true });
    throw error;
  }
}

async function decodeOnce(
  file: string,
  facts: MediaFacts,
  folder: string,
  options: Parameters<typeof gather>[3] = {},
): Promise<Gathered> {
  const width = Math.min(PROXY_WIDTH, facts.width);
  const height = Math.round(width / 4) * 2;
  const framesPerRow = Math.max(1, Math.ceil(facts.frames / SWEEP_MOST_ROWS));
  const thumbStep = Math.max(1, Math.ceil(facts.frames / MOST_THUMBNAILS));
  const share = (degrees: number) => ((90 - degrees) / 180).toFixed(5);
  const bandShare = ((SWEEP_BAND.top - SWEEP_BAND.bottom) / 180).toFixed(5);
  const filter = [
    `[0:v]${options.variableRate ? `fps=${facts.rate},` : ''}scale=${width}:${height}:flags=bicubic:out_color_matrix=bt709:out_range=tv,format=yuv420p,split=3[p][b][t]`,
    `[b]framestep=${framesPerRow},crop=iw:ih*${bandShare}:0:ih*${share(SWEEP_BAND.top)},scale=${SWEEP_WIDTH}:${BAND_HEIGHT}:flags=area:in_color_matrix=bt709,format=rgb24[band]`,
    `[t]framestep=${thumbStep},scale=512:256:flags=area[thumb]`,
  ].join(';');
  const child = start('ffmpeg', [
    '-v', 'error', '-nostdin', '-y', ...SAFE_INPUT, '-i', file, '-filter_complex', filter,
    '-map', '[p]', ...(facts.sound ? ['-map', '0:a:0', '-c:a', 'aac', '-b:a', '128k', '-ac', '2'] : []),
    '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '20', '-bf', '0', '-g', '10', '-fps_mode', 'cfr', '-r', String(facts.rate),
    ...BT709, '-movflags', '+faststart', join(folder, 'proxy.mp4'),
    '-map', '[band]', '-fps_mode', 'passthrough', '-f', 'rawvideo', 'pipe:1',
    '-map', '[thumb]', '-fps_mode', 'passthrough', '-q:v', '4', join(folder, 'thumb-%04d.jpg'),
    '-progress', 'pipe:3', '-nostats',
  ], ['ignore', 'pipe', 'pipe', 'pipe']); // prettier-ignore
  const stop = () => child.kill('SIGKILL');
  options.signal?.addEventListener('abort', stop);
  const rows: Uint8Array[] = [];
  const bandBytes = SWEEP_WIDTH * BAND_HEIGHT * 3;
  let pending = Buffer.alloc(0);
  child.stdout!.on('data', (chunk: Buffer) => {
    pending = Buffer.concat([pending, chunk]);
    while (pending.length >= bandBytes) {
      const row = new Uint8Array(SWEEP_WIDTH * 3);
      squeezeBand(pending.subarray(0, bandBytes), SWEEP_WIDTH, BAND_HEIGHT, row, 0);
      rows.push(row);
      pending = pending.subarray(bandBytes);
    }
  });
  let frames = 0;
  (child.stdio[3] as NodeJS.ReadableStream).on('data', (d: Buffer) => {
    const seen = [...d.toString().matchAll(/^frame=\s*(\d+)/gm)].at(-1);
    if (!seen) return;
    frames = Number(seen[1]);
    options.progress?.(Math.min(0.99, frames / facts.frames));
  });
  try {
    await finished(child);
  } catch (error) {
    options.signal?.throwIfAborted();
    throw new MediaError(`The proxy could not be made: ${(error as Error).message}`);
  } finally {
    options.signal?.removeEventListener('abort', stop);
  }
  if (rows.length * framesPerRow < facts.frames * 0.95 - framesPerRow - 2) {
    throw new MediaError(
      `Only ${((rows.length * framesPerRow) / facts.rate).toFixed(1)} of ${facts.duration.toFixed(1)} s could be read: the file is damaged or cut short. Copy it from the card again.`,
    );
  }
  await writeSweep(rows, join(folder, 'sweep.png'));
  const thumbnails = (await readdir(folder)).filter((f) => f.startsWith('thumb-')).length;
  return {
    proxy: { width, height, frames: facts.frames },
    thumbnails: { count: thumbnails, interval: thumbStep / facts.rate },
    sweep: { rows: rows.length, framesPerRow },
  };
}

async function writeSweep(rows: Uint8Array[], file: string) {
  const png = await output('ffmpeg', [
    '-v', 'error', '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${SWEEP_WIDTH}x${rows.length}`, '-i', '-',
    '-frames:v', '1', '-c:v', 'png', '-f', 'image2pipe', '-',
  ], Buffer.concat(rows)); // prettier-ignore
  await writeFile(file, png);
}
