/** Changing how a take is steadied; and steadying it as soon as the motion of its footage is known. */
import { useEffect } from 'react';
import { toast } from 'sonner';
import type { Motion } from '@glimbo/core/motion/motion';
import { inMode } from '@glimbo/core/steady/choose';
import { noSteady, type Steady, type SteadyMode } from '@glimbo/core/steady/settings';
import { useStudio, useStudioStore, type StudioStore } from '../state/store';
import { askMotion } from './motion-reader';

/** The modes, by name and in words. */
export const MODES = [
  ['off', 'Off', 'As it was filmed'],
  ['rolling', 'Rolling', 'Smooths over a window'],
  ['pinned', 'Pinned', 'As filmed at chosen moments, and evenly from one to the next'],
  ['still', 'Still', 'Takes all turning out'],
] as const;
/** Changes the steadying of the take. */
export function steadyBy(store: StudioStore, change: Partial<Steady>, gesture?: string) {
  const { take, correct } = store.getState();
  correct({ steady: { ...noSteady(), ...take().steady, ...change } }, gesture);
}

export async function setMode(store: StudioStore, motion: Motion, mode: SteadyMode) {
  const present = store.getState().take();
  const pins = mode === 'pinned' && !present.steady?.pins.length ? await askMotion('pins', motion, present) : [];
  if (!pins) return;
  const { take, correct, time } = store.getState();
  correct({ steady: inMode(take().steady, mode, time, pins) });
}

/**
 * Steadies as was asked for before the motion was known, as soon as it is. Stands in the Studio, since the bench may show
 * something else.
 */
export function useSteadyNext() {
  const store = useStudioStore();
  const motion = useStudio((s) => s.motion);
  const next = useStudio((s) => s.steadyNext);
  useEffect(() => {
    if (!motion || !next) return;
    store.getState().steadyWhenKnown(null);
    void setMode(store, motion, next).then(() => toast('The motion is known now, and the take is steadied.'));
  }, [store, motion, next]);
}
