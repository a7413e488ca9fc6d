/** What moves by itself in a footage: looks at it several times a second, beside what the world looked like before and after. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { IDENTITY, matrixOf, multiply, turnTo, type Matrix3 } from '@glimbo/core/geometry/rotation';
import type { Motion } from '@glimbo/core/motion/motion';
import type { Level } from '@glimbo/core/frame/sphere-frame';
import { writtenStreak, type Moving } from '@glimbo/core/moving/moving';
import { regionsOf, standsOut } from '@glimbo/core/moving/regions';
import type { StillWorld } from '@glimbo/core/moving/still-world';
import { StreakJoiner } from '@glimbo/core/moving/streaks';
import { createWorldWork } from '@glimbo/kernel/moving';
import { engineFolder } from './ffmpeg.js';
import { chosenFrames, pictures } from './sphere-pictures.js';
import { Travelling } from './travelling.js';

/** Pixels across at which the world is looked at, and looks a second. */
export const WORLD_WIDTH = 1024;
const LOOKS = 4;
/** Seconds before and after a look in which the world is what it is for it. */
const AROUND = 20;
/** The world is looked at anew so many times within that time, but not more and not less often than after so many seconds. */
const TIMES = 20;
const [SOONEST, LATEST] = [0.5, 2];
/** Where more of the sphere than this is not the still world, the rig travels, or its turning is not known. */
const UNSETTLED = 0.15;
/** And where more of it than this is usually off by so many grey levels. */
const BLURRED = { share: 0.3, levels: 10 } as const;

interface MovingOptions {
  /** How the rig turned; without it, it must have stood. */
  motion?: Motion | null;
  progress?: (share: number) => void;
  /** Is given each still world, in order. */
  world?: (world: StillWorld) => Promise<void>;
  signal?: AbortSignal;
}

/** From directions of a frame's picture to the world's, upright as far as the motion knows it. */
export function toWorldOf(motion: Motion | null | undefined): (frame: number) => Matrix3 {
  const upright = motion?.up ? turnTo(motion.up, [0, 1, 0]) : IDENTITY;
  return (frame) => {
    const known = motion?.frames[Math.min(frame, motion.frames.length - 1)];
    return known ? multiply(upright, matrixOf(known.orientation)) : IDENTITY;
  };
}

/**
 * What moves in a whole sphere laid flat, such as a proxy, of `frames` frames at a constant `rate`. Memory does not grow with the
 * footage but for the result. Throws MediaError; rejects with an AbortError when the signal was given.
 */
export async function whatMoves(
  file: string,
  { rate, frames }: { rate: number; frames: number },
  { motion, progress, world, signal }: MovingOptions = {},
): Promise<Moving> {
  const every = Math.max(1, Math.floor(rate / LOOKS));
  const count = Math.ceil(frames / every);
  const seconds = Math.max(SOONEST, Math.min(LATEST, frames / rate / TIMES));
  const stage = Math.max(1, Math.round((seconds * rate) / every));
  const around = Math.min(TIMES / 2, Math.ceil((AROUND * rate) / every / stage));
  const toWorld = toWorldOf(motion);
  const module = await WebAssembly.compile(await readFile(join(engineFolder(), 'motion.wasm')));
  const work = await createWorldWork(module, WORLD_WIDTH);
  /** Looks that are still needed: the first of each stage round about, in the world's axes, and those not judged yet, as they are. */
  const kept = new Map<number, Level>();
  const inWorld = (n: number) => (n % stage === 0 ? kept.get(n)! : work.turn(kept.get(n)!, toWorld(n * every)));
  const joiner = new StreakJoiner();
  const still: boolean[] = [];
  const travelling = await Travelling.along(motion, toWorld, { module, width: WORLD_WIDTH });
  const travels: boolean[] = [];

  const judge = async (k: number) => {
    const from = k * stage;
    const firsts = Array.from({ length: 2 * around + 1 }, (_, i) => kept.get((k - around + i) * stage));
    const about = work.still(firsts.filter((look) => look !== undefined));
    await world?.(about);
    const looks = Array.from({ length: stage }, (_, i) => from + i).filter((n) => kept.has(n));
    const blurred = standsOut(about.usual[0], WORLD_WIDTH, BLURRED.levels) > BLURRED.share;
    const excesses = blurred ? [] : looks.map((n) => work.excess(inWorld(n), about).slice());
    const shares = excesses.map((excess) => standsOut(excess, WORLD_WIDTH)).sort((a, b) => a - b);
    still.push(!blurred && shares[shares.length >> 1]! < UNSETTLED);
    const passing = looks.map((n) => travelling?.take(n * every) ?? null);
    travels.push(!still[k] && passing.some((regions) => regions));
    for (const [i, n] of looks.entries()) {
      const regions = still[k] ? regionsOf(excesses[i]!, WORLD_WIDTH) : passing[i];
      if (regions) joiner.add(n, regions);
      if (n > from) kept.delete(n);
    }
    kept.delete((k - around) * stage);
  };

  let [n, judged] = [0, 0];
  const beside = travelling ? [travelling.apart % every, (every - (travelling.apart % every)) % every] : [];
  const stretch = { rate, from: 0, count: frames, width: WORLD_WIDTH, every, phases: [0, ...beside] };
  const isLook = (frame: number) => frame % every === 0;
  const numbers = chosenFrames(stretch);
  for await (const picture of pictures(file, stretch, signal)) {
    const frame = numbers.next().value!;
    const look = picture.levelFor(0);
    travelling?.add(frame, look, isLook);
    if (!isLook(frame)) continue;
    kept.set(n, n % stage === 0 ? work.turn(look, toWorld(frame)) : look);
    n++;
    if (n >= (judged + around + 1) * stage) await judge(judged++);
    if (n % 5 === 0) progress?.(Math.min(0.99, n / count));
  }
  while (judged * stage < n) await judge(judged++);
  const streaks = joiner
    .streaks({
      toWorld: (look) => toWorld(look * every),
      travels: (look) => travels[Math.floor(look / stage)] ?? false,
    })
    .map((streak) => writtenStreak(streak, every, toWorld));
  const told = { still, ...(travels.includes(true) ? { travels } : {}) };
  return { format: 'glimbo-moving', version: 1, rate, every, frames, stage: stage * every, ...told, streaks };
}
