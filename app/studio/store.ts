/** The Studio's state: one take, its history, and where the user is in it. */
import { createStore, useStore } from 'zustand';
import { createContext, useContext } from 'react';
import { amend, commit, present, redo, undo, type History } from '@glimbo/core/take/history';
import { unwrapNear, type Vec3 } from '@glimbo/core/geometry/rotation';
import { momentsOf, panNear, snap, turnDials } from '@glimbo/core/path/edit';
import { viewAt } from '@glimbo/core/path/path';
import type { Motion } from '@glimbo/core/motion/motion';
import { correctionOf, type Correction } from '@glimbo/core/take/correction';
import { changeCorrection } from '@glimbo/core/take/framing';
import type { Take } from '@glimbo/core/take/take';
import { applyPreset, isPlanet, type LensPreset } from '@glimbo/core/lens/presets';
import type { View } from '@glimbo/core/lens/view';
import type { SteadyMode } from '@glimbo/core/steady/settings';
import type { Footage } from '~/db/footage';
import type { SaveState } from './saver';

export const STATIONS = ['source', 'level', 'path', 'export'] as const;
export type Station = (typeof STATIONS)[number];
export const LANES = ['tilt', 'roll', 'fov', 'bend', 'motion', 'sound'] as const;
/** How before and after stand in the Frame: only after, on both sides of a line, or one beside the other. */
export type BeforeAfter = 'after' | 'split' | 'beside';
export type Lane = (typeof LANES)[number];

type Settable =
  | 'station'
  | 'lane'
  | 'span'
  | 'speed'
  | 'loop'
  | 'save'
  | 'footage'
  | 'glance'
  | 'lookRound'
  | 'sweepReading'
  | 'preview'
  | 'share'
  | 'rangeStart'
  | 'seam'
  | 'compare'
  | 'motion'
  | 'keepFraming'
  | 'beforeAfter'
  | 'splitAt'
  | 'unsteadied'
  | 'turning'
  | 'levelling'
  | 'large'
  | 'tryOut'
  | 'steadyNext';

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
  /** The footage's motion analysis, once it has come. */
  motion: Motion | null;
  /** Whether a change of orientation, steadying or level takes the framing along. */
  keepFraming: boolean;
  beforeAfter: BeforeAfter;
  /** Where the line between before and after is, as a share of the Frame's width. */
  splitAt: number;
  /** While a key is held: the picture as it was filmed. */
  unsteadied: boolean;
  /** While it is set, dragging the Frame turns the mount. */
  turning: boolean;
  /** While it is set, the horizon can be grabbed in the Frame and on the Map. */
  levelling: boolean;
  /** The Frame alone over the whole window. */
  large: boolean;
  /** A lens that is only looked at, while its preset is pointed at. */
  tryOut: Partial<View> | null;
  /** The tilt that the view had before a preset made a planet of it. */
  tiltBefore: number | null;
  /** How it is to be steadied as soon as its motion is known. */
  steadyNext: SteadyMode | null;
  /** Set when the footage's proxy can be played. */
  ready: boolean;
  gesture: { key: string; at: number } | null;

  take(): Take;
  view(): View;
  /** The correction C of the take as it is, or of another one for the same footage. */
  correction(take?: Take): Correction;
  /** Changes orientation, steadying or level, and the path with it as `keepFraming` says. */
  correct(change: Partial<Pick<Take, 'orientation' | 'steady' | 'level'>>, gesture?: string): void;
  edit(change: (take: Take) => Take, gesture?: string): void;
  dial(change: Partial<View>, gesture?: string): void;
  /** The same by dragging: the pan is the one nearest to the neighbouring keyframe's. */
  aim(change: { pan: number; tilt: number }, gesture: string): void;
  /** Takes a lens preset; one that looks ahead comes back from a planet to where the view was before. */
  usePreset(preset: LensPreset): void;
  /** The world direction under the pointer, in the Frame or on the Map; kept for what acts on it, drawn by nobody. */
  pointAt(direction: Vec3 | null): void;
  pointed(): Vec3 | null;
  endGesture(): void;
  undo(): void;
  redo(): void;
  setTime(time: number): void;
  /** Goes to a time in the middle of a gesture, which goes on: the moment of what is dragged. */
  follow(time: number): void;
  select(time: number | null): void;
  set(change: Partial<Pick<StudioState, Settable>>): void;
}

