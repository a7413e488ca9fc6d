/** What stands on the desk: the station, what the Score shows, and how it stands with saving. */
import type { Station } from './stations';
import type { Slice, DeskSlice } from './state';

export const deskSlice =
  (station: Station): Slice<DeskSlice> =>
  (set, get) => ({
    station,
    lanes: ['tilt'],
    sweepReading: 'sweep',
    beats: [],
    save: { kind: 'saved' },
    drafted: true,

    goTo: (next) => set({ station: next }),
    showLane: (lane) => void (get().lanes.includes(lane) || set({ lanes: [...get().lanes, lane] })),
    toggleLane(lane) {
      const { lanes } = get();
      if (!lanes.includes(lane)) set({ lanes: [...lanes, lane] });
      else if (lanes.length > 1) set({ lanes: lanes.filter((id) => id !== lane) });
    },
    readSweepAs: (sweepReading) => set({ sweepReading }),
    showBeats: (beats) => set({ beats }),
    setSaveState: (save) => set({ save }),
    setDrafted: (drafted) => void (get().drafted !== drafted && set({ drafted })),
  });
