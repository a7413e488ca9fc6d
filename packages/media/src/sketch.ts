/** Proposing a path for a footage that was gathered, from the files that were made of it then. */
import { readFile } from 'node:fs/promises';
import { readSubject } from '@glimbo/core/follow/subject';
import type { Activity } from '@glimbo/core/sketch/interest';
import { sketch, type Sketch, type SketchDials } from '@glimbo/core/sketch/sketch';
import { ACTIVITY_BLOCKS } from '@glimbo/core/sweep/activity';
import { correctionOf } from '@glimbo/core/correction/correction';
import { output } from './ffmpeg.js';
import { readFound } from './found-file.js';
import { readMotion } from './motion-file.js';

/** A footage to be sketched: its facts, and the files that are known of it. */
export interface SketchOrder {
  rate: number;
  /** Seconds. */
  duration: number;
  /** The picture of its activity, and how many frames each of its rows stands for. */
  activity: string;
  framesPerRow: number;
  /** What was found in it; null where it was not looked for. */
  found: string | null;
  motion: string | null;
  subjects: { name: string; file: string }[];
  /** Seconds. */
  marks: number[];
  /** Width to height of the picture wanted. */
  ratio: number;
  dials: SketchDials;
}

/** The activity of a footage from its picture, a PNG with a row for so many frames. Throws MediaError where it cannot be read. */
export async function readActivity(
  file: string,
  { rate, framesPerRow }: { rate: number; framesPerRow: number },
): Promise<Activity> {
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-'];
  const grey = await output('ffmpeg', ['-v', 'error', '-i', file, ...raw]);
  const rows = Array.from({ length: grey.length / ACTIVITY_BLOCKS }, (_, r) =>
    Uint8Array.from(grey.subarray(r * ACTIVITY_BLOCKS, (r + 1) * ACTIVITY_BLOCKS)),
  );
  return { rows, duration: (rows.length * framesPerRow) / rate };
}

/** A Sketch of the whole footage as it was filmed. Throws MediaError, or DocumentError for a subject that cannot be read. */
export async function sketchFootage(order: SketchOrder): Promise<Sketch> {
  const { rate, duration, ratio, marks, dials } = order;
  const motion = order.motion ? await readMotion(order.motion) : null;
  const subjects = await Promise.all(
    order.subjects.map(async ({ name, file }) => ({
      name,
      track: readSubject(JSON.parse(await readFile(file, 'utf8'))),
      want: 'some' as const,
    })),
  );
  const activity = await readActivity(order.activity, order);
  const moving = order.found ? await readFound(order.found) : null;
  return sketch({
    from: 0,
    to: duration,
    rate,
    ratio,
    marks,
    dials,
    activity,
    moving,
    subjects,
    toWorld: correctionOf({}, motion),
  });
}
