/** What the Studio's state is made of: the slices with the actions that change each. */
import type { StateCreator } from 'zustand';
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import type { LensPreset } from '@glimbo/core/lens/presets';
import type { View } from '@glimbo/core/lens/view';
import type { FootageLight } from '@glimbo/core/look/light';
import type { SubjectTrack } from '@glimbo/core/follow/subject';
import type { GradeName } from '@glimbo/core/look/channels';
import type { Cut, Showing } from '@glimbo/core/lookouts/lookouts';
import type { Motion } from '@glimbo/core/motion/motion';
import type { KeyRef, Picking, Selection } from '@glimbo/core/path/keys';
import type { Curves, Path } from '@glimbo/core/path/path';
import type { Sketch } from '@glimbo/core/sketch/sketch';
import type { SteadyMode } from '@glimbo/core/steady/settings';
import type { Correction } from '@glimbo/core/correction/correction';
import type { Metering } from '@glimbo/core/edit/metering';
import type { History } from '@glimbo/core/document/history';
import type { Stretch } from '@glimbo/core/edit/levelling';
import type { Take } from '@glimbo/core/take/take';
import type { Aim, Followings } from '@glimbo/core/view/view-of';
import type { Footage, FootageChoice } from '~/model/footage';
import type { Subject } from '~/model/subject';
import type { SaveState } from './save-state';
import type { Station } from './stations';

export type StudioState = TakeSlice & TimeSlice & SelectionSlice & FrameSlice & FootageSlice & DeskSlice;

/** Makes a slice of the state. */
export type Slice<S> = StateCreator<StudioState, [], [], S>;

export interface TakeSlice {
  history: History<Take>;
  /** What is being dragged or turned, and when it last moved. */
  gesture: { key: string; at: number } | null;
  /** The tilt that the view had before a preset made a planet of it. */
  tiltBefore: number | null;
  /** Whether a change of orientation, steadying or level takes the framing along. */
  keepFraming: boolean;
  /** Whether the path's keyframes stay at their moments of the clip, not of the footage, when the pace changes. */
  paceKeepsTiming: boolean;
  /** Whether aiming corrects the format that is worked on instead of changing the path, and sets keyframes of that correction. */
  correcting: 'no' | 'value' | 'keys';

