/** What was found in the footage, and how far it is shown. */
import type { FoundSlice, Slice } from './state';

export const foundSlice = (): Slice<FoundSlice> => (set) => ({
  found: null,
  offering: false,
  meant: null,

  knowFound: (found) => set({ found, meant: null }),
  offerFound: (offering) => set({ offering, meant: null }),
  mean: (meant) => set({ meant }),
});
