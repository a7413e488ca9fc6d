/** What moves in a footage, worked out once and kept beside it: void when its picture or its motion changes. */
import { createHash } from 'node:crypto';
import { mkdir, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Beside } from '@glimbo/core/follow/not-world';
import type { Motion } from '@glimbo/core/motion/motion';
import { readMoving, type Moving } from '@glimbo/core/moving/moving';
import { cachePlace } from './cache.js';
import { toWorldOf, whatMoves, WORLD_WIDTH } from './moving.js';
import { StillWorldsReader, StillWorldsWriter } from './still-worlds.js';
import { writeWhole } from './write-whole.js';

interface Known {
  moving: Moving;
  /** The still world beside a frame; null where the world did not stand still. Throws MediaError. */
  besideAt(frame: number): Promise<Beside | null>;
}

export interface KeptMovingOptions {
  motion: Motion | null;
  /** The folder in which it is kept; in the user's cache where it is not said. */
  folder?: string | null;
  progress?: (share: number) => void;
  signal?: AbortSignal;
}

/** Letters of a mark. */
const MARK = 16;

/** What the analysis depends on, in a few letters. */
async function markOf(file: string, motion: Motion | null): Promise<string> {
  const { size, mtimeMs } = await stat(file);
  const turns = motion ? JSON.stringify([motion.up, motion.frames.map(({ orientation }) => orientation)]) : '';
  return createHash('sha256').update(`1\0${size}\0${mtimeMs}\0${turns}`).digest('hex').slice(0, MARK);
}

/**
 * What moves in a whole sphere laid flat, as it is known; worked out now where it is not. Throws MediaError; rejects with an AbortError
 * when the signal was given.
 */
export async function keptMoving(
  file: string,
  facts: { rate: number; frames: number },
  { motion, folder, progress, signal }: KeptMovingOptions,
): Promise<Known> {
  const place = folder ?? (await cachePlace(file, 'moving'));
  const mark = await markOf(file, motion);
  if (!place) return { moving: await whatMoves(file, facts, { motion, progress, signal }), besideAt: async () => null };
  const [document, film] = [join(place, `${mark}.json`), join(place, `${mark}.mp4`)];
  const moving =
    (await earlier(document)) ?? (await workOut(file, facts, place, { document, film }, { motion, progress, signal }));
  const worlds = new StillWorldsReader(film, WORLD_WIDTH, signal);
  const toWorld = toWorldOf(motion);
  return {
    moving,
    async besideAt(frame) {
      const n = Math.min(moving.still.length - 1, Math.floor(frame / moving.stage));
      const world = moving.still[n] ? await worlds.at(n) : null;
      return world && { ...world, toWorld: toWorld(frame) };
    },
  };
}

async function earlier(document: string): Promise<Moving | null> {
  try {
    return readMoving(JSON.parse(await readFile(document, 'utf8')));
  } catch {
    return null;
  }
}

/** Works it out and keeps it; what was kept before is void then. The document comes last: without it there is nothing. */
async function workOut(
  file: string,
  facts: { rate: number; frames: number },
  folder: string,
  { document, film }: { document: string; film: string },
  options: Pick<KeptMovingOptions, 'motion' | 'progress' | 'signal'>,
): Promise<Moving> {
  await mkdir(folder, { recursive: true });
  // Another may be working out the same.
  for (const name of await readdir(folder))
    if (!document.startsWith(join(folder, name.slice(0, MARK)))) await rm(join(folder, name), { force: true });
  const part = `${film}.${process.pid}.part`;
  const writer = new StillWorldsWriter(part, WORLD_WIDTH);
  try {
    const moving = await whatMoves(file, facts, { ...options, world: (still) => writer.write(still) });
    await writer.end();
    await rename(part, film);
    await writeWhole(document, `${JSON.stringify(moving)}\n`);
    return moving;
  } catch (error) {
    writer.stop();
    await rm(part, { force: true });
    throw error;
  }
}