  take(): Take;
  /** What the Frame shows at the playhead: the take's view, or the glance or lens that is looked at. */
  view(): View;
  /** The correction C of the take as it is, or of another one for the same footage. */
  correction(take?: Take): Correction;
  /** How subjects are kept in frame: by the take as it is, or by another one of the same footage. */
  followed(take?: Take): Followings;
  /** The Lookout that dials and drags change: the one that is handled in the grid, or that is on air; null for the path. */
  aimed(): number | null;
  /** What the take's Meter adds to its exposure; null where there is none, or the light is not known yet. */
  metering(): Metering | null;
  /**
   * Changes whatever is keyed, beginning with the take as it was (absent: as it is); framing is kept as `keepFraming` says where the
   * sphere's turn is changed.
   */
  editCurves(change: (curves: Curves) => Curves, gesture?: string, from?: Take): void;
  /** Changes orientation, steadying or level, and the path with it as `keepFraming` says. */
  correct(change: Partial<Pick<Take, 'orientation' | 'steady' | 'level'>>, gesture?: string): void;
  edit(change: (take: Take) => Take, gesture?: string): void;
  dial(change: Partial<View>, gesture?: string): void;
  /** The same by dragging: the pan is the one nearest to the neighbouring keyframe's. */
  aim(change: { pan: number; tilt: number }, gesture: string): void;
  /** Turns a dial of the look: sets a key at the playhead where it is keyed, else its fixed value. */
  gradeDial(name: GradeName, value: number, gesture?: string): void;
  /** Takes a lens preset; one that looks ahead comes back from a planet to where the view was before. */
  usePreset(preset: LensPreset): void;
  setKeepFraming(keep: boolean): void;
  setPaceKeepsTiming(keep: boolean): void;
  correctFormat(how: TakeSlice['correcting']): void;
  /** Goes on with another history, as when a draft from before is found. */
  goOnWith(history: History<Take>): void;
  endGesture(): void;
  undo(): void;
  redo(): void;
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

/** How before and after stand in the Frame: only after, on both sides of a line, or one beside the other. */
export type BeforeAfter = 'after' | 'split' | 'beside';

/** Two stills on both sides of a line: the one to its left, and where the line is. */
export interface StillPair {
  left: HTMLImageElement;
  right: HTMLImageElement;
  at: number;
}

/** Thirds, the centre, and what feeds lay over tall and square pictures. */
export const GUIDES = ['thirds', 'centre', 'safe'] as const;
export type Guide = (typeof GUIDES)[number];

export interface Seeing {
  /** What stands beside the dials of light. */
  scope: 'curve' | 'waveform';
  /** Before and after the look on both sides of a line. */
  lookSplit: boolean;
  /** Whether what is black or white without detail is marked. */
  clipped: boolean;
}

/** Something that was put on air while it plays: from when on, over which cuts, and the take that came of it. */
export interface LiveCut {
  over: readonly Cut[];
  from: number;
  shows: Showing | null;
  made: Take;
}

/** What a press points out: a new subject, where a known one really is (its id), or nothing. */
export type PointingOut = 'nothing' | 'new' | { subject: string };

export interface FrameSlice {
  /** What levelling the whole take left alone, since it was not sure there. */
  unlevelled: readonly Stretch[];
  /** A look at another direction that changes nothing: degrees in the world. */
  glance: Aim | null;
  /** A lens that is only looked at, while its preset is pointed at. */
  tryOut: Partial<View> | null;
  /** A path that is tried in place of the take's: a move, or what was performed. Kept or thrown away as a whole. */
  tried: Path | null;
  /** What is worth knowing of it. */
  triedWords: string | null;
  /** The take with its Follows as they are with the tried path; null where they stay. */
  triedOver: Take | null;
  /** While it is performed: what is left of the countdown, 0 once it plays. */
  performing: { count: number } | null;
  /** Takes what is aimed while it is performed. */
  steering: ((change: Partial<View>) => void) | null;
  /** Front, right, back and left at once in place of the Frame. */
  lookRound: boolean;
  /** All formats of the take side by side. */
  allFormats: boolean;
  /** Lines over the Frame that are never exported. */
  guides: readonly Guide[];
  /** What the Frame is drawn from while it stands still. */
  preview: 'proxy' | 'original';
  /** Share of the full resolution while playing; null finds it by itself. */
  share: number | null;
  /** The seam of a two-lens recording, drawn over Map and Frame: directions of the picture. */
  seam: Vec3[] | null;
  compare: StillPair | null;
  beforeAfter: BeforeAfter;
  /** Where the line between before and after is, as a share of the Frame's width. */
  splitAt: number;
  /** While a key is held: the picture as it was filmed. */
  unsteadied: boolean;
  /** While it is set, dragging the Frame turns the mount. */
  turning: boolean;
  /** While it is set, the horizon can be grabbed in the Frame and on the Map. */
  levelling: boolean;
  /** What one judges the look by, at its station. */
  seeing: Seeing;
  /** While it is set, the next press in the Frame or on the Map says what is grey. */
  pickingGrey: boolean;
  /** Whether the patch's rim and the sector's edges are drawn over Frame and Map, and whether a press there places the patch. */
  patchOutlined: boolean;
  placingPatch: boolean;
  /** While it is set, the next press in the Frame or on the Map points a subject out. */
  pointingOut: PointingOut;
  /** Which of the take's Follows is worked on. */
  followChosen: number;
  /** Whether the Lookouts stand in the Frame's well, all playing, alone or beside what is on air; and which is worked on. */
  grid: 'off' | 'alone' | 'beside';
  lookoutChosen: number;
  /** While it plays and is cut live: what was on air from when on, over which cuts. */
  cutting: LiveCut | null;
  /** A path that is proposed, to be taken whole or in part. */
  sketch: Sketch | null;
  /** Width to height of the Frame's well. */
  frameRoom: number;
  /** Whether the LUT that the look names could not be had. */
  lutMissing: boolean;
  /** The Frame alone over the whole window. */
  large: boolean;

  glanceAt(aim: Aim | null): void;
  tryLens(lens: Partial<View> | null): void;
  tryPath(path: Path | null, words?: string, over?: Take): void;
  /** Makes the tried path the take's. */
  keepTried(): void;
  showPerforming(performing: FrameSlice['performing']): void;
  takeSteering(steering: FrameSlice['steering']): void;
  lookAllRound(on: boolean): void;
  showAllFormats(on: boolean): void;
  toggleGuide(guide: Guide): void;
  drawFrom(preview: FrameSlice['preview']): void;
  playAtShare(share: number | null): void;
  drawSeam(seam: Vec3[] | null): void;
  compareStills(pair: StillPair | null): void;
  showBeforeAfter(mode: BeforeAfter): void;
  splitFrameAt(share: number): void;
  showAsFilmed(on: boolean): void;
  grabMount(on: boolean): void;
  grabHorizon(on: boolean): void;
  leaveUnlevelled(stretches: readonly Stretch[]): void;
  see(change: Partial<Seeing>): void;
  pickGrey(on: boolean): void;
  outlinePatch(on: boolean): void;
  placePatch(on: boolean): void;
  pointOutSubject(what: PointingOut): void;
  chooseFollow(n: number): void;
  showGrid(grid: FrameSlice['grid']): void;
  chooseLookout(n: number): void;
  cutLive(cutting: LiveCut | null): void;
  showSketch(sketch: Sketch | null): void;
  measureRoom(ratio: number): void;
  missLut(missing: boolean): void;
  enlarge(on: boolean): void;
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
