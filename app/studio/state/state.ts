/** What the Studio's state is made of: the slices with the actions that change each. */
import type { StateCreator } from 'zustand';
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import type { LensPreset } from '@glimbo/core/lens/presets';
import type { View } from '@glimbo/core/lens/view';
import type { FootageLight } from '@glimbo/core/look/light';
import type { SubjectTrack } from '@glimbo/core/follow/subject';
import type { GradeName } from '@glimbo/core/look/channels';
import type { Motion } from '@glimbo/core/motion/motion';
import type { Moving } from '@glimbo/core/moving/moving';
import type { KeyRef, Picking, Selection } from '@glimbo/core/path/keys';
import type { Curves } from '@glimbo/core/path/path';
import type { SteadyMode } from '@glimbo/core/steady/settings';
import type { Correction } from '@glimbo/core/correction/correction';
import type { Metering } from '@glimbo/core/edit/metering';
import type { History } from '@glimbo/core/document/history';
import type { Take } from '@glimbo/core/take/take';
import type { Followings } from '@glimbo/core/view/view-of';
import type { Footage, FootageChoice } from '~/model/footage';
import type { Subject } from '~/model/subject';
import type { SaveState } from './save-state';
import type { Station } from './stations';
import type { FrameSlice, TrySlice, PressSlice, LeadSlice } from './frame-state';

export type StudioState = TakeSlice &
  SeenSlice &
  HandSlice &
  TimeSlice &
  SelectionSlice &
  TrySlice &
  PressSlice &
  LeadSlice &
  FrameSlice &
  FootageSlice &
  FoundSlice &
  DeskSlice;

/** Makes a slice of the state. */
export type Slice<S> = StateCreator<StudioState, [], [], S>;

export interface TakeSlice {
  history: History<Take>;
  /** What is being dragged or turned, and when it last moved. */
  gesture: { key: string; at: number } | null;
  /** Whether a change of orientation, steadying or level takes the framing along. */
  keepFraming: boolean;
  /** Whether the path's keyframes stay at their moments of the clip, not of the footage, when the pace changes. */
  paceKeepsTiming: boolean;

  take(): Take;
  edit(change: (take: Take) => Take, gesture?: string): void;
  /** Makes another take of the last step: what it was is known only now. */
  amendStep(take: Take): void;
  /**
   * Changes whatever is keyed, beginning with the take as it was (absent: as it is); framing is kept as `keepFraming` says where the
   * sphere's turn is changed.
   */
  editCurves(change: (curves: Curves) => Curves, gesture?: string, from?: Take): void;
  /** Changes orientation, steadying or level, and the path with it as `keepFraming` says. */
  correct(change: Partial<Pick<Take, 'orientation' | 'steady' | 'level'>>, gesture?: string): void;
  setKeepFraming(keep: boolean): void;
  setPaceKeepsTiming(keep: boolean): void;
  /** Goes on with another history, as when a draft from before is found. */
  goOnWith(history: History<Take>): void;
  endGesture(): void;
  undo(): void;
  redo(): void;
}

/** What the take comes to. */
export interface SeenSlice {
  /** What the Frame shows at the playhead: the take's view, or the glance or lens that is looked at. */
  view(): View;
  /** The Lookout that dials and drags change: the one that is handled in the grid, or that is on air; null for the path. */
  aimed(): number | null;
  /** The correction C of the take as it is, or of another one for the same footage. */
  correction(take?: Take): Correction;
  /** How subjects are kept in frame: by the take as it is, or by another one of the same footage. */
  followed(take?: Take): Followings;
  /** What the take's Meter adds to its exposure; null where there is none, or the light is not known yet. */
  metering(): Metering | null;
}

/** Handling the view and the look at the playhead. */
export interface HandSlice {
  /** The tilt that the view had before a preset made a planet of it. */
  tiltBefore: number | null;
  /** Whether aiming corrects the format that is worked on instead of changing the path, and sets keyframes of that correction. */
  correcting: 'no' | 'value' | 'keys';

  dial(change: Partial<View>, gesture?: string): void;
  /** The same by dragging: the pan is the one nearest to the neighbouring keyframe's. */
  aim(change: { pan: number; tilt: number }, gesture: string): void;
  /** Turns a dial of the look: sets a key at the playhead where it is keyed, else its fixed value. */
  gradeDial(name: GradeName, value: number, gesture?: string): void;
  /** Takes a lens preset; one that looks ahead comes back from a planet to where the view was before. */
  usePreset(preset: LensPreset): void;
  correctFormat(how: HandSlice['correcting']): void;
}

