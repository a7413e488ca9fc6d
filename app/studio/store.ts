/** The Studio's state: one take, its history, and where the user is in it. */
import { createStore, useStore } from 'zustand';
import { createContext, useContext } from 'react';
import { amend, commit, present, redo, undo, type History } from '@glimbo/core/take/history';
import { momentsOf, snap, turnDials } from '@glimbo/core/path/edit';
import { viewAt } from '@glimbo/core/path/path';
import type { Take } from '@glimbo/core/take/take';
import type { View } from '@glimbo/core/lens/view';
import type { Footage } from '~/db/footage';

export const STATIONS = ['source', 'path', 'export'] as const;
export type Station = (typeof STATIONS)[number];
export const LANES = ['tilt', 'roll', 'fov', 'bend'] as const;
export type Lane = (typeof LANES)[number];

export type SaveState = 'saved' | 'saving' | 'unsaved' | 'offline';

export interface StudioState {
  footage: Footage;
  history: History<Take>;
  time: number;
  station: Station;
  lane: Lane;
  /** Times of the moments that are selected. */
  selected: number | null;
  /** The part of the footage that the Score shows, in seconds. */
  span: { from: number; to: number };
  speed: number;
  loop: boolean;
  save: SaveState;
  /** Set when the footage's proxy can be played. */
  ready: boolean;
  gesture: { key: string; at: number } | null;

  take(): Take;
  view(): View;
  edit(change: (take: Take) => Take, gesture?: string): void;
  dial(change: Partial<View>, gesture?: string): void;
  endGesture(): void;
  undo(): void;
  redo(): void;
  setTime(time: number): void;
  select(time: number | null): void;
  set(change: Partial<Pick<StudioState, 'station' | 'lane' | 'span' | 'speed' | 'loop' | 'save' | 'footage'>>): void;
}

/** Changes of one dial that follow each other within this many milliseconds are one undo step. */
const GESTURE_GAP = 900;

export function createStudio(
  footage: Footage,
  history: History<Take>,
  start: Partial<Pick<StudioState, 'time' | 'station'>>,
) {
  return createStore<StudioState>()((set, get) => ({
    footage,
    history,
    time: start.time ?? present(history).range.in,
    station: start.station ?? 'path',
    lane: 'tilt',
    selected: null,
    span: { from: 0, to: footage.facts.duration },
    speed: 0,
    loop: true,
    save: 'saved',
    ready: footage.gathered !== null,
    gesture: null,

    take: () => present(get().history),
    view: () => viewAt(present(get().history).path, get().time),
    edit(change, key) {
      const { history: before, gesture } = get();
      const next = change(present(before));
      // A change that changes nothing is no undo step.
      if (JSON.stringify(next) === JSON.stringify(present(before))) return;
      const now = performance.now();
      const continued = key !== undefined && gesture?.key === key && now - gesture.at < GESTURE_GAP;
      set({
        history: continued ? amend(before, next) : commit(before, next),
        gesture: key === undefined ? null : { key, at: now },
      });
    },
    dial(change, key) {
      const { time } = get();
      get().edit((take) => ({ ...take, path: turnDials(take.path, time, change) }), key && `${key}@${time}`);
      if (momentsOf(get().take().path).some((m) => m.time === time)) set({ selected: time });
    },
    endGesture: () => set({ gesture: null }),
    undo: () => set({ history: undo(get().history), gesture: null }),
    redo: () => set({ history: redo(get().history), gesture: null }),
    setTime(time) {
      const { rate, duration } = get().footage.facts;
      const at = Math.max(0, Math.min(duration - 1 / rate, snap(time, rate)));
      if (at !== get().time) set({ time: at, gesture: null, span: follow(get().span, at, duration) });
    },
    select: (selected) => set({ selected }),
    set: (change) => set(change),
  }));
}

/** Moves the shown part so that a time stays in it. */
function follow(span: { from: number; to: number }, time: number, duration: number) {
  const length = span.to - span.from;
  if (time >= span.from && time <= span.to) return span;
  const from = Math.max(0, Math.min(duration - length, time - length / 2));
  return { from, to: from + length };
}

export type StudioStore = ReturnType<typeof createStudio>;
export const StudioContext = createContext<StudioStore | null>(null);

export function useStudioStore(): StudioStore {
  const store = useContext(StudioContext);
  if (!store) throw new Error('The Studio is missing round this component.');
  return store;
}

export const useStudio = <T>(select: (s: StudioState) => T): T => useStore(useStudioStore(), select);
export const useTake = () => useStudio((s) => present(s.history));
