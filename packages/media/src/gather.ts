/**
 * What Glimbo makes of a footage when it is gathered: a proxy, thumbnails, the Sweep, activity and sound, in one decode. All of
 * it grows and can be used meanwhile; what a kill broke off is gone on with.
 */
import { copyFile, mkdir, readdir, rename, rm, writeFile } from 'node:fs/promises';
import type { ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { YUV420 } from '@glimbo/core/colour/pixels';
import { laidFlatPlan } from '@glimbo/core/plan/laid-flat';
import { HEARD_RATE } from '@glimbo/core/sound/onsets';
import { needsStitching, type Source } from '@glimbo/core/stitch/source';
import { SWEEP_BAND, SWEEP_MOST_ROWS, SWEEP_WIDTH } from '@glimbo/core/sweep/sweep';
import { BT709, finished, MediaError, onAbort, SAFE_INPUT, start, TO_JPEG } from './ffmpeg.js';
import type { MediaFacts } from './probe.js';
import { pictureInput, soundInput, soundOf, type Recording } from './recording.js';
import { companionOf } from './companion.js';
import { COMPANION, Growth, keptIn, pieceName, type Grown, type Kept } from './gathering.js';
import { GROWING } from './growing.js';
import { decodedSource, QUIET } from './decode.js';
import { rawInput } from './render/clip.js';
import { render } from './render/pipeline.js';
import { followStitch } from './stitch.js';
import { SoundWriter, writeSound } from './sound-lane.js';
import { BAND_HEIGHT, SweepWriter } from './sweep.js';

export interface Gathered {
  proxy: { width: number; height: number; frames: number };
  /** While it grows: how many of the frames are there. The proxy is in `proxy-N.mp4` then, N being that number. */
  ready?: number;
  /** While it grows: whether a companion of low resolution lies beside it as `companion.mp4` and can be played. */
  companion?: boolean;
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
  /** Gets what is there so far from time to time; it lies in `FOLDER.part`. Asked for only where there is nothing else to see. */
  grown?: (gathered: Gathered) => void;
  signal?: AbortSignal;
}

/** One attempt: where it works, what it was asked, and from which frame on with what an earlier one left. */
interface Attempt {
  recording: Recording;
  facts: MediaFacts;
  folder: string;
  options: GatherOptions;
  size: { width: number; height: number };
  asked: string;
  kept: Kept | null;
  from: number;
  /** Whether a companion lies in the folder. */
  companion: boolean;
}

/** How proxies are encoded: quickly made, quickly decoded, every frame near a key frame; see docs/formats/gathered.md for why. */
export const PROXY_ENCODER = ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '22', '-bf', '0', '-g', '10'];

export const PROXY_WIDTHS = [1280, 1920, 2560, 3840] as const;
const MOST_THUMBNAILS = 48;

/**
 * Makes `proxy.mp4`, `thumb-0001.jpg` …, `sweep.png` with its tiles, `activity.png` with its tiles, `sound.u8` and
 * `beats.json` in a folder; it is built beside its place and renamed when whole. `progress` gets the share done, 0…1. Throws MediaError.
 */
export async function gather(
  recording: Recording,
  facts: MediaFacts,
  folder: string,
  options: GatherOptions = {},
): Promise<Gathered> {
  const part = `${folder}.part`;
  const flat = !needsStitching(recording.source);
  const size = proxySize(flat ? facts : { width: options.proxyWidth ?? 1920 }, options.proxyWidth);
  const asked = JSON.stringify([
    recording.files,
    recording.source,
    facts.frames,
    facts.rate,
    size,
    options.variableRate,
  ]);
  // Made constant from its start, a variable rate cannot be gone on with in the middle.
  const kept = options.variableRate ? null : await keptIn(part, asked);
  if (!kept) await rm(part, { recursive: true, force: true });
  await mkdir(part, { recursive: true });
  const from = kept?.lanes.frames ?? 0;
  const companion = !!options.grown && (await takeCompanion(recording, facts, part));
  const attempt: Attempt = { recording, facts, folder: part, options, size, asked, kept, from, companion };
  try {
    const result = flat ? await decodeOnce(attempt) : await stitched(attempt);
    await writeFile(join(part, 'gathered.json'), JSON.stringify(result));
    await rm(folder, { recursive: true, force: true });
    await rename(part, folder);
    return result;
  } catch (error) {
    await rm(part, { recursive: true, force: true });
    throw error;
  }
}

