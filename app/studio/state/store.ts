/**
 * The Studio's state: one take, its history, and where the user is in it. It is made of slices, each with the actions that
 * change it; components call these and nothing else sets state.
 */
import { createContext, useContext, useMemo } from 'react';
import { createStore, useStore } from 'zustand';
import { present, type History } from '@glimbo/core/document/history';
import { reachOf } from '~/model/footage';
import type { Correction } from '@glimbo/core/correction/correction';
import type { Take } from '@glimbo/core/take/take';
import type { View } from '@glimbo/core/lens/view';
import { clockOf, type Clock } from '@glimbo/core/time/clock';
import { aimOf } from '@glimbo/core/view/view-of';
import type { Footage } from '~/model/footage';
import type { Station } from './stations';
import { deskSlice } from './desk-slice';
import { footageSlice } from './footage-slice';
import { foundSlice } from './found-slice';
import { frameSlice } from './frame-slice';
import { handSlice } from './hand-slice';
import { leadSlice } from './lead-slice';
import { pressSlice } from './press-slice';
import { seenSlice } from './seen-slice';
import { trySlice } from './try-slice';
import { selectionSlice } from './selection-slice';
import type { StudioState } from './state';
import type { BeforeAfter } from './frame-state';
import { takeSlice } from './take-slice';
import { timeSlice } from './time-slice';

export interface StudioStart {
  /** The take's; what this browser keeps of it goes by that. */
  takeId?: string;
  /** Seconds of the footage; the in point when absent. */
  time?: number;
  station?: Station;
}

export const createStudio = (footage: Footage, history: History<Take>, start: StudioStart) =>
  createStore<StudioState>()((...store) => ({
    ...takeSlice(history)(...store),
    ...timeSlice(start.time ?? present(history).range.in, footage.facts.duration)(...store),
    ...selectionSlice()(...store),
    ...seenSlice()(...store),
    ...handSlice()(...store),
    ...trySlice()(...store),
    ...pressSlice(start.takeId ?? '')(...store),
    ...leadSlice()(...store),
    ...frameSlice()(...store),
    ...footageSlice(footage)(...store),
    ...foundSlice()(...store),
    ...deskSlice(start.station ?? 'path')(...store),
  }));

export type StudioStore = ReturnType<typeof createStudio>;
export const StudioContext = createContext<StudioStore | null>(null);

export function useStudioStore(): StudioStore {
  const store = useContext(StudioContext);
  if (!store) throw new Error('The Studio is missing round this component.');
  return store;
}

export const useStudio = <T>(select: (s: StudioState) => T): T => useStore(useStudioStore(), select);

export const useTake = () => useStudio((s) => present(s.history));

/** The correction of the take, and the motion it was made with: changes when either does. */
export const useCorrection = (): Correction => useStudio((s) => s.correction());

/** The two times of the take: of the footage, and as it is shown. */
export function useClock(): Clock {
  const reading = useStudio((s) => present(s.history).reading);
  const rate = useStudio((s) => s.footage.facts.rate);
  return useMemo(() => clockOf({ reading }, rate), [reading, rate]);
}

/** How many seconds of the footage can be played. */
export const playableIn = (s: StudioState) =>
  s.playsOriginal || s.footage.gathered?.companion ? s.footage.facts.duration : reachOf(s.footage);

/** Whether what is played shows less at the playhead than the footage: nothing yet, or a companion of low resolution. */
export const needsOriginal = (s: StudioState) =>
  !s.playsOriginal && (!!s.footage.gathered?.companion || s.time >= reachOf(s.footage));

/** The playhead's time while it stands still; null while it plays: what is worth computing only then goes by this. */
export const useStillTime = (): number | null => useStudio((s) => (s.speed === 0 ? s.time : null));

/** Whether the next press says where something is: a grey, a patch, a subject. Nothing that lies there takes it then. */
export const useAsksForPlace = () => useStudio((s) => s.pickingGrey || s.placingPatch || s.pointingOut !== 'nothing');

/** What the Frame shows at the playhead, as `view()` of the store. */
export function useView(): View {
  return useViewAt(useStudio((s) => s.time));
}

/** The same, for what does not look while it plays: then it stays the in point's. */
export function useStillView(): View {
  const start = useTake().range.in;
  return useViewAt(useStillTime() ?? start);
}

/** How the take follows its subjects; changes when either does. */
export const useFollowed = () => useStudio((s) => s.followed());

function useViewAt(time: number): View {
  const take = useTake();
  const glance = useStudio((s) => s.glance);
  const tryOut = useStudio((s) => s.tryOut);
  const tried = useStudio((s) => s.tried);
  const followed = useFollowed();
  const lookout = useStudio((s) => s.aimed());
  return useMemo(
    () => aimOf(take, { glance, tryOut, tried, lookout, ...followed }, time),
    [take, glance, tryOut, tried, lookout, followed, time],
  );
}

/**
 * How before and after stand in the Frame now: of steadying and level at the Level station, of the look at its own; elsewhere it shows
 * what is exported.
 */
export function shownBeforeAfter({ station, beforeAfter, seeing }: StudioState): BeforeAfter {
  if (station === 'look') return seeing.lookSplit ? 'split' : 'after';
  return station === 'level' ? beforeAfter : 'after';
}

/** Whether the Frame's well shows the Lookouts as a grid. */
export const showsGrid = (s: StudioState): boolean =>
  s.grid !== 'off' && s.station === 'path' && !s.lookRound && !!present(s.history).lookouts;
