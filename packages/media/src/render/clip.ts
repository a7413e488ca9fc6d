/** Exporting a take as a clip. */
import { rename, rm, stat } from 'node:fs/promises';
import { codecFacts } from '@glimbo/core/codecs/codecs';
import { clipPlan, type ClipPlan } from '@glimbo/core/plan/clip-plan';
import type { ClipSettings } from '@glimbo/core/take/clip';
import { rangeProblem } from '@glimbo/core/take/range';
import type { Take } from '@glimbo/core/take/take';
import { lightFor } from '../light.js';
import { cubesFor, overlayMaterials, patchImage } from '../materials.js';
import { tracksFor } from '../subjects.js';
import { twinRecording } from '../twin.js';
import { readMotion } from '../motion-file.js';
import { markSpherical } from '../spherical.js';
import { BT709, MediaError } from '../ffmpeg.js';
import type { MediaFacts } from '../probe.js';
import { pictureInput, readRecording, soundInput, type Recording } from '../recording.js';
import { pacedFilter } from './paced-sound.js';
import { removeTemporary, temporaryFolder } from '../temporary.js';
import { encoderArguments, fileArguments, soundArguments } from './encoders.js';
import { render, type RenderSource } from './pipeline.js';

export interface ClipReport {
  frames: number;
  rate: number;
  width: number;
  height: number;
  seconds: number;
  bytes: number;
  sound: boolean;
}

interface ExportOptions {
  progress?: (done: number, total: number) => void;
  /** Gets the frame that is being written from time to time, as a small JPEG picture. */
  picture?: (jpeg: Uint8Array) => void;
  signal?: AbortSignal;
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
  const { facts, doubts } = await readRecording(recording);
  const variable = doubts.some((d) => d.kind === 'variable-rate');
  const twin = await twinRecording(take, recording);
  const footage = {
    ...facts,
    source: recording.source,
    motion: await motionFor(take, recording),
    light: await lightFor(take, recording),
    twin: twin?.footage,
    trackOf: await tracksFor(take, recording),
  };
  const plan = clipPlan(take, footage, { ...settings, materials: await overlayMaterials(take, recording) });
  const problem = rangeProblem(take.range, facts);
  if (problem || !plan)
    throw new MediaError(problem ?? 'The in point lies after the end of the footage. Set it earlier.');
  const part = `${out}.part`;
  const { width, height, frames, rate } = plan;
  const format = codecFacts(settings.codec).pixels;
  // Only what follows a pace has filters that are too long for a command line.
  const work = plan.sound.pace ? temporaryFolder('clip') : null;
  try {
    const sound = await soundOfClip(plan, recording, facts, work);
    await render({
      plan,
      // A twin of the same footage is read a second time, at its own times.
      sources: plan.sources.map((_, n) =>
        n > 0 && twin
          ? decodedSource(twin.recording, twin.facts, twin.variable)
          : decodedSource(recording, facts, variable),
      ),
      cubes: await cubesFor(take, recording),
      patchImage: await patchImage(take, recording),
      format,
      encoder: (pipe) => [
        ...QUIET,
        ...rawInput(pipe, format.name, plan),
        ...(sound?.input ?? []),
        ...(sound ? [...sound.filter, ...soundArguments(settings.codec), '-t', (frames / rate).toFixed(6)] : ['-an']),
        ...encoderArguments(settings),
        ...fileArguments(settings.codec, part),
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
  } finally {
    if (work) removeTemporary(work);
  }
  const { size } = await stat(out);
  return {
    frames,
    rate,
    width,
    height,
    seconds: frames / rate,
    bytes: size,
    sound: facts.sound !== null && plan.sound.pace !== 'off',
  };
}

export const QUIET = ['-v', 'error', '-nostdin', '-y'];

/** ffmpeg's input for finished frames that come through a pipe. */
export const rawInput = (pipe: string, format: string, plan: { width: number; height: number; rate: number }) => [
  ...['-f', 'rawvideo', '-pix_fmt', format, '-s', `${plan.width}x${plan.height}`, '-r', String(plan.rate)],
  ...[...BT709, '-i', pipe],
];

/** A recording as a source of the pipeline. A variable rate is made constant from its start, so that frame numbers mean the same as in the proxy. */
export const decodedSource = (recording: Recording, facts: MediaFacts, variable: boolean): RenderSource => ({
  width: facts.width,
  height: facts.height,
  fromStart: variable,
  decoder: (pipe, from, count, { top, rows }) => {
    const { inputs, chain } = pictureInput(recording, facts, from);
    const paced = variable ? `,fps=${facts.rate}` : '';
    const cut = rows < facts.height ? `,crop=iw:${rows}:0:${top}` : '';
    const graph = `${chain}${paced}${cut}[v]`;
    return [
      ...QUIET,
      ...inputs,
      ...['-filter_complex', graph, '-map', '[v]', '-an', '-sn', '-fps_mode', 'passthrough'],
      ...['-frames:v', String(count), '-pix_fmt', 'yuv420p', '-f', 'rawvideo', pipe],
    ];
  },
});

/**
 * The clip's sound as ffmpeg's second input, and the filters and stream that it takes from it; null where there is none. What is
 * long of the filters is written into a folder.
 */
async function soundOfClip({ sound }: ClipPlan, recording: Recording, facts: MediaFacts, work: string | null) {
  const { from, to, speed, pace } = sound;
  if (!facts.sound || pace === 'off') return null;
  const { sampleRate } = facts.sound;
  const { input, filter } = soundInput(recording.files[0]!, facts, from, to - from);
  const slowed = speed === 1 ? '' : `,asetrate=${Math.round(sampleRate * speed)},aresample=${sampleRate}`;
  if (!pace || !work) return { input, filter: ['-map', '0:v', '-map', '1:a:0', '-af', `${filter}${slowed}`] };
  const graph = await pacedFilter(`[1:a:0]${filter}${slowed}`, pace, { from, speed, sampleRate }, work);
  return { input, filter: ['-filter_complex', `${graph}[sound]`, '-map', '0:v', '-map', '[sound]'] };
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