/** Brings a recording's companion into a folder; whether there is one. Without room or rights there is none. */
async function takeCompanion(recording: Recording, facts: MediaFacts, folder: string): Promise<boolean> {
  const companion = await companionOf(recording, facts);
  if (!companion) return false;
  return copyFile(companion, join(folder, COMPANION)).then(
    () => true,
    () => false,
  );
}

/** The sound from an attempt's first frame on: as input of its own where it is gone on, and the filters for it. */
function soundFrom({ recording, facts, from }: Attempt, asInput: boolean) {
  const [file] = recording.files as [string];
  if (!facts.sound) return null;
  if (from > 0) return soundInput(file, facts, from / facts.rate, facts.duration);
  return { input: asInput ? [...SAFE_INPUT, '-i', file] : [], filter: soundOf(facts) };
}

/** How frames are shared out over thumbnails and the Sweep's overview. */
const stepsOf = (facts: MediaFacts) => ({
  framesPerRow: Math.max(1, Math.ceil(facts.frames / SWEEP_MOST_ROWS)),
  thumbStep: Math.max(1, Math.ceil(facts.frames / MOST_THUMBNAILS)),
});

function proxySize(facts: Pick<MediaFacts, 'width'>, most = 1920) {
  const width = Math.min(most, facts.width);
  return { width, height: Math.round(width / 4) * 2 };
}

/** Everything after the sphere is a picture of the proxy's size: the proxy itself, the band, the thumbnails, the sound. */
function makings({ facts, folder, from }: Attempt, chain: string, sound: { stream: number; filter: string } | null) {
  const share = (degrees: number) => ((90 - degrees) / 180).toFixed(5);
  const bandShare = ((SWEEP_BAND.top - SWEEP_BAND.bottom) / 180).toFixed(5);
  const band = `scale=${SWEEP_WIDTH}:${BAND_HEIGHT}:flags=area:in_color_matrix=bt709`;
  const { thumbStep } = stepsOf(facts);
  const filter = [
    `${chain},split=3[p][b][t]`,
    `[b]crop=iw:ih*${bandShare}:0:ih*${share(SWEEP_BAND.top)},${band},format=rgb24[band]`,
    `[t]select=not(mod(n+${from}\\,${thumbStep})),scale=512:256:flags=area:${TO_JPEG},format=yuvj420p[thumb]`,
  ];
  const heard = sound === null ? [] : ['-map', `${sound.stream}:a:0`, '-af', sound.filter];
  const audio = sound === null ? [] : [...heard, '-c:a', 'aac', '-b:a', '128k', '-ac', '2'];
  const lane = sound === null ? [] : [...heard, '-ac', '1', '-ar', String(HEARD_RATE), '-f', 's16le', 'pipe:4'];
  return [
    '-filter_complex', filter.join(';'),
    '-map', '[p]', ...audio,
    ...PROXY_ENCODER, '-fps_mode', 'cfr', '-r', String(facts.rate),
    ...BT709, ...GROWING, join(folder, pieceName(from)),
    '-map', '[band]', '-fps_mode', 'passthrough', '-f', 'rawvideo', 'pipe:1',
    '-map', '[thumb]', '-fps_mode', 'passthrough', '-q:v', '4', '-start_number', String(Math.ceil(from / thumbStep) + 1),
    join(folder, 'thumb-%04d.jpg'),
    ...lane, '-progress', 'pipe:3', '-stats_period', '0.1', '-nostats',
  ]; // prettier-ignore
}

const STREAMS: ('ignore' | 'pipe')[] = ['ignore', 'pipe', 'pipe', 'pipe', 'pipe'];

