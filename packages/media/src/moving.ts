/** What moves by itself in a footage: looks at it several times a second, beside what the world looked like before and after. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { matrixOf, IDENTITY } from '@glimbo/core/geometry/rotation';
import type { Motion } from '@glimbo/core/motion/motion';
import type { Level } from '@glimbo/core/follow/sphere-frame';
import { regionsOf } from '@glimbo/core/moving/regions';
import type { StillWorld } from '@glimbo/core/moving/still-world';
import { StreakJoiner, type Streak } from '@glimbo/core/moving/streaks';
import { createWorldWork } from '@glimbo/kernel/moving';
import { engineFolder } from './ffmpeg.js';
import { pictures } from './sphere-pictures.js';

/** Pixels across at which the world is looked at, and looks a second. */
const WIDTH = 1024;
const LOOKS = 4;
/** Seconds before and after a look in which the world is what it is for it. */
const AROUND = 20;
/** The world is looked at anew so many times within that time, but not more and not less often than after so many seconds. */
const TIMES = 20;
const [SOONEST, LATEST] = [0.5, 2];

interface MovingOptions {
  motion: Motion | null;
  progress?: (share: number) => void;
  /** Is given each still world, with the frames for which it is that. */
  world?: (world: StillWorld, frames: { from: number; to: number }) => void;
  signal?: AbortSignal;
}

/** Every how many frames a footage of a rate is looked at. */
export const lookEvery = (rate: number) => Math.max(1, Math.floor(rate / LOOKS));

/**
 * What moves in a whole sphere laid flat, such as a proxy, of `frames` frames at a constant `rate`. Looks are numbered from 0, one for
 * every `lookEvery(rate)` frames. Throws MediaError; rejects with an AbortError when the signal was given.
 */
export async function whatMoves(
  file: string,
  { rate, frames }: { rate: number; frames: number },
  { motion, progress, world, signal }: MovingOptions,
): Promise<Streak[]> {
  const every = lookEvery(rate);
  const looks = Math.ceil(frames / every);
  const seconds = Math.max(SOONEST, Math.min(LATEST, frames / rate / TIMES));
  const stage = Math.max(1, Math.round((seconds * rate) / every));
  const around = Math.ceil((AROUND * rate) / every / stage);
  /** Looks that are still needed, in the world's axes: those not judged yet, and the first of each stage round about. */
  const kept = new Map<number, Level>();
  const joiner = new StreakJoiner();
  const module = await WebAssembly.compile(await readFile(join(engineFolder(), 'motion.wasm')));
  const work = await createWorldWork(module, WIDTH);

  const judge = (k: number) => {
    const from = k * stage;
    const firsts = Array.from({ length: 2 * around + 1 }, (_, i) => kept.get((k - around + i) * stage));
    const still = work.still(firsts.filter((look) => look !== undefined));
    const to = Math.min(looks, from + stage);
    world?.(still, { from: from * every, to: Math.min(frames, to * every) });
    for (let n = from; n < to; n++) {
      const look = kept.get(n);
      if (look) joiner.add(n, regionsOf(work.excess(look, still), WIDTH));
      if (n > from) kept.delete(n);
    }
    kept.delete((k - around) * stage);
  };

  let [n, judged] = [0, 0];
  for await (const picture of pictures(
    file,
    { rate, from: 0, count: frames, width: WIDTH, every, passing: true },
    signal,
  )) {
    const turn = motion?.frames[n * every];
    kept.set(n++, work.turn(picture.levelFor(0), turn ? matrixOf(turn.orientation) : IDENTITY));
    if (n > (judged + around) * stage + stage) judge(judged++);
    progress?.(n / looks);
  }
  while (judged * stage < n) judge(judged++);
  return joiner.streaks();
}
