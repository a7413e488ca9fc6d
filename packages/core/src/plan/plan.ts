/**
 * A frame plan: what a clip is, frame by frame. A frame is a list of layers, each of which says which pictures of which
 * sources are drawn in it, how, with what weights, and what is done to them. The engine carries plans out and knows nothing
 * of takes; a single take, a comparison, a whole sphere, a still and whatever is made of several takes are all plans.
 */
import type { Detail } from '../look/detail.js';
import type { Patch } from '../look/patch.js';
import type { Sector } from '../look/sector.js';
import type { Steps } from '../look/table.js';
import type { Treatment } from '../look/treatment.js';
import type { PlanSource, Shot, ShotParted, ShotTwin } from './shot.js';

export interface PlannedShot extends Omit<Shot, 'source' | 'parted'> {
  /** Which of the plan's sources. */
  source: number;
  /** Frame of that source, from 0. From one frame of the clip to the next it goes back by some frames at most within a source. */
  frame: number;
  /** Share of its part; those of a part add up to 1. */
  weight: number;
  parted?: Pick<ShotParted, 'toWorld'> & { twin: PlannedTwin | null };
}

/** A twin's picture, by source and frame as that of a shot. */
export interface PlannedTwin extends Omit<ShotTwin, 'source'> {
  source: number;
  frame: number;
}

/** A rectangle of a frame or of a layer, in pixels; all even. */
export interface Pane {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** What is done to colours, and how fine its table is: the same in a take's own clip, in a piece of it and beside others. */
export interface PlannedTreatment extends Treatment {
  steps: Steps;
}

/** A part of a layer, in the layer's own pixels, and the shots whose weighted mean it shows. */
export interface LayerPart {
  pane: Pane;
  shots: PlannedShot[];
}

/** A picture of its own that is drawn, finished and then laid over the layers before it. */
export interface Layer {
  /** Where it lies in the frame. */
  pane: Pane;
  /** How much it covers of what lies under it, 0…1. */
  weight: number;
  /** A later part lies over earlier ones; what none of them covers is black. */
  parts: LayerPart[];
  /** What is done to its colours. */
  treatment?: PlannedTreatment | null;
  /** What the shots' patches are, and the seed of the grain that it is filled with. */
  patch?: Patch | null;
  grain?: number;
  /** What parts the shots. */
  sector?: Sector | null;
  /** Clarity and sharpening. */
  detail?: Detail | null;
  /** What lies over it, as SVG of the layer's size. */
  overlay?: string | null;
}

export interface FramePlan {
  /** Size of the frames in pixels. */
  width: number;
  height: number;
  /** Frames a second, and how many. */
  rate: number;
  frames: number;
  /** What the pictures of each source show. */
  sources: PlanSource[];
  /** The layers of frame n, from the lowest to the uppermost; what none of them covers is black. */
  layersAt(n: number): Layer[];
}

/** The pane that is all of a frame. */
export const wholePane = ({ width, height }: { width: number; height: number }): Pane => ({
  left: 0,
  top: 0,
  width,
  height,
});

/** A layer of one part that is all of the frame. */
export const wholeLayer = (size: { width: number; height: number }, shots: PlannedShot[]): Layer => ({
  pane: wholePane(size),
  weight: 1,
  parts: [{ pane: wholePane(size), shots }],
});

/** A shot as a plan lists it; `twin`: source and frame of its twin, where it has one. */
export const planned = (
  { picture, toSource, time, smeared, patch, parted }: Shot,
  source: number,
  frame: number,
  twin?: Pick<PlannedTwin, 'source' | 'frame'>,
): PlannedShot => ({
  picture,
  toSource,
  time,
  ...(smeared ? { smeared } : {}),
  ...(patch ? { patch } : {}),
  ...(parted ? { parted: { ...parted, twin: parted.twin && twin ? { ...parted.twin, ...twin } : null } } : {}),
  source,
  frame,
  weight: 1,
});