/** Reads what ffmpeg hands back while it works; gives the finished lanes once it has ended. */
function follow(attempt: Attempt, source: Source, child: ChildProcess, progress: (share: number) => void) {
  const { facts, folder, size, options, asked, kept, from, companion } = attempt;
  const { framesPerRow, thumbStep } = stepsOf(facts);
  const sweep = new SweepWriter(folder, facts.rate, framesPerRow, kept?.lanes);
  const sound = new SoundWriter(facts.rate, kept?.sound);
  const pieces = [...(kept?.pieces ?? []), { file: pieceName(from), from }];
  const tell = ({ ready, sweep: { rows, tiles } }: Grown) =>
    options.grown?.({
      proxy: { ...size, frames: facts.frames },
      ready,
      ...(companion ? { companion } : {}),
      thumbnails: { count: Math.ceil(ready / thumbStep), interval: thumbStep / facts.rate },
      sweep: { rows, framesPerRow, tiles },
      sound: facts.sound !== null && ready > 0,
      source,
    });
  if (companion && from === 0) tell({ ready: 0, sweep: { rows: 0, tiles: 0 } });
  const growth = new Growth(folder, facts, { asked, pieces, source }, sweep, sound, tell);
  child.stdout!.on('data', (chunk: Buffer) => sweep.take(chunk));
  (child.stdio[4] as NodeJS.ReadableStream).on('data', (chunk: Buffer) => sound.take(chunk));
  (child.stdio[3] as NodeJS.ReadableStream).on('data', (d: Buffer) => {
    const seen = [...d.toString().matchAll(/^frame=\s*(\d+)/gm)].at(-1);
    if (seen) progress(Math.min(0.99, (from + Number(seen[1])) / facts.frames));
    if (options.grown) growth.look();
  });
  return async (): Promise<Gathered> => {
    if (sweep.frames < facts.frames * 0.95 - 2) {
      throw new MediaError(
        `Only ${(sweep.frames / facts.rate).toFixed(1)} of ${facts.duration.toFixed(1)} s could be read: the file is damaged or cut short. Copy it from the card again.`,
      );
    }
    await growth.finish();
    const { rows, tiles } = await sweep.finish();
    if (facts.sound) await writeSound(folder, sound.finish(facts.frames));
    return {
      proxy: { ...size, frames: facts.frames },
      thumbnails: {
        count: (await readdir(folder)).filter((f) => f.startsWith('thumb-')).length,
        interval: thumbStep / facts.rate,
      },
      sweep: { rows, framesPerRow, tiles },
      sound: facts.sound !== null,
      source,
    };
  };
}

/** A sphere laid flat already: ffmpeg alone decodes, scales and encodes. */
async function decodeOnce(attempt: Attempt) {
  const { recording, facts, size, options, from } = attempt;
  const { inputs, chain } = pictureInput(recording, facts, from);
  const paced = options.variableRate ? `,fps=${facts.rate}` : '';
  const same = 'in_color_matrix=bt709:in_range=tv:out_color_matrix=bt709:out_range=tv';
  const scaled = `${chain}${paced},scale=${size.width}:${size.height}:flags=bicubic:${same},format=yuv420p`;
  const sound = soundFrom(attempt, false);
  const stream = from > 0 ? recording.files.length : 0;
  const heard = sound && { stream, filter: sound.filter };
  const args = [
    '-v',
    'error',
    '-nostdin',
    '-y',
    ...inputs,
    ...(sound?.input ?? []),
    ...makings(attempt, scaled, heard),
  ];
  const child = start('ffmpeg', args, STREAMS);
  const deaf = onAbort(options.signal, () => child.kill('SIGKILL'));
  const finish = follow(attempt, recording.source, child, options.progress ?? (() => {}));
  try {
    await finished(child);
  } catch (error) {
    options.signal?.throwIfAborted();
    throw new MediaError(`The proxy could not be made: ${(error as Error).message}`);
  } finally {
    deaf();
  }
  return finish();
}

/** Share of the work that looking at the overlap of two lenses takes. */
const LOOKING = 0.2;

/** Anything else is drawn as a sphere by the kernel on the way; no stitched file is written. */
async function stitched(attempt: Attempt) {
  const { recording, facts, size, options, kept, from } = attempt;
  const { signal } = options;
  const progress = options.progress ?? (() => {});
  let source = kept?.source ?? recording.source;
  let looked = 0;
  if (source.kind === 'two-lenses' && !source.track) {
    looked = LOOKING;
    source = await followStitch({ ...recording, source }, facts, {
      signal,
      progress: (share) => progress(share * LOOKING),
    });
  }
  const sound = soundFrom(attempt, true);
  let finish: ReturnType<typeof follow> | undefined;
  const plan = laidFlatPlan({ ...facts, source }, size, from);
  await render({
    plan,
    sources: [decodedSource(recording, facts, from === 0)],
    format: YUV420,
    encoder: (pipe) => [
      ...QUIET,
      ...rawInput(pipe, YUV420.name, plan),
      ...(sound?.input ?? []),
      ...makings(attempt, '[0:v]null', sound && { stream: 1, filter: sound.filter }),
    ],
    encoderStreams: STREAMS,
    onEncoder: (encoder) =>
      (finish = follow(attempt, source, encoder, (share) => progress(looked + (1 - looked) * share))),
    signal,
  });
  return finish!();
}
