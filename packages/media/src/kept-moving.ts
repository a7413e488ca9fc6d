/** What moves in a footage, worked out once and kept beside it: void when its picture or its motion changes. */
import { createHash } from 'node:crypto';
import { mkdir, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Beside } from '@glimbo/core/follow/not-world';
import type { Motion } from '@glimbo/core/motion/motion';
import { readMoving, stageOf, type Moving } from '@glimbo/core/moving/moving';
import type { StillWorld } from '@glimbo/core/moving/still-world';
import { cachePlace } from './cache.js';
import { toWorldOf, whatMoves, WORLD_WIDTH } from './moving.js';
import { StillWorldsReader, StillWorldsWriter } from './still-worlds.js';
import { writeWhole } from './write-whole.js';

/** What moves, and the film of its still worlds; null where that could not be kept. */
export interface Kept {
  moving: Moving;
  film: string | null;
}

interface Known extends Kept {
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

/** What the analysis depends on, in a few letters. */
async function markOf(file: string, motion: Motion | null): Promise<string> {
  const { size, mtimeMs } = await stat(file);
  const ways = motion?.frames.map(({ orientation, travel, travelConfidence }) => [
    orientation,
    travel,
    travelConfidence,
  ]);
  const moved = motion ? JSON.stringify([motion.up, motion.cuts, ways]) : '';
  return createHash('sha256').update(`3\0${size}\0${mtimeMs}\0${moved}`).digest('hex').slice(0, 16);
}

/**
 * What moves in a whole sphere laid flat, as it is known; worked out now where it is not. Where it cannot be kept, as on a full disk, it
 * is told all the same, without the still worlds. Throws MediaError; rejects with an AbortError when the signal was given.
 */
export async function keptMoving(
  file: string,
  facts: { rate: number; frames: number },
  { motion, folder, progress, signal }: KeptMovingOptions,
): Promise<Known> {
  const place = folder ?? (await cachePlace(file, 'moving'));
  const mark = await markOf(file, motion);
  const earlier = place && (await readKept(place, mark));
  return knownFrom(
    earlier || (await workOut(file, facts, { place, mark }, { motion, progress, signal })),
    motion,
    signal,
  );
}

/** The same where it is known already; null where it is not. Throws MediaError. */
export async function movingIfKept(file: string, motion: Motion | null, folder: string): Promise<Known | null> {
  const kept = await readKept(folder, await markOf(file, motion));
  return kept && knownFrom(kept, motion);
}

const knownFrom = (kept: Kept, motion: Motion | null, signal?: AbortSignal): Known => ({
  ...kept,
  besideAt: besideFrom(kept, motion, signal),
});

/** The still world beside a frame, from what was kept; null where it is not known or did not stand still. */
export function besideFrom({ moving, film }: Kept, motion: Motion | null, signal?: AbortSignal): Known['besideAt'] {
  if (!film) return async () => null;
  const toWorld = toWorldOf(motion);
  const worlds = new StillWorldsReader(film, WORLD_WIDTH, signal);
  return async (frame) => {
    const n = stageOf(moving, frame);
    const world = moving.still[n] ? await worlds.at(n) : null;
    return world && { ...world, toWorld: toWorld(frame) };
  };
}

const filesOf = (folder: string, mark: string) => ({
  document: join(folder, `${mark}.json`),
  film: join(folder, `${mark}.mp4`),
});

async function readKept(folder: string, mark: string): Promise<Kept | null> {
  const { document, film } = filesOf(folder, mark);
  try {
    return { moving: readMoving(JSON.parse(await readFile(document, 'utf8'))), film };
  } catch {
    return null;
  }
}

/** Works it out, and keeps it where it can. */
async function workOut(
  file: string,
  facts: { rate: number; frames: number },
  { place, mark }: { place: string | null; mark: string },
  options: Pick<KeptMovingOptions, 'motion' | 'progress' | 'signal'>,
): Promise<Kept> {
  const keeping = place && (await Keeping.begin(place, mark));
  try {
    const world = keeping ? (still: StillWorld) => keeping.add(still) : undefined;
    const moving = await whatMoves(file, facts, { ...options, world });
    return { moving, film: keeping && (await keeping.end(moving)) };
  } catch (error) {
    if (keeping) await keeping.giveUp();
    throw error;
  }
}

/** A film and its document that are being written; once that fails, nothing more is, and nothing is left of it. */
class Keeping {
  private failed = false;

  private constructor(
    private readonly files: ReturnType<typeof filesOf>,
    private readonly part: string,
    private readonly writer: StillWorldsWriter,
  ) {}

  /** Makes room for it: what was kept before is void. Null where there is no folder to be had. */
  static async begin(folder: string, mark: string): Promise<Keeping | null> {
    try {
      await mkdir(folder, { recursive: true });
      // Another may be working out the same.
      for (const name of await readdir(folder))
        if (!name.startsWith(mark)) await rm(join(folder, name), { force: true });
    } catch {
      return null;
    }
    const files = filesOf(folder, mark);
    const part = `${files.film}.${process.pid}.part`;
    return new Keeping(files, part, new StillWorldsWriter(part, WORLD_WIDTH));
  }

  async add(still: StillWorld): Promise<void> {
    if (this.failed) return;
    await this.writer.write(still).catch(() => this.giveUp());
  }

  /** The film, once it is kept; null where it could not be. The document comes last: without it there is nothing. */
  async end(moving: Moving): Promise<string | null> {
    if (this.failed) return null;
    try {
      await this.writer.end();
      await rename(this.part, this.files.film);
      await writeWhole(this.files.document, `${JSON.stringify(moving)}\n`);
      return this.files.film;
    } catch {
      await this.giveUp();
      return null;
    }
  }

  async giveUp(): Promise<void> {
    this.failed = true;
    this.writer.stop();
    await rm(this.part, { force: true }).catch(() => undefined);
  }
}
