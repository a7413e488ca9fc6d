/** What of the Studio's state Frame, Map and Score show beside the take, and what a press there does. */
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import type { View } from '@glimbo/core/lens/view';
import type { Cut, Showing } from '@glimbo/core/lookouts/lookouts';
import type { Path } from '@glimbo/core/path/path';
import type { Sketch } from '@glimbo/core/sketch/sketch';
import type { Stretch } from '@glimbo/core/edit/levelling';
import type { Take } from '@glimbo/core/take/take';
import type { Aim } from '@glimbo/core/view/view-of';

/** How before and after stand in the Frame: only after, on both sides of a line, or one beside the other. */
export type BeforeAfter = 'after' | 'split' | 'beside';

/** Two stills on both sides of a line: the one to its left, and where the line is. */
interface StillPair {
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

/** What the Frame shows, and from what. */
export interface FrameSlice {
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
  /** What one judges the look by, at its station. */
  seeing: Seeing;
  /** Width to height of the Frame's well. */
  frameRoom: number;
  /** Whether the LUT that the look names could not be had. */
  lutMissing: boolean;
  /** The Frame alone over the whole window. */
  large: boolean;

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
  see(change: Partial<Seeing>): void;
  measureRoom(ratio: number): void;
  missLut(missing: boolean): void;
  enlarge(on: boolean): void;
}

/** What is looked at or tried without changing the take. */
export interface TrySlice {
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
  /** A path that is proposed, to be taken whole or in part. */
  sketch: Sketch | null;

  glanceAt(aim: Aim | null): void;
  tryLens(lens: Partial<View> | null): void;
  tryPath(path: Path | null, words?: string, over?: Take): void;
  /** Makes the tried path the take's. */
  keepTried(): void;
  showPerforming(performing: TrySlice['performing']): void;
  takeSteering(steering: TrySlice['steering']): void;
  showSketch(sketch: Sketch | null): void;
}

/** What the next press or drag in the Frame or on the Map does, other than aiming. */
/** An outline in a frame of the footage: a unit direction in its own picture, degrees across and up. */
export interface Proposed {
  frame: number;
  direction: Vec3;
  width: number;
  height: number;
}

export interface PressSlice {
  /** What levelling the whole take left alone, since it was not sure there. */
  unlevelled: readonly Stretch[];
  /** While it is set, dragging the Frame turns the mount. */
  turning: boolean;
  /** While it is set, the horizon can be grabbed in the Frame and on the Map. */
  levelling: boolean;
  /** While it is set, the next press in the Frame or on the Map says what is grey. */
  pickingGrey: boolean;
  /** Whether the patch's rim and the sector's edges are drawn over Frame and Map, and whether a press there places the patch. */
  patchOutlined: boolean;
  placingPatch: boolean;
  /** While it is set, the next press in the Frame or on the Map points a subject out. */
  pointingOut: PointingOut;

  grabMount(on: boolean): void;
  grabHorizon(on: boolean): void;
  leaveUnlevelled(stretches: readonly Stretch[]): void;
  pickGrey(on: boolean): void;
  outlinePatch(on: boolean): void;
  placePatch(on: boolean): void;
  pointOutSubject(what: PointingOut): void;
  /** The outline of a press before it is followed, or what was asked while it is looked for; null where nothing is proposed. */
  proposed: Proposed | { asked: number } | null;
  propose(proposed: PressSlice['proposed']): void;
}

/** Which Follow and which Lookout is worked on, and how the Lookouts are shown and cut. */
export interface LeadSlice {
  /** Which of the take's Follows is worked on. */
  followChosen: number;
  /** Whether the Lookouts stand in the Frame's well, all playing, alone or beside what is on air; and which is worked on. */
  grid: 'off' | 'alone' | 'beside';
  lookoutChosen: number;
  /** While it plays and is cut live: what was on air from when on, over which cuts. */
  cutting: LiveCut | null;

  chooseFollow(n: number): void;
  showGrid(grid: LeadSlice['grid']): void;
  chooseLookout(n: number): void;
  cutLive(cutting: LiveCut | null): void;
}
