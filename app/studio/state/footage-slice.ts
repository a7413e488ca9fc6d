/** The footage that the take is made of: its facts, marks and ranges, and what is known of its motion. */
import type { Footage } from '~/model/footage';
import type { Slice, FootageSlice } from './state';

export const footageSlice =
  (footage: Footage): Slice<FootageSlice> =>
  (set, get) => ({
    footage,
    motion: null,
    light: null,
    others: null,
    otherLight: null,
    subjects: [],
    tracks: new Map(),
    growing: new Map(),
    playsOriginal: false,
    steadyNext: null,
    rangeStart: null,

    meetFootage(found) {
      const { footage: now } = get();
      const { marks, ranges } = now;
      if (found.version !== now.version) set({ footage: { ...found, marks, ranges } });
      else if (found.motion?.file !== now.motion?.file || found.motion?.void !== now.motion?.void)
        set({ footage: { ...now, motion: found.motion } });
    },
    setRemarks: ({ marks, ranges }) => set({ footage: { ...get().footage, marks, ranges } }),
    playOriginal: (playsOriginal) => set({ playsOriginal }),
    knowLight: (light) => set({ light }),
    knowOthers: (others) => set({ others }),
    knowOtherLight: (otherLight) => set({ otherLight }),
    knowSubjects: (subjects) => set({ subjects }),
    knowTrack: (id, known) => set({ tracks: new Map(get().tracks).set(id, known) }),
    growTrack(id, track) {
      const growing = new Map(get().growing);
      if (track) growing.set(id, track);
      else growing.delete(id);
      set({ growing });
    },
    knowMotion: (motion) => set({ motion }),
    steadyWhenKnown: (steadyNext) => set({ steadyNext }),
    beginRange: (rangeStart) => set({ rangeStart }),
  });
