/** Finding subjects: what moves in a footage or is recognised there, each with what it looks like. */
import { foundIn, type FoundMoving } from '@glimbo/core/moving/found';
import type { Moving, MovingStreak } from '@glimbo/core/moving/moving';
import { withRecognised } from '@glimbo/core/recognise/recognised';
import type { Detector } from './detector.js';
import { keptMoving, type KeptMovingOptions } from './kept-moving.js';
import { toWorldOf } from './moving.js';
import { jpegOf, portraitOf } from './portrait.js';
import { recognisedAlong } from './recognise-subjects.js';
import { pictures } from './sphere-pictures.js';

/** Shares of the progress that knowing what moves takes, alone and where it is recognised too, and all but portraits. */
const WATCHING = { alone: 0.9, beside: 0.2 };
const FINDING = 0.9;
/** Pixels across the sphere at which portraits are taken. */
const WIDTH = 1920;

/**
 * What moves in a whole sphere laid flat, such as a proxy, and what a detector recognises there, with a portrait of each that was surely
 * found. What moves is kept as keptMoving does. Throws MediaError; rejects with an AbortError when the signal was given.
 */
export async function findSubjects(
  file: string,
  facts: { rate: number; frames: number },
  { progress, signal, detector, ...options }: KeptMovingOptions & { detector: Detector | null },
): Promise<Moving> {
  const share = detector ? WATCHING.beside : WATCHING.alone;
  const kept = await keptMoving(file, facts, { ...options, progress: (p) => progress?.(share * p), signal });
  const toWorld = toWorldOf(options.motion);
  const recognising = (p: number) => progress?.(share + (FINDING - share) * p);
  const moving = detector
    ? withRecognised(
        kept.moving,
        await recognisedAlong(file, facts, detector, { motion: options.motion, progress: recognising, signal }),
        toWorld,
      )
    : { ...kept.moving, recognised: false };
  const found = foundIn(moving);
  const streaks: MovingStreak[] = [...moving.streaks];
  for (const [n, { streak, look }] of found.entries()) {
    const portrait = await portraitAt(file, facts.rate, look, toWorld(look[0]), signal);
    streaks[streak] = { ...streaks[streak]!, ...(portrait === null ? {} : { portrait }) };
    progress?.(FINDING + ((1 - FINDING) * (n + 1)) / found.length);
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
