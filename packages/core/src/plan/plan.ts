/**
 * A frame plan: what a clip is, frame by frame. For every frame it says which pictures of which footage are drawn, how, and
 * with what weights. The engine carries plans out and knows nothing of takes; a single take, a comparison, a whole sphere
 * and whatever is made of several takes are all plans.
 */
import type { Detail } from '../look/detail.js';
import type { Patch } from '../look/patch.js';
import type { Sector } from '../look/sector.js';
import type { Treatment } from '../look/treatment.js';
import type { Source } from '../stitch/source.js';
import type { Shot, ShotParted, ShotTwin } from './shot.js';

export interface PlannedShot extends Omit<Shot, 'source' | 'parted'> {
  /** Which of the plan's sources. */
  source: number;
  /** Frame of that footage, from 0. From one frame of the clip to the next it never goes back within a source. */
  frame: number;
  /** Share of its pane; those of a pane add up to 1. */
  weight: number;
  parted?: Pick<ShotParted, 'toWorld'> & { twin: PlannedTwin | null };
}

/** A twin's picture, by source and frame as that of a shot. */
export interface PlannedTwin extends Omit<ShotTwin, 'source'> {
  source: number;
  frame: number;
}

/** A part of the frame that is drawn by itself, in pixels; all even. A later pane lies over earlier ones. */
export interface Pane {
  left: number;
  top: number;
  width: number;
  height: number;
}

export interface FramePlan {
  /** Size of the frames in pixels. */
  width: number;
  height: number;
  /** Frames a second, and how many. */
  rate: number;
  frames: number;
  /** What the pictures of each footage show. */
  sources: Source[];
  panes: Pane[];
  /** The shots of frame n, pane by pane; none for a pane that is not shown in it. */
  shotsAt(n: number): PlannedShot[][];
  /** What is done to the colours of frame n; null where nothing is, and absent where nothing ever is. */
  treatmentAt?(n: number): Treatment | null;
  /** What lies over frame n, as SVG of the frame's size; null where nothing does, and absent where nothing ever does. */
  overlayAt?(n: number): string | null;
  /** What the shots' patches are; absent where there are none. */
  patch?: Patch;
  /** What parts the shots; absent where they are whole. */
  sector?: Sector;
  /** Clarity and sharpening of all frames; absent where there is none. */
  detail?: Detail;
}

/** The only pane of a plan that has one. */
export const wholePane = ({ width, height }: { width: number; height: number }): Pane[] => [
  { left: 0, top: 0, width, height },
];

/** A shot as a plan lists it; `twin`: source and frame of its twin, where it has one. */
export const planned = (
  { picture, toSource, time, patch, parted }: Shot,
  source: number,
  frame: number,
  twin?: Pick<PlannedTwin, 'source' | 'frame'>,
): PlannedShot => ({
  picture,
  toSource,
  time,
  ...(patch ? { patch } : {}),
  ...(parted ? { parted: { ...parted, twin: parted.twin && twin ? { ...parted.twin, ...twin } : null } } : {}),
  source,
  frame,
  weight: 1,
});