/** Changes of one dial that follow each other within this many milliseconds are one undo step. */
const GESTURE_GAP = 900;

/** Corrections that were asked for: playing asks for the same one for every frame. */
const corrections = new WeakMap<Take, { motion: Motion | null; correction: Correction }>();

let pointer: Vec3 | null = null;
/** Whether what is being aimed was more than half a turn from its neighbour before. */
let spun = false;

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
    save: { kind: 'saved' },
    glance: null,
    lookRound: false,
    sweepReading: 'sweep',
    preview: 'proxy',
    share: null,
    rangeStart: null,
    seam: null,
    compare: null,
    motion: null,
    keepFraming: true,
    beforeAfter: 'after',
    splitAt: 0.5,
    unsteadied: false,
    turning: false,
    levelling: false,
    large: false,
    tryOut: null,
    tiltBefore: null,
    steadyNext: null,
    ready: footage.gathered !== null,
    gesture: null,

    take: () => present(get().history),
    view: () => ({ ...viewAt(present(get().history).path, get().time), ...get().glance, ...get().tryOut }),
    correction(take) {
      const { history: now, motion } = get();
      const of = take ?? present(now);
      const known = corrections.get(of);
      if (known?.motion === motion) return known.correction;
      const correction = correctionOf(of, motion);
      corrections.set(of, { motion, correction });
      return correction;
    },
    correct(change, key) {
      const { correction, keepFraming, time: now, edit } = get();
      edit((take) => changeCorrection(take, change, (t) => correction(t), { keepFraming, now }), key);
    },
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
    aim({ pan, tilt }, key) {
      const { time, take, dial } = get();
      const { path } = take();
      // Somebody's spin of more than half a turn stays one.
      if (get().gesture?.key !== `${key}@${time}`) {
        const before = viewAt(path, time).pan;
        spun = Math.abs(before - panNear(path, time, before)) > 1e-6;
      }
      dial({ pan: spun ? pan : panNear(path, time, pan), tilt }, key);
    },
    usePreset(preset) {
      const { view, tiltBefore, dial } = get();
      set({ tryOut: null });
      const now = view();
      if (preset.tilt !== undefined && !isPlanet(now)) set({ tiltBefore: now.tilt });
      dial(applyPreset(preset, now, tiltBefore));
    },
    pointAt: (direction) => void (pointer = direction),
    pointed: () => pointer,
    endGesture: () => set({ gesture: null }),
    undo: () => set({ history: undo(get().history), gesture: null }),
    redo: () => set({ history: redo(get().history), gesture: null }),
    setTime(time) {
      const { rate, duration } = get().footage.facts;
      const at = Math.max(0, Math.min(duration - 1 / rate, snap(time, rate)));
      if (at === get().time) return;
      set({ time: at, gesture: null, glance: null, compare: null, span: follow(get().span, at, duration) });
    },
    follow(time) {
      const { rate, duration } = get().footage.facts;
      const at = Math.max(0, Math.min(duration - 1 / rate, snap(time, rate)));
      if (at !== get().time) set({ time: at, glance: null, compare: null });
    },
    select: (selected) => set({ selected }),
    set: (change) => set(change),
  }));
}

/** How before and after stand in the Frame now: both only at the Level station, as elsewhere it shows what is exported. */
export const shownBeforeAfter = ({ station, beforeAfter }: StudioState): BeforeAfter =>
  station === 'level' ? beforeAfter : 'after';

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
/** The correction of the take, and the motion it was made with: changes when either does. */
export const useCorrection = (): Correction => useStudio((s) => s.correction());
