/** Exporting a take as a flat clip. */
import { rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { DEFAULT_QUALITY, endingOf, type ClipSettings, type Comparison } from '@glimbo/core/take/clip';
import { rangeProblem } from '@glimbo/core/take/range';
import { stretchOf, type Take } from '@glimbo/core/take/take';
import { correctionOf } from '@glimbo/core/take/correction';
import { asFilmed } from '@glimbo/core/take/framing';
import { clipTiming, type ClipTiming } from '@glimbo/core/take/timing';
import { readMotion } from '../motion-file.js';
import { markSpherical } from '../spherical.js';
import { BT709, finished, MediaError, onAbort, start } from '../ffmpeg.js';
import { pictureInput, readRecording, soundInput, type Recording } from '../recording.js';
import { removeTemporary, temporaryFolder } from '../temporary.js';
import { render } from './pipeline.js';

export interface ClipReport {
  frames: number;
  rate: number;
  width: number;
  height: number;
  seconds: number;
  bytes: number;
  sound: boolean;
}

/**
 * Exports a take's range from its recording to an MP4 or MOV file, frame-exact, with sound. The file is written beside its
 * place and renamed when whole; after a failure or a cancel nothing is left. Throws MediaError.
 */
export async function exportClip(
  take: Take,
  recording: Recording,
  out: string,
  settings: ClipSettings,
  options: ExportOptions = {},
): Promise<ClipReport> {
  return settings.compare
    ? exportComparison(take, recording, out, { ...settings, compare: settings.compare }, options)
    : exportOne(take, recording, out, settings, options);
}

interface ExportOptions {
  progress?: (done: number, total: number) => void;
  /** Gets the frame that is being written from time to time, as a small JPEG picture. */
  picture?: (jpeg: Uint8Array) => void;
  signal?: AbortSignal;
}

/** The clip as it was filmed and as it is steadied and levelled, in one picture. */
async function exportComparison(
  take: Take,
  recording: Recording,
  out: string,
  settings: ClipSettings & { compare: Comparison },
  { progress, picture, signal }: ExportOptions,
): Promise<ClipReport> {
  const motion = await motionFor(take, recording);
  const before = asFilmed(take, (t) => correctionOf(t, motion));
  const { compare, width, height, codec } = settings;
  const even = (v: number) => 2 * Math.round(v / 2);
  const part =
    compare === 'over'
      ? { width, height: even(height / 2) }
      : compare === 'beside'
        ? { width: even(width / 2), height }
        : { width, height };
  const folder = temporaryFolder('both');
  try {
    let report: ClipReport | null = null;
    for (const [n, [name, which]] of (
      [
        ['before', before],
        ['after', take],
      ] as const
    ).entries())
      report = await exportOne(
        which,
        recording,
        join(folder, `${name}.mp4`),
        { ...settings, ...part, codec: 'h264', quality: 10, bitRate: undefined },
        {
          signal,
          picture,
          progress: (done, total) => progress?.(n * total + done, 2 * total),
        },
      );
    const joined =
      compare === 'beside'
        ? '[0:v][1:v]hstack[v]'
        : compare === 'over'
          ? '[0:v][1:v]vstack[v]'
          : `[0:v]scale=iw/3:-2[small];[1:v][small]overlay=W/40:W/40[v]`;
    const sound = codec === 'prores' ? ['-c:a', 'pcm_s16le'] : ['-c:a', 'copy'];
    const encoder = start('ffmpeg', [
      '-v', 'error', '-nostdin', '-y', '-i', join(folder, 'before.mp4'), '-i', join(folder, 'after.mp4'), '-filter_complex', joined, '-map', '[v]', '-map', '1:a?',
      ...encoderArguments(settings), ...sound, ...BT709, '-movflags', '+faststart', '-f', endingOf(codec), `${out}.part`,
    ], ['ignore', 'ignore', 'pipe']); // prettier-ignore
    await finished(encoder).finally(onAbort(signal, () => encoder.kill('SIGKILL')));
    await rename(`${out}.part`, out);
    return { ...report!, width, height, bytes: (await stat(out)).size };
  } catch (error) {
    await rm(`${out}.part`, { force: true });
    signal?.throwIfAborted();
    throw error;
  } finally {
    removeTemporary(folder);
  }
}

async function exportOne(
  take: Take,
  recording: Recording,
  out: string,
  settings: ClipSettings,
  options: ExportOptions,
): Promise<ClipReport> {
  const { facts, doubts } = await readRecording(recording);
  const variable = doubts.some((d) => d.kind === 'variable-rate');
  const { rate: own } = facts;
  const timing = clipTiming(take, own, facts.frames, settings.rate);
  const problem = rangeProblem(take.range, facts);
  if (problem || !timing)
    throw new MediaError(problem ?? 'The in point lies after the end of the footage. Set it earlier.');
  const { first, range, rate, frames, step, sourceFrames } = timing;
  const stretch = stretchOf(take, own);
  const decoded = sourceFrames.at(-1)! + 1;
  const part = `${out}.part`;
  const { width, height } = settings;
  // A variable rate is made constant from the very start, so that frame numbers mean the same as in the proxy.
  const skip = variable ? first : 0;
  const { inputs, chain } = pictureInput(recording, facts, variable ? 0 : first);
  const graph = `${chain}${variable ? `,fps=${own}` : ''}[v]`;
  const sound = facts.sound ? soundInput(recording.files[0]!, facts, range.in, range.out - range.in) : null;
  const codec = settings.codec === 'prores' ? ['-c:a', 'pcm_s16le'] : ['-c:a', 'aac', '-b:a', '192k'];
  const slowed =
    facts.sound && stretch !== 1
      ? `,asetrate=${Math.round(facts.sound.sampleRate / stretch)},aresample=${facts.sound.sampleRate}`
      : '';
  const soundOut = sound
    ? ['-map', '0:v', '-map', '1:a:0', '-af', `${sound.filter}${slowed}`, ...codec, '-t', (frames / rate).toFixed(6)]
    : ['-an'];
  try {
    await render({
      take: settings.sphere ? null : take,
      corrections: await correctionsOf(take, recording, { start: range.in, step, frames }),
      picture: recording.source,
      source: facts,
      target: { width, height },
      start: range.in,
      step,
      frames,
      sourceFrames,
      skip,
      decoder: (fifo) => [
        '-v',
        'error',
        '-nostdin',
        '-y',
        ...inputs,
        '-filter_complex',
        graph,
        '-map',
        '[v]',
        '-an',
        '-sn',
        '-fps_mode',
        'passthrough',
        '-frames:v',
        String(decoded + skip),
        '-pix_fmt',
        'yuv420p',
        '-f',
        'rawvideo',
        fifo,
      ],
      encoder: (fifo) => [
        '-v',
        'error',
        '-nostdin',
        '-y',
        '-f',
        'rawvideo',
        '-pix_fmt',
        'yuv420p',
        '-s',
        `${width}x${height}`,
        '-r',
        String(rate),
        ...BT709,
        '-i',
        fifo,
        ...(sound?.input ?? []),
        ...soundOut,
        ...encoderArguments(settings),
        ...BT709,
        '-movflags',
        '+faststart',
        '-f',
        endingOf(settings.codec),
        part,
      ],
      progress: (done) => options.progress?.(done, frames),
      onPicture: options.picture,
      signal: options.signal,
    });
    if (settings.sphere) await markSpherical(part);
    await rename(part, out);
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  }
  return {
    frames,
    rate,
    width,
    height,
    seconds: frames / rate,
    bytes: (await stat(out)).size,
    sound: facts.sound !== null,
  };
}

/** The correction of every frame of a clip in memory that threads can share; null where there is none to speak of. */
export async function correctionsOf(
  take: Take,
  recording: Recording,
  { start, step, frames }: Pick<ClipTiming, 'step' | 'frames'> & { start: number },
) {
  const correction = correctionOf(take, await motionFor(take, recording));
  const values = new Float64Array(new SharedArrayBuffer(frames * 72));
  for (let n = 0; n < frames; n++) values.set(correction.at(start + n * step), 9 * n);
  return values;
}

/** The motion that a take's steadying needs; null where it needs none. Throws MediaError if there is none. */
export async function motionFor(take: Take, { motion }: Recording) {
  if (!take.steady || take.steady.mode === 'off') return null;
  if (!motion)
    throw new MediaError(
      'This take is steadied, but the motion of its footage was not analysed. Analyse it first, or switch Steady off.',
    );
  return readMotion(motion);
}

/** The encoder's arguments; also what the benchmark gives to ffmpeg alone, so that both do the same work. */
export function encoderArguments({
  codec,
  quality,
  bitRate,
}: Pick<ClipSettings, 'codec' | 'quality' | 'bitRate'>): string[] {
  if (codec === 'prores') return ['-c:v', 'prores_ks', '-profile:v', '3', '-pix_fmt', 'yuv422p10le'];
  const library =
    codec === 'h265' ? ['-c:v', 'libx265', '-tag:v', 'hvc1', '-x265-params', 'log-level=error'] : ['-c:v', 'libx264'];
  const amount = bitRate
    ? ['-b:v', String(bitRate), '-maxrate', String(Math.round(bitRate * 1.5)), '-bufsize', String(bitRate * 2)]
    : ['-crf', String(quality ?? DEFAULT_QUALITY)];
  return [...library, '-preset', 'medium', ...amount, '-pix_fmt', 'yuv420p'];
}
