/** Which Follow and which Lookout is worked on, and how the Lookouts are shown and cut. */
import type { Slice } from './state';
import type { LeadSlice } from './frame-state';

export const leadSlice = (): Slice<LeadSlice> => (set) => ({
  followChosen: 0,
  grid: 'off',
  lookoutChosen: 0,
  cutting: null,

  chooseFollow: (followChosen) => set({ followChosen }),
  showGrid: (grid) => set({ grid, glance: null }),
  chooseLookout: (lookoutChosen) => set({ lookoutChosen }),
  cutLive: (cutting) => set({ cutting }),
});