export interface Span {
  from: number;
  to: number;
}

export interface TimeSlice {
  time: number;
  /** The part of the footage that the Score shows. */
  span: Span;
  /** How fast it plays; 0 while it stands still, negative backwards. */
  speed: number;
  loop: boolean;

  setTime(time: number): void;
  /** Goes to a time in the middle of a gesture, which goes on: the moment of what is dragged. */
  follow(time: number): void;
  showSpan(span: Span): void;
  /** Shows so many times as much time, about a moment; about the playhead when absent. */
  zoomTime(factor: number, about?: number): void;
  setSpeed(speed: number): void;
  setLoop(loop: boolean): void;
}

export interface SelectionSlice {
  selection: Selection;

  select(selection: Selection): void;
  /** Picks keyframes: alone, besides those that are selected, or in and out by turns. */
  pick(keys: readonly KeyRef[], how: Picking): void;
  /** Selects the keyframe of the view at a time in seconds, all its channels. */
  selectView(time: number): void;
  deselect(): void;
  /** The world direction under the pointer, in the Frame or on the Map; kept for what acts on it, drawn by nobody. */
  pointAt(direction: Vec3 | null): void;
  pointed(): Vec3 | null;
}

export interface FootageSlice {
  footage: Footage;
  /** The footage's motion analysis, once it has come. */
  motion: Motion | null;
  /** The footage's light, once the Meter or the twin has asked for it. */
  light: FootageLight | null;
  /** All footage of the Library in brief, once somebody has asked for it; and the light of the one that the twin shows. */
  others: readonly FootageChoice[] | null;
  otherLight: { id: string; light: FootageLight } | null;
  /** What is followed in the footage, and where each is, by its id, as far as it has come. */
  subjects: readonly Subject[];
  tracks: ReadonlyMap<string, { version: number; track: SubjectTrack }>;
  /** What is known so far of those that are being followed. */
  growing: ReadonlyMap<string, SubjectTrack>;
  /** Whether the original itself is played as long as there is no whole proxy. */
  playsOriginal: boolean;
  /** How it is to be steadied as soon as its motion is known. */
  steadyNext: SteadyMode | null;
  /** Where a range was begun that has no end yet, in seconds. */
  rangeStart: number | null;

  /** What the server says of the footage now. Marks and ranges may have been changed here since and stay. */
  meetFootage(footage: Footage): void;
  setRemarks(remarks: Pick<Footage, 'marks' | 'ranges'>): void;
  knowMotion(motion: Motion): void;
  knowLight(light: FootageLight): void;
  knowSubjects(subjects: readonly Subject[]): void;
  knowTrack(id: string, known: { version: number; track: SubjectTrack }): void;
  /** What is known so far of one that is being followed; null when that has ended. */
  growTrack(id: string, track: SubjectTrack | null): void;
  knowOthers(others: readonly FootageChoice[]): void;
  knowOtherLight(light: { id: string; light: FootageLight }): void;
  playOriginal(plays: boolean): void;
  steadyWhenKnown(mode: SteadyMode | null): void;
  beginRange(time: number | null): void;
}

export interface FoundSlice {
  /** What was found in the footage; null as long as that is not known. */
  found: Moving | null;
  /** Whether it is offered to be taken: then it is seen on Map, Sweep and Frame. */
  offering: boolean;
  /** Which of it is meant just now: the place of a streak in the list. */
  meant: number | null;

  knowFound(found: Moving | null): void;
  offerFound(offering: boolean): void;
  mean(streak: number | null): void;
}

export interface DeskSlice {
  station: Station;
  /** Ids of the lanes that stand open beside the Sweep, see score/lane-list; at least one. */
  lanes: readonly string[];
  /** What the Sweep shows: what was where, or what moved. */
  sweepReading: 'sweep' | 'activity';
  /** Seconds of the footage at which its sound has beats, while they are seen. */
  beats: readonly number[];
  save: SaveState;
  /** Whether what is not saved lies in this browser's storage at least. */
  drafted: boolean;

  goTo(station: Station): void;
  /** Opens a lane, the last one on the right. */
  showLane(lane: string): void;
  /** Opens a lane, or closes it if it is open and not the only one. */
  toggleLane(lane: string): void;
  readSweepAs(reading: DeskSlice['sweepReading']): void;
  showBeats(beats: readonly number[]): void;
  setSaveState(save: SaveState): void;
  setDrafted(drafted: boolean): void;
}
