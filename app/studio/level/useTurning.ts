/** The turning of the picture before and after the correction, for the motion lane and what is read from it. */
import { useMemo } from 'react';
import { joltsIn, trimsOf, turningOf } from '@glimbo/core/motion/rates';
import type { Motion } from '@glimbo/core/motion/motion';
import { correctionOf } from '@glimbo/core/take/correction';
import { useCorrection, useStudio, useTake, type StudioStore } from '../store';

export function useTurning() {
  const motion = useStudio((s) => s.motion);
  const correction = useCorrection();
  const { orientation } = useTake();
  // As it was mounted, so that left is left before and after.
  const before = useMemo(() => motion && turningOf(motion, correctionOf({ orientation }).at), [motion, orientation]);
  const after = useMemo(() => motion && turningOf(motion, correction.at), [motion, correction]);
  return { motion, before, after };
}

export const trimsFor = (motion: Motion) => trimsOf(turningOf(motion), motion.rate);

/** Goes to the next jolt that is left after the correction; round to the first after the last. Gives the number of jolts. */
export function nextJolt(store: StudioStore): number {
  const { motion, correction, time, setTime } = store.getState();
  if (!motion) return 0;
  const jolts = joltsIn(turningOf(motion, correction().at), motion.rate);
  const next = jolts.find((t) => t > time + 0.5 / motion.rate) ?? jolts[0];
  if (next !== undefined) setTime(next);
  return jolts.length;
}
