/** What the Frame shows, and from what. */
import { keepHere, keptHere } from '~/ui/kept-here';
import { type Slice } from './state';
import { GUIDES, type FrameSlice } from './frame-state';

const KEPT_GUIDES = 'glimbo-guides';
const keptGuides = () => GUIDES.filter((g) => keptHere(KEPT_GUIDES)?.split(',').includes(g));

export const frameSlice = (): Slice<FrameSlice> => (set, get) => ({
  lookRound: false,
  allFormats: false,
  guides: keptGuides(),
  preview: 'proxy',
  share: null,
  seam: null,
  compare: null,
  beforeAfter: 'after',
  splitAt: 0.5,
  unsteadied: false,
  seeing: { scope: 'curve', lookSplit: false, clipped: false },
  frameRoom: 16 / 9,
  lutMissing: false,
  large: false,

  lookAllRound: (lookRound) => set({ lookRound }),
  showAllFormats: (allFormats) => set({ allFormats }),
  toggleGuide(guide) {
    const { guides } = get();
    const now = guides.includes(guide) ? guides.filter((g) => g !== guide) : [...guides, guide];
    keepHere(KEPT_GUIDES, now.join());
    set({ guides: now });
  },
  drawFrom: (preview) => set({ preview }),
  playAtShare: (share) => set({ share }),
  drawSeam: (seam) => set({ seam }),
  compareStills: (compare) => set({ compare }),
  showBeforeAfter: (beforeAfter) => set({ beforeAfter }),
  splitFrameAt: (splitAt) => set({ splitAt }),
  showAsFilmed: (unsteadied) => set({ unsteadied }),
  see: (change) => set({ seeing: { ...get().seeing, ...change } }),
  measureRoom: (frameRoom) => void (get().frameRoom !== frameRoom && set({ frameRoom })),
  missLut: (lutMissing) => void (get().lutMissing !== lutMissing && set({ lutMissing })),
  enlarge: (large) => set({ large }),
});
