/** Decoding pictures of recordings: one by itself, or a stream of them into a pipe. */
import { frameBytes, YUV420 } from '@glimbo/core/colour/pixels';
import { frameAt } from '@glimbo/core/plan/still-plan';
import { MediaError, output } from './ffmpeg.js';
import type { MediaFacts } from './probe.js';
import { pictureInput, type PictureFacts, type Recording } from './recording.js';
import type { RenderSource } from './render/sources.js';

export const QUIET = ['-v', 'error', '-nostdin', '-y'];

/**
 * A recording as a source of the pipeline. A variable rate is made constant from its start, so that frame numbers mean the same
 * as in the proxy.
 */
export const decodedSource = (recording: Recording, facts: MediaFacts, variable: boolean): RenderSource => ({
  width: facts.width,
  height: facts.height,
  format: YUV420,
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
      ...['-frames:v', String(count), '-pix_fmt', YUV420.name, '-f', 'rawvideo', pipe],
    ];
  },
});

type Decodable = Pick<MediaFacts, 'width' | 'height' | 'frames'> & PictureFacts;

/** A frame of a recording, as yuv420p bytes of the joined size in `facts`. Throws MediaError. */
export async function decodePicture(recording: Recording, facts: Decodable, frame: number): Promise<Uint8Array> {
  const { inputs, chain } = pictureInput(recording, facts, frame);
  const raw = await output('ffmpeg', [
    ...['-v', 'error', '-nostdin', ...inputs, '-filter_complex', `${chain}[v]`, '-map', '[v]', '-frames:v', '1'],
    ...['-pix_fmt', YUV420.name, '-f', 'rawvideo', '-'],
  ]);
  if (raw.length !== frameBytes(YUV420, facts.width, facts.height))
    throw new MediaError(`There is no picture at ${(frame / facts.rate).toFixed(2)} s.`);
  return raw;
}

/** The picture of a recording at a time in seconds, as yuv420p bytes of the joined size in `facts`. Throws MediaError. */
export const decodeFrame = (recording: Recording, facts: Decodable, time: number): Promise<Uint8Array> =>
  decodePicture(recording, facts, frameAt(facts, time));
