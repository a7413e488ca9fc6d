/** What Glimbo makes of a footage when it is gathered: a proxy, thumbnails, the Sweep, activity and sound, in one decode. */
import { mkdir, readdir, rename, rm, writeFile } from 'node:fs/promises';
import type { ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { YUV420 } from '@glimbo/core/codecs/pixels';
import { laidFlatPlan } from '@glimbo/core/plan/clip-plan';
import { needsStitching, type Source } from '@glimbo/core/stitch/source';
import { SWEEP_BAND, SWEEP_MOST_ROWS, SWEEP_WIDTH } from '@glimbo/core/sweep/sweep';
import { BT709, finished, MediaError, onAbort, SAFE_INPUT, start, TO_JPEG } from './ffmpeg.js';
import type { MediaFacts } from './probe.js';
import { pictureInput, soundOf, type Recording } from './recording.js';
import { decodedSource, QUIET, rawInput } from './render/clip.js';
import { render } from './render/pipeline.js';
import { followStitch } from './stitch.js';
import { BAND_HEIGHT, SoundWriter, SOUND_RATE, SweepWriter } from './sweep.js';

export interface Gathered {
  proxy: { width: number; height: number; frames: number };
  thumbnails: { count: number; interval: number };
  sweep: { rows: number; framesPerRow: number; tiles: number };
  /** Whether there is a sound lane. */
  sound: boolean;
  /** What the picture shows, with what the stitch found on its way. */
  source: Source;
}

export interface GatherOptions {
  variableRate?: boolean;
  /** Largest width of the proxy in pixels. */
  proxyWidth?: number;
  progress?: (share: number) => void;
  signal?: AbortSignal;
}

export const PROXY_WIDTHS = [1280, 1920, 2560, 3840] as const;
const MOST_THUMBNAILS = 48;

/**
 * Makes `proxy.mp4`, `thumb-0001.jpg` …, `sweep.png` with its tiles, `activity.png` with its tiles and `sound.u8` in
 * a folder; it is built beside its place and renamed when whole. `progress` gets the share done, 0…1. Throws MediaError.
 */
export async function gather(
  recording: Recording,
  facts: MediaFacts,
  folder: string,
  options: GatherOptions = {},
): Promise<Gathered> {
  const part = `${folder}.part`;
  await rm(part, { recursive: true, force: true });
  await mkdir(part, { recursive: true });
  try {
    const result = needsStitching(recording.source)
      ? await stitched(recording, facts, part, options)
      : await decodeOnce(recording, facts, part, options);
    await writeFile(join(part, 'gathered.json'), JSON.stringify(result));
    await rm(folder, { recursive: true, force: true });
    await rename(part, folder);
    return result;
  } catch (error) {
    await rm(part, { recursive: true, force: true });
    throw error;
  }
}

/** How frames are shared out over thumbnails and the Sweep's overview. */
const stepsOf = (facts: MediaFacts) => ({
  framesPerRow: Math.max(1, Math.ceil(facts.frames / SWEEP_MOST_ROWS)),
  thumbStep: Math.max(1, Math.ceil(facts.frames / MOST_THUMBNAILS)),
});

export function proxySize(facts: Pick<MediaFacts, 'width'>, most = 1920) {
  const width = Math.min(most, facts.width);
  return { width, height: Math.round(width / 4) * 2 };
}

/** Everything after the sphere is a picture of the proxy's size: the proxy itself, the band, the thumbnails, the sound. */
function makings(facts: MediaFacts, folder: string, chain: string, sound: number | null) {
  const share = (degrees: number) => ((90 - degrees) / 180).toFixed(5);
  const bandShare = ((SWEEP_BAND.top - SWEEP_BAND.bottom) / 180).toFixed(5);
  const band = `scale=${SWEEP_WIDTH}:${BAND_HEIGHT}:flags=area:in_color_matrix=bt709`;
  const filter = [
    `${chain},split=3[p][b][t]`,
    `[b]crop=iw:ih*${bandShare}:0:ih*${share(SWEEP_BAND.top)},${band},format=rgb24[band]`,
    `[t]framestep=${stepsOf(facts).thumbStep},scale=512:256:flags=area:${TO_JPEG},format=yuvj420p[thumb]`,
  ];
  const heard = sound === null ? [] : ['-map', `${sound}:a:0`, '-af', soundOf(facts)];
  const audio = sound === null ? [] : [...heard, '-c:a', 'aac', '-b:a', '128k', '-ac', '2'];
  const lane = sound === null ? [] : [...heard, '-ac', '1', '-ar', String(SOUND_RATE), '-f', 's16le', 'pipe:4'];
  return [
    '-filter_complex', filter.join(';'),
    '-map', '[p]', ...audio,
    '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '20', '-bf', '0', '-g', '10', '-fps_mode', 'cfr', '-r', String(facts.rate),
    ...BT709, '-movflags', '+faststart', join(folder, 'proxy.mp4'),
    '-map', '[band]', '-fps_mode', 'passthrough', '-f', 'rawvideo', 'pipe:1',
    '-map', '[thumb]', '-fps_mode', 'passthrough', '-q:v', '4', join(folder, 'thumb-%04d.jpg'),
    ...lane, '-progress', 'pipe:3', '-nostats',
  ]; // prettier-ignore
}

const STREAMS: ('ignore' | 'pipe')[] = ['ignore', 'pipe', 'pipe', 'pipe', 'pipe'];

/** Reads what ffmpeg hands back while it works; gives the finished lanes once it has ended. */
function follow(child: ChildProcess, facts: MediaFacts, folder: string, progress: (share: number) => void) {
  const { framesPerRow } = stepsOf(facts);
  const sweep = new SweepWriter(folder, facts.rate, framesPerRow);
  const sound = new SoundWriter(facts.rate);
  child.stdout!.on('data', (chunk: Buffer) => sweep.take(chunk));
  (child.stdio[4] as NodeJS.ReadableStream).on('data', (chunk: Buffer) => sound.take(chunk));
  (child.stdio[3] as NodeJS.ReadableStream).on('data', (d: Buffer) => {
    const seen = [...d.toString().matchAll(/^frame=\s*(\d+)/gm)].at(-1);
    if (seen) progress(Math.min(0.99, Number(seen[1]) / facts.frames));
  });
  return async (source: Source, size: { width: number; height: number }): Promise<Gathered> => {
    if (sweep.frames < facts.frames * 0.95 - 2) {
      throw new MediaError(
        `Only ${(sweep.frames / facts.rate).toFixed(1)} of ${facts.duration.toFixed(1)} s could be read: the file is damaged or cut short. Copy it from the card again.`,
      );
    }
    const { rows, tiles } = await sweep.finish();
    if (facts.sound) await writeFile(join(folder, 'sound.u8'), sound.finish(facts.frames));
    return {
      proxy: { ...size, frames: facts.frames },
      thumbnails: {
        count: (await readdir(folder)).filter((f) => f.startsWith('thumb-')).length,
        interval: stepsOf(facts).thumbStep / facts.rate,
      },
      sweep: { rows, framesPerRow, tiles },
      sound: facts.sound !== null,
      source,
    };
  };
}

/** A sphere laid flat already: ffmpeg alone decodes, scales and encodes. */
async function decodeOnce(recording: Recording, facts: MediaFacts, folder: string, options: GatherOptions) {
  const size = proxySize(facts, options.proxyWidth);
  const { inputs, chain } = pictureInput(recording, facts);
  const paced = options.variableRate ? `,fps=${facts.rate}` : '';
  const same = 'in_color_matrix=bt709:in_range=tv:out_color_matrix=bt709:out_range=tv';
  const scaled = `${chain}${paced},scale=${size.width}:${size.height}:flags=bicubic:${same},format=yuv420p`;
  const args = ['-v', 'error', '-nostdin', '-y', ...inputs, ...makings(facts, folder, scaled, facts.sound ? 0 : null)];
  const child = start('ffmpeg', args, STREAMS);
  const deaf = onAbort(options.signal, () => child.kill('SIGKILL'));
  const finish = follow(child, facts, folder, options.progress ?? (() => {}));
  try {
    await finished(child);
  } catch (error) {
    options.signal?.throwIfAborted();
    throw new MediaError(`The proxy could not be made: ${(error as Error).message}`);
  } finally {
    deaf();
  }
  return finish(recording.source, size);
}

/** Share of the work that looking at the overlap of two lenses takes. */
const LOOKING = 0.2;

/** Anything else is drawn as a sphere by the kernel on the way; no stitched file is written. */
async function stitched(recording: Recording, facts: MediaFacts, folder: string, options: GatherOptions) {
  const { signal } = options;
  const progress = options.progress ?? (() => {});
  let { source } = recording;
  let looked = 0;
  if (source.kind === 'two-lenses' && !source.track) {
    looked = LOOKING;
    source = await followStitch({ ...recording, source }, facts, {
      signal,
      progress: (share) => progress(share * LOOKING),
    });
  }
  const size = proxySize({ width: options.proxyWidth ?? 1920 }, options.proxyWidth);
  const sound = facts.sound ? [...SAFE_INPUT, '-i', recording.files[0]!] : [];
  let finish: ReturnType<typeof follow> | undefined;
  const plan = laidFlatPlan({ ...facts, source }, size);
  await render({
    plan,
    sources: [decodedSource(recording, facts, true)],
    format: YUV420,
    encoder: (pipe) => [
      ...QUIET,
      ...rawInput(pipe, YUV420.name, plan),
      ...sound,
      ...makings(facts, folder, '[0:v]null', facts.sound ? 1 : null),
    ],
    encoderStreams: STREAMS,
    onEncoder: (encoder) =>
      (finish = follow(encoder, facts, folder, (share) => progress(looked + (1 - looked) * share))),
    signal,
  });
  return finish!(source, size);
}
