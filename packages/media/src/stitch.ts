/** Looking at recordings before they are stitched: what their picture shows, how their lenses lie, what the seam meets. */
import { basename } from 'node:path';
import { calibrate, type Calibration } from '@glimbo/core/stitch/calibrate';
import { frameBytes, YUV420 } from '@glimbo/core/colour/pixels';
import { pictureOf } from '@glimbo/core/stitch/overlap';
import { recognise } from '@glimbo/core/stitch/recognise';
import { housed, twoLenses, type Source, type TwoLenses } from '@glimbo/core/stitch/source';
import { overlapLooker, trackOf, TRACK_EVERY, type OverlapLook } from '@glimbo/core/stitch/track';
import { finished, MediaError, onAbort, start } from './ffmpeg.js';
import type { MediaFacts } from './probe.js';
import { pictureInput, readRecording, type Recording } from './recording.js';
import { decodeFrame } from './decode.js';

/** Two files are named like a pair of lenses, and their pictures do not tell whether they are. */
export class NoPairError extends MediaError {}

/** Two files taken for two lenses because somebody says so; their circles fill the pictures until they are set. Throws MediaError. */
export async function asLenses(files: string[]): Promise<TwoLenses> {
  const { facts } = await readRecording({ files, source: { kind: 'sphere', join: 'files' } });
  return { ...twoLenses(facts.width, facts.height, USUAL_FOV), join: 'files' };
}

/** Field of view in degrees that a lens is thought to have until somebody says otherwise. */
const USUAL_FOV = 200;

/**
 * What the picture of files shows, from a frame in their middle. Two files are two lenses; so are two circles, and two
 * video streams in one file. Throws MediaError.
 */
export async function recogniseRecording(files: string[], streams: number): Promise<Source> {
  const join = files.length > 1 ? { join: 'files' as const } : streams > 1 ? { join: 'streams' as const } : {};
  const recording: Recording = { files, source: { kind: 'sphere', ...join } };
  const { facts } = await readRecording(recording);
  const { width, height } = facts;
  const luma = (await decodeFrame(recording, facts, facts.duration / 2)).subarray(0, width * height);
  const seen = recognise(luma, width, height);
  if (seen.kind === 'two-lenses') {
    const source = twoLenses(width, height, USUAL_FOV);
    const lenses = source.lenses.map((lens, i) => ({ ...lens, ...seen.circles[i]! })) as TwoLenses['lenses'];
    return { ...source, ...join, lenses };
  }
  if (files.length > 1)
    throw new NoPairError(
      `${basename(files[0]!)} and ${basename(files[1]!)} are named like the two lenses of one recording, but no dark edge round two circles is seen.`,
    );
  if (join.join) return { kind: 'sphere' };
  if (seen.kind === 'one-lens')
    return { kind: 'one-lens', lens: { ...seen.circle, fov: USUAL_FOV, k1: 0, k2: 0, pan: 0, tilt: 0, roll: 0 } };
  return { kind: 'sphere' };
}

/** Calibrates a two-lens recording on the frame at a time in seconds. Throws MediaError or CalibrationError. */
export async function calibrateOn(recording: Recording & { source: TwoLenses }, time: number): Promise<Calibration> {
  const { facts } = await readRecording(recording);
  const picture = pictureOf(await decodeFrame(recording, facts, time), facts.width, facts.height);
  const { lenses, housing } = recording.source;
  const found = calibrate(picture, lenses.map((l) => housed(l, housing)) as TwoLenses['lenses']);
  // The housing's share is taken off again, so that it can be changed by itself.
  const bare = found.lenses.map((lens, i) => {
    const through = housed(lenses[i]!, housing);
    return {
      ...lens,
      fov: (lens.fov * lenses[i]!.fov) / through.fov,
      k1: lens.k1 - (through.k1 - lenses[i]!.k1),
      k2: lens.k2 - (through.k2 - lenses[i]!.k2),
    };
  }) as TwoLenses['lenses'];
  return { ...found, lenses: bare };
}

/** Follows brightness and seam through a whole recording. Memory holds one picture at a time. Throws MediaError. */
export async function followStitch(
  recording: Recording & { source: TwoLenses },
  facts: MediaFacts,
  options: { progress?: (share: number) => void; signal?: AbortSignal } = {},
): Promise<TwoLenses> {
  const look = overlapLooker(recording.source);
  if (!look) return { ...recording.source, track: undefined };
  const { inputs, chain } = pictureInput(recording, facts);
  const child = start('ffmpeg', [
    '-v', 'error', '-nostdin', ...inputs, '-filter_complex', `${chain},fps=${1 / TRACK_EVERY}:round=near[v]`, '-map', '[v]',
    '-pix_fmt', 'yuv420p', '-f', 'rawvideo', '-',
  ], ['ignore', 'pipe', 'pipe']); // prettier-ignore
  const deaf = onAbort(options.signal, () => child.kill('SIGKILL'));
  const looks: OverlapLook[] = [];
  const bytes = new Uint8Array(frameBytes(YUV420, facts.width, facts.height));
  let filled = 0;
  const ended = finished(child);
  ended.catch(() => {});
  try {
    for await (const chunk of child.stdout! as AsyncIterable<Buffer>) {
      for (let used = 0; used < chunk.length;) {
        const n = Math.min(chunk.length - used, bytes.length - filled);
        bytes.set(chunk.subarray(used, used + n), filled);
        used += n;
        filled += n;
        if (filled < bytes.length) continue;
        filled = 0;
        looks.push(look(pictureOf(bytes, facts.width, facts.height)));
        options.progress?.(Math.min(1, (looks.length * TRACK_EVERY) / facts.duration));
      }
    }
    await ended;
  } catch (error) {
    options.signal?.throwIfAborted();
    throw new MediaError(`The lenses could not be compared: ${(error as Error).message}`);
  } finally {
    deaf();
  }
  return { ...recording.source, track: trackOf(looks) };
}

/** The source with what one moment's picture says of brightness and seam, for a still of it. Throws MediaError. */
export async function followMoment(
  recording: Recording & { source: TwoLenses },
  facts: MediaFacts,
  time: number,
): Promise<TwoLenses> {
  const look = overlapLooker(recording.source);
  if (!look) return recording.source;
  const picture = pictureOf(await decodeFrame(recording, facts, time), facts.width, facts.height);
  return { ...recording.source, track: trackOf([look(picture)]) };
}
