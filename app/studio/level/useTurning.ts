/** The turning of the picture before and after the correction, for the motion lane and what is read from it. */
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Motion } from '@glimbo/core/motion/motion';
import type { Take } from '@glimbo/core/take/take';
import type { Turning } from '@glimbo/core/correction/turning';
import { useStudio, useTake, type StudioStore } from '../state/store';
import { askMotion } from './motion-reader';

const sameCorrection = (a: Take, b: Take) =>
  a.orientation === b.orientation && a.steady === b.steady && a.level === b.level;

/** The last turning that was read, and for what: several parts of the Studio ask for the same. */
let lately: { motion: Motion; take: Take; turning: Promise<Turning | undefined> } | null = null;

function turningOfTake(motion: Motion, take: Take): Promise<Turning | undefined> {
  if (lately?.motion !== motion || !sameCorrection(lately.take, take))
    lately = { motion, take, turning: askMotion('turning', motion, take) };
  return lately.turning;
}

/**
 * The turning as the take has it now. While it is being read after a change, the last one stays and `current` is false;
 * changes that come faster than it can be read are joined.
 */
export function useTurning(): { turning: Turning | null; current: boolean } {
  const motion = useStudio((s) => s.motion);
  const take = useTake();
  const [read, setRead] = useState<{ motion: Motion; take: Take; turning: Turning } | null>(null);
  const busy = useRef(false);
  const current = read?.motion === motion && read !== null && sameCorrection(read.take, take);
  useEffect(() => {
    if (!motion || current || busy.current) return;
    busy.current = true;
    void turningOfTake(motion, take).then((turning) => {
      busy.current = false;
      if (!turning) return void (lately = null);
      setRead({ motion, take, turning });
    });
  }, [motion, take, current, read]);
  return { turning: motion ? (read?.turning ?? null) : null, current };
}

/** Goes to the next jolt that is left after the correction; round to the first after the last. */
export async function nextJolt(store: StudioStore) {
  const { motion, take } = store.getState();
  if (!motion) return void toast('Jolts are found by the motion analysis, at the Level station under Motion.');
  const turning = await turningOfTake(motion, take());
  if (!turning) return;
  const { jolts } = turning;
  const { time, setTime } = store.getState();
  if (jolts.length === 0) return void toast('No jolt stands out after the correction.');
  setTime(jolts.find((t) => t > time + 0.5 / motion.rate) ?? jolts[0]!);
}
