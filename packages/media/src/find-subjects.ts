/** Finding subjects: what moves in a footage, each with what it looks like. */
import { foundIn, type FoundMoving } from '@glimbo/core/moving/found';
import type { Moving, MovingStreak } from '@glimbo/core/moving/moving';
import { keptMoving, type KeptMovingOptions } from './kept-moving.js';
import { toWorldOf } from './moving.js';
import { jpegOf, portraitOf } from './portrait.js';
import { pictures } from './sphere-pictures.js';

/** Share of the progress that knowing what moves takes; the rest is portraits. */
const WATCHING = 0.9;
/** Pixels across the sphere at which portraits are taken. */
const WIDTH = 1920;

/**
 * What moves in a whole sphere laid flat, such as a proxy, with a portrait of each that was surely found. What moves is kept as
 * keptMoving does. Throws MediaError; rejects with an AbortError when the signal was given.
 */
export async function findSubjects(
  file: string,
  facts: { rate: number; frames: number },
  { progress, signal, ...options }: KeptMovingOptions,
): Promise<Moving> {
  const watching = (share: number) => progress?.(WATCHING * share);
  const { moving } = await keptMoving(file, facts, { ...options, progress: watching, signal });
  const toWorld = toWorldOf(options.motion);
  const found = foundIn(moving);
  const streaks: MovingStreak[] = [...moving.streaks];
  for (const [n, { streak, look }] of found.entries()) {
    const portrait = await portraitAt(file, facts.rate, look, toWorld(look[0]), signal);
    streaks[streak] = { ...streaks[streak]!, ...(portrait === null ? {} : { portrait }) };
    progress?.(WATCHING + ((1 - WATCHING) * (n + 1)) / found.length);
  }
  return { ...moving, streaks };
}

/** The picture of what a look shows, in base 64; null where the frame cannot be read. */
async function portraitAt(
  file: string,
  rate: number,
  [from, x, y, z, width, height]: FoundMoving['look'],
  toWorld: ReturnType<ReturnType<typeof toWorldOf>>,
  signal?: AbortSignal,
): Promise<string | null> {
  for await (const picture of pictures(file, { rate, from, count: 1, width: WIDTH }, signal)) {
    const portrait = portraitOf(picture, { direction: [x, y, z], width, height }, toWorld);
    return Buffer.from(await jpegOf(portrait)).toString('base64');
  }
  return null;
}
