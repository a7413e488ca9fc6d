/** What is known of the real walkers' films: how the rig moved, what moves, the still world. */
import { join } from 'node:path';
import { Strangers } from '@glimbo/core/follow/strangers';
import { quaternionOf } from '@glimbo/core/geometry/rotation';
import type { Motion } from '@glimbo/core/motion/motion';
import { keptMoving } from '@glimbo/media/kept-moving';
import { toWorldOf } from '@glimbo/media/moving';
import { folder } from './measure.js';
import { FRAMES, orientationOf, RATE, type RigName } from './walkers.js';

export type Watched = Awaited<ReturnType<typeof watched>>;

/** A rig's motion, as an analysis would have it. */
export function motionOf(rig: RigName): Motion {
  const turn = (n: number) => ({ orientation: quaternionOf(orientationOf(rig, n)) });
  return { frames: Array.from({ length: FRAMES }, (_, n) => turn(n)) } as Motion;
}

/** What moves before a rig, and the still world beside each frame. */
export async function watched(file: string, rig: RigName) {
  const motion = motionOf(rig);
  const began = process.cpuUsage();
  const known = await keptMoving(file, { rate: RATE, frames: FRAMES }, { motion, folder: join(folder, rig) });
  const { user, system } = process.cpuUsage(began);
  const strangers = new Strangers(known.moving, toWorldOf(motion));
  return { ...known, strangers, share: (user + system) / 1e6 / (FRAMES / RATE) };
}

export const percent = (share: number) => `${(100 * share).toFixed(0)} %`;
