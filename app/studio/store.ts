/** The Studio's state: one take, its history, and where the user is in it. */
import { createStore, useStore } from 'zustand';
import { createContext, useContext } from 'react';
import { amend, commit, present, redo, undo, type History } from '@glimbo/core/take/history';
import { unwrapNear, type Vec3 } from '@glimbo/core/geometry/rotation';
import { momentsOf, snap, turnDials } from '@glimbo/core/path/edit';
import { viewAt } from '@glimbo/core/path/path';
import type { Take } from '@glimbo/core/take/take';
import type { View } from '@glimbo/core/lens/view';
import type { Footage } from '~/db/footage';

export const STATIONS = ['source', 'path', 'export'] as const;
export type Station = (typeof STATIONS)[number];
export const LANES = ['tilt', 'roll', 'fov', 'bend', 'sound'] as const;
export type Lane = (typeof LANES)[number];

export type SaveState = 'saved' | 'saving' | 'unsaved' | 'offline';

type Settable =
  | 'station' | 'lane' | 'span' | 'speed' | 'loop' | 'save' | 'footage' | 'glance' | 'lookRound' | 'sweepReading'
  | 'preview' | 'share' | 'rangeStart' | 'seam' | 'compare'; // prettier-ignore

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
  /** A look at another direction that changes nothing: degrees in the world. */
  glance: { pan: number; tilt: number } | null;
  /** Front, right, back and left at once in place of the Frame. */
  lookRound: boolean;
  /** What the Sweep shows: what was where, or what moved. */
  sweepReading: 'sweep' | 'activity';
  /** What the Frame is drawn from while it stands still. */
  preview: 'proxy' | 'original';
  /** Share of the full resolution while playing; null finds it by itself. */
  share: number | null;
  /** Where a range was begun that has no end yet, in seconds. */
  rangeStart: number | null;
  /** The seam of a two-lens recording, drawn over Map and Frame: directions of the picture. */
  seam: Vec3[] | null;
  /** Two stills on both sides of a line: the one to its left, and where the line is. */
  compare: { left: HTMLImageElement; right: HTMLImageElement; at: number } | null;
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
  set(change: Partial<Pick<StudioState, Settable>>): void;
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
    glance: null,
    lookRound: false,
    sweepReading: 'sweep',
    preview: 'proxy',
    share: null,
    rangeStart: null,
    seam: null,
    compare: null,
    ready: footage.gathered !== null,
    gesture: null,

    take: () => present(get().history),
    view: () => ({ ...viewAt(present(get().history).path, get().time), ...get().glance }),
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
      const { time, glance } = get();
      // Handling a glance takes it over: from here on it is the view.
      const whole = { ...nearest(glance, viewAt(get().take().path, time)), ...change };
      if (glance) set({ glance: null });
      get().edit((take) => ({ ...take, path: turnDials(take.path, time, whole) }), key && `${key}@${time}`);
      if (momentsOf(get().take().path).some((m) => m.time === time)) set({ selected: time });
    },
    endGesture: () => set({ gesture: null }),
    undo: () => set({ history: undo(get().history), gesture: null }),
    redo: () => set({ history: redo(get().history), gesture: null }),
    setTime(time) {
      const { rate, duration } = get().footage.facts;
      const at = Math.max(0, Math.min(duration - 1 / rate, snap(time, rate)));
      if (at === get().time) return;
      set({ time: at, gesture: null, glance: null, compare: null, span: follow(get().span, at, duration) });
    },
    select: (selected) => set({ selected }),
    set: (change) => set(change),
  }));
}

/** A glance as a change of the view: its heading the short way from where the view is. */
const nearest = (glance: StudioState['glance'], view: View): Partial<View> =>
  glance ? { pan: unwrapNear(glance.pan, view.pan), tilt: glance.tilt } : {};

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
