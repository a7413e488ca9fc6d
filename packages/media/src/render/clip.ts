/** Exporting a take as a clip. */
import { rename, rm, stat } from 'node:fs/promises';
import { codecFacts } from '@glimbo/core/export/codecs';
import { clipPlan } from '@glimbo/core/plan/clip-plan';
import { isPaced } from '@glimbo/core/plan/sound-plan';
import type { ClipSettings } from '@glimbo/core/export/settings';
import { rangeProblem } from '@glimbo/core/edit/range';
import type { Take } from '@glimbo/core/take/take';
import { decodedSource, QUIET } from '../decode.js';
import { BT709, MediaError } from '../ffmpeg.js';
import { prepareTake } from '../prepared-take.js';
import type { Recording } from '../recording.js';
import { markSpherical } from '../spherical.js';
import { removeTemporary, temporaryFolder } from '../temporary.js';
import { encoderArguments, fileArguments, soundArguments } from './encoders.js';
import { render } from './pipeline.js';
import { clipSound, type ClipSound } from './sound.js';

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
  const { footage, sources, overlays, materials } = await prepareTake(take, recording);
  const { facts } = sources[0]!;
  const plan = clipPlan(take, footage, { ...settings, materials: overlays });
  const problem = rangeProblem(take.range, facts);
  if (problem || !plan)
    throw new MediaError(problem ?? 'The in point lies after the end of the footage. Set it earlier.');
  const part = `${out}.part`;
  const { width, height, frames, rate } = plan;
  const format = codecFacts(settings.codec).pixels;
  // Only what follows a pace has filters that are too long for a command line.
  const work = isPaced(plan.sound) ? temporaryFolder('clip') : null;
  let sound: ClipSound | null;
  try {
    sound = await clipSound(plan.sound, sources, work);
    await render({
      plan,
      // A twin of the same footage is read a second time, at its own times.
      sources: sources.map((s) => decodedSource(s.recording, s.facts, s.variable)),
      materials,
      format,
      encoder: (pipe) => [
        ...QUIET,
        ...rawInput(pipe, format.name, plan),
        ...(sound?.inputs ?? []),
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
    sound: sound !== null,
  };
}

/** ffmpeg's input for finished frames that come through a pipe. */
export const rawInput = (pipe: string, format: string, plan: { width: number; height: number; rate: number }) => [
  ...['-f', 'rawvideo', '-pix_fmt', format, '-s', `${plan.width}x${plan.height}`, '-r', String(plan.rate)],
  ...[...BT709, '-i', pipe],
];
