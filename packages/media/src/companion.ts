/** The companion of low resolution that some cameras write beside a recording: it can be played while there is no proxy. */
import { readdir } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { groupRecordings } from '@glimbo/core/gather/recordings';
import { needsStitching } from '@glimbo/core/stitch/source';
import { isPlainBt709 } from '@glimbo/core/gather/colour';
import { MediaError } from './ffmpeg.js';
import { probe, type MediaFacts } from './probe.js';
import type { Recording } from './recording.js';

/** How much of a frame a companion may be longer or shorter, and how far its shape may be another. */
const FRAMES_OFF = 1.5;
const SHAPE_OFF = 0.01;

/**
 * The path of the companion beside a recording's file, if it can stand in for the recording: the whole sphere laid flat, picture
 * for picture at the same times, in H.264 and BT.709 as every browser plays it. Null where there is none.
 */
export async function companionOf({ files, source }: Recording, facts: MediaFacts): Promise<string | null> {
  const [file] = files as [string];
  if (needsStitching(source) || source.join || source.stereo) return null;
  const beside = await readdir(dirname(file)).catch(() => []);
  const name = groupRecordings(beside).find((r) => r.files[0] === basename(file))?.companion;
  if (!name) return null;
  try {
    const companion = join(dirname(file), name);
    const { facts: found, doubts } = await probe(companion);
    return doubts.length === 0 && standsIn(found, facts) ? companion : null;
  } catch (error) {
    if (error instanceof MediaError) return null;
    throw error;
  }
}

function standsIn(companion: MediaFacts, facts: MediaFacts): boolean {
  const { codec, container, begins = 0, rate, frames, width, height, colour } = companion;
  const played = codec === 'h264' && container === 'mov' && begins === 0 && isPlainBt709(colour);
  const inTime = Math.abs(rate - facts.rate) < 1e-3 && Math.abs(frames - facts.frames) <= FRAMES_OFF;
  const shape = (width / height) * (facts.height / facts.width);
  return played && inTime && Math.abs(shape - 1) < SHAPE_OFF;
}
