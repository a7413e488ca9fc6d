/** What the Frame shows and from what, and what a drag in it does. */
import type { Slice, FrameSlice } from './state';

export const frameSlice = (): Slice<FrameSlice> => (set) => ({
  glance: null,
  tryOut: null,
  lookRound: false,
  preview: 'proxy',
  share: null,
  seam: null,
  compare: null,
  beforeAfter: 'after',
  splitAt: 0.5,
  unsteadied: false,
  turning: false,
  levelling: false,
  large: false,

  glanceAt: (glance) => set({ glance }),
  tryLens: (tryOut) => set({ tryOut }),
  lookAllRound: (lookRound) => set({ lookRound }),
  drawFrom: (preview) => set({ preview }),
  playAtShare: (share) => set({ share }),
  drawSeam: (seam) => set({ seam }),
  compareStills: (compare) => set({ compare }),
  showBeforeAfter: (beforeAfter) => set({ beforeAfter }),
  splitFrameAt: (splitAt) => set({ splitAt }),
  showAsFilmed: (unsteadied) => set({ unsteadied }),
  grabMount: (turning) => set({ turning }),
  grabHorizon: (levelling) => set({ levelling }),
  enlarge: (large) => set({ large }),
});
