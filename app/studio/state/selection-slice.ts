/** Which keyframes are selected, and where the pointer is in the world. */
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import { keyId, NOTHING, picked, viewKeySelection } from '@glimbo/core/path/keys';
import type { Slice, SelectionSlice } from './state';

export const selectionSlice = (): Slice<SelectionSlice> => (set, get) => {
  let pointer: Vec3 | null = null;
  return {
    selection: NOTHING,
    select: (selection) => set({ selection }),
    pick: (keys, how) => set({ selection: picked(get().selection, keys.map(keyId), how) }),
    selectView: (time) => set({ selection: viewKeySelection(get().take().path, time) }),
    deselect: () => set({ selection: NOTHING }),
    pointAt: (direction) => void (pointer = direction),
    pointed: () => pointer,
  };
};
