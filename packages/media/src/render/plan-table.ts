/** How a frame plan lies in shared memory, so that every thread can look up what it has to do: table-writer.ts, table-reader.ts. */
import type { Detail } from '@glimbo/core/look/detail';
import type { Patch } from '@glimbo/core/look/patch';
import type { Sector } from '@glimbo/core/look/sector';
import type { Pane, PlannedTreatment } from '@glimbo/core/plan/plan';
import type { PlanSource, Shot, ShotParted, ShotTwin } from '@glimbo/core/plan/shot';
import type { SourcePictures } from './pictures.js';
import { layoutOf } from './records.js';
import type { Schedule } from './schedule.js';

/** Weights are kept in parts of this, so that they can be summed up exactly. */
export const WEIGHTS = 256;

export const LAYER = layoutOf({
  ...{ left: 1, top: 1, width: 1, height: 1, weight: 1 },
  ...{ treatment: 1, overlay: 1, patchPicture: 1, patch: 1, sector: 1, detail: 1 },
  ...{ firstPart: 1, endPart: 1 },
});
export const PART = layoutOf({ left: 1, top: 1, width: 1, height: 1, firstShot: 1, endShot: 1 });
export const SHOT = layoutOf({
  ...{ source: 1, number: 1, time: 1, weight: 1, smeared: 1, kind: 1, picture: 4, toSource: 9 },
  ...{ patched: 1, fromDrawn: 9, patchToSource: 9, parted: 1, toWorld: 9 },
  ...{ twinSource: 1, twinNumber: 1, twinTime: 1, twinGain: 1, twinToSource: 9 },
});
/** Kinds of pictures. */
export const [CAMERA, SPHERE, FLAT] = [0, 1, 2];

export interface PlanTable {
  width: number;
  height: number;
  frames: number;
  sources: PlanSource[];
  pictures: SourcePictures[];
  /** Where each frame's layers begin, and after the last where they end; the layers, their parts, and the parts' shots. */
  begins: Uint32Array;
  layers: Float64Array;
  parts: Float64Array;
  shots: Float64Array;
  /** Most shots that a part has, and most layers of a frame whose layers are joined. */
  mostShots: number;
  mostJoined: number;
  treatments: Schedule<PlannedTreatment>;
  overlays: Schedule<PlannedOverlay>;
  patchPictures: Schedule<PlannedPatch>;
  patches: Patch[];
  sectors: Sector[];
  details: Detail[];
}

export interface PlannedOverlay {
  svg: string;
  width: number;
  height: number;
}

/** A patch's picture: of a fill another one each frame, from what the first shot of the layer that has it shows. */
export interface PlannedPatch {
  patch: Patch;
  fill: { layer: number; grain: number } | null;
}

/** Which source, and which of its pictures. */
export interface PictureUse {
  from: number;
  number: number;
}

export interface TableShot extends Shot, PictureUse {
  parted?: Pick<ShotParted, 'toWorld'> & { twin: (ShotTwin & PictureUse) | null };
  /** In 1/WEIGHTS. */
  weight: number;
}

export interface TablePart {
  readonly pane: Pane;
  readonly shots: TableShot[];
}

/** A layer as it was written down; numbers are those of the table's lists, NONE where it has none. */
export interface TableLayer {
  pane: Pane;
  /** 0…1, in whole parts of WEIGHTS. */
  weight: number;
  treatment: number;
  overlay: number;
  patchPicture: number;
  patch: Patch | null;
  sector: Sector | null;
  detail: Detail | null;
  parts: TablePart[];
}
