/** What the next press or drag in the Frame or on the Map does, other than aiming. */
import type { Stretch } from '@glimbo/core/edit/levelling';
import { keepHere, keptJson } from '~/ui/kept-here';
import type { Slice } from './state';
import type { PressSlice } from './frame-state';

/** Stretches of a take that levelling it left alone. */
const keptUnlevelled = (takeId: string) => `glimbo-unlevelled-${takeId}`;
function unlevelledOf(takeId: string): Stretch[] {
  const kept = keptJson(keptUnlevelled(takeId));
  const isStretch = (s: Partial<Stretch> | null) => [s?.from, s?.to].every(Number.isFinite);
  return Array.isArray(kept) ? kept.filter(isStretch) : [];
}

export const pressSlice =
  (takeId: string): Slice<PressSlice> =>
  (set) => ({
    turning: false,
    levelling: false,
    unlevelled: unlevelledOf(takeId),
    pickingGrey: false,
    patchOutlined: false,
    placingPatch: false,
    pointingOut: 'nothing',
    proposed: null,

    grabMount: (turning) => set({ turning }),
    grabHorizon: (levelling) => set({ levelling }),
    leaveUnlevelled(unlevelled) {
      keepHere(keptUnlevelled(takeId), JSON.stringify(unlevelled));
      set({ unlevelled });
    },
    outlinePatch: (patchOutlined) => set({ patchOutlined }),
    placePatch: (placingPatch) => set({ placingPatch }),
    pointOutSubject: (pointingOut) => set({ pointingOut, proposed: null }),
    propose: (proposed) => set({ proposed }),
    pickGrey: (pickingGrey) => set({ pickingGrey }),
  });
