/** What the Frame shows and from what, and what a drag in it does. */
import type { Stretch } from '@glimbo/core/edit/levelling';
import { GUIDES, type FrameSlice, type Slice } from './state';
import { keepHere, keptHere } from '~/ui/kept-here';

const KEPT_GUIDES = 'glimbo-guides';
/** Stretches of a take that levelling it left alone. */
const keptUnlevelled = (takeId: string) => `glimbo-unlevelled-${takeId}`;
function unlevelledOf(takeId: string): Stretch[] {
  try {
    const kept: unknown = JSON.parse(keptHere(keptUnlevelled(takeId)) ?? '[]');
    const isStretch = (s: Partial<Stretch> | null) => [s?.from, s?.to].every(Number.isFinite);
    return Array.isArray(kept) ? kept.filter(isStretch) : [];
  } catch {
    return [];
  }
}
const keptGuides = () => GUIDES.filter((g) => keptHere(KEPT_GUIDES)?.split(',').includes(g));

export const frameSlice =
  (takeId: string): Slice<FrameSlice> =>
  (set, get) => ({
    glance: null,
    tryOut: null,
    tried: null,
    triedWords: null,
    triedOver: null,
    performing: null,
    steering: null,
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
    turning: false,
    levelling: false,
    unlevelled: unlevelledOf(takeId),
    seeing: { scope: 'curve', lookSplit: false, clipped: false },
    pickingGrey: false,
    patchOutlined: false,
    placingPatch: false,
    pointingOut: 'nothing',
    followChosen: 0,
    grid: 'off',
    lookoutChosen: 0,
    cutting: null,
    sketch: null,
    frameRoom: 16 / 9,
    lutMissing: false,
    large: false,

    glanceAt: (glance) => set({ glance }),
    tryLens: (tryOut) => set({ tryOut }),
    tryPath: (tried, words, over) => set({ tried, triedWords: words ?? null, triedOver: over ?? null }),
    keepTried() {
      const { tried, triedOver, edit } = get();
      if (tried) edit((take) => ({ ...(triedOver ?? take), path: tried }));
    },
    showPerforming: (performing) => set({ performing }),
    takeSteering: (steering) => set({ steering }),
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
    grabMount: (turning) => set({ turning }),
    grabHorizon: (levelling) => set({ levelling }),
    leaveUnlevelled(unlevelled) {
      keepHere(keptUnlevelled(takeId), JSON.stringify(unlevelled));
      set({ unlevelled });
    },
    see: (change) => set({ seeing: { ...get().seeing, ...change } }),
    outlinePatch: (patchOutlined) => set({ patchOutlined }),
    placePatch: (placingPatch) => set({ placingPatch }),
    pointOutSubject: (pointingOut) => set({ pointingOut }),
    chooseFollow: (followChosen) => set({ followChosen }),
    pickGrey: (pickingGrey) => set({ pickingGrey }),
    showGrid: (grid) => set({ grid, glance: null }),
    chooseLookout: (lookoutChosen) => set({ lookoutChosen }),
    cutLive: (cutting) => set({ cutting }),
    showSketch: (sketch) => set({ sketch }),
    measureRoom: (frameRoom) => void (get().frameRoom !== frameRoom && set({ frameRoom })),
    missLut: (lutMissing) => void (get().lutMissing !== lutMissing && set({ lutMissing })),
    enlarge: (large) => set({ large }),
  });
