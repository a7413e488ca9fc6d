/** What stands on the desk: the station, what the Score shows, and how it stands with saving. */
import type { Station } from '../stations';
import type { Slice, DeskSlice } from './state';

export const deskSlice =
  (station: Station): Slice<DeskSlice> =>
  (set) => ({
    station,
    lane: 'tilt',
    sweepReading: 'sweep',
    save: { kind: 'saved' },

    goTo: (next) => set({ station: next }),
    showLane: (lane) => set({ lane }),
    readSweepAs: (sweepReading) => set({ sweepReading }),
    setSaveState: (save) => set({ save }),
  });
