/** What is looked at or tried without changing the take. */
import type { Slice } from './state';
import type { TrySlice } from './frame-state';

export const trySlice = (): Slice<TrySlice> => (set, get) => ({
  glance: null,
  tryOut: null,
  tried: null,
  triedWords: null,
  triedOver: null,
  performing: null,
  steering: null,
  sketch: null,

  glanceAt: (glance) => set({ glance }),
  tryLens: (tryOut) => set({ tryOut }),
  tryPath: (tried, words, over) => set({ tried, triedWords: words ?? null, triedOver: over ?? null }),
  keepTried() {
    const { tried, triedOver, edit } = get();
    if (tried) edit((take) => ({ ...(triedOver ?? take), path: tried }));
  },
  showPerforming: (performing) => set({ performing }),
  takeSteering: (steering) => set({ steering }),
  showSketch: (sketch) => set({ sketch }),
});
