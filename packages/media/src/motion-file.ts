/** The motion file: docs/formats/motion.md. */
import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { DocumentError } from '@glimbo/core/boundary/document-error';
import { readMotionDocument } from '@glimbo/core/motion/validate';
import type { Motion } from '@glimbo/core/motion/motion';
import { MediaError } from './ffmpeg.js';
import { writeWhole } from './write-whole.js';

let last: { file: string; motion: Motion } | null = null;

/** Reads a motion file. Throws MediaError. A file that is replaced gets another name, so that the last one is kept at hand. */
export async function readMotion(file: string): Promise<Motion> {
  if (last?.file === file) return last.motion;
  const text = await readFile(file, 'utf8').catch(() => {
    throw new MediaError(`The motion file ${basename(file)} could not be read. Analyse the motion again.`);
  });
  let plain: unknown;
  try {
    plain = JSON.parse(text);
  } catch {
    throw new MediaError(`${basename(file)} is not a JSON document.`);
  }
  try {
    last = { file, motion: readMotionDocument(plain) };
  } catch (error) {
    if (!(error instanceof DocumentError)) throw error;
    throw new MediaError(`${basename(file)} is not a motion file that Glimbo can read: ${error.problem}.`);
  }
  return last.motion;
}

/** Writes a motion file, one line a frame; beside its place first, and renamed when whole. */
export async function writeMotion(file: string, motion: Motion) {
  const round = (v: number, digits: number) => Number(v.toFixed(digits));
  const frames = motion.frames.map((f) =>
    JSON.stringify({
      time: round(f.time, 6),
      orientation: f.orientation.map((v) => round(v, 8)),
      travel: f.travel.map((v) => round(v, 4)),
      travelConfidence: round(f.travelConfidence, 3),
      trust: round(f.trust, 3),
      residual: round(f.residual, 4),
    }),
  );
  const { frames: _, ...rest } = motion;
  const head = JSON.stringify({
    ...rest,
    ...(motion.stands && { stands: { ...motion.stands, confidence: round(motion.stands.confidence, 3) } }),
    levels: motion.levels.map((l) => ({
      time: round(l.time, 6),
      up: l.up.map((v) => round(v, 5)),
      confidence: round(l.confidence, 3),
    })),
  });
  await writeWhole(file, `${head.slice(0, -1)},\n"frames":[\n${frames.join(',\n')}\n]}\n`);
}
