/** The look of a take: all that is done to the picture itself. */
import type { Overlay } from '../overlay/overlays.js';
import type { GradeCurves } from './channels.js';
import type { Detail } from './detail.js';
import type { Meter } from './meter.js';
import type { Patch } from './patch.js';
import type { Sector } from './sector.js';
import type { Grade } from './settings.js';
import type { Shake } from './shake.js';

/** Degrees of the shutter: 360 is open from one frame to the next, more goes on over the neighbours; 180 is what films have. */
export const SHUTTER = { least: 0, most: 720, usual: 180 } as const;

/** What is done to the picture itself. */
export interface Look {
  /** Light and colour, dial by dial; what is absent does nothing. */
  grade?: GradeCurves;
  /** A lookup table: the `.cube` file's name, and how much of it, 0 to 100 %. */
  lut?: { file: string; amount: number };
  /** A named look over all that, and how much of it, 0 to 100 %. */
  mood?: { name: string; grade: Partial<Grade>; amount: number };
  /** Clarity and sharpening. */
  detail?: Detail;
  /** What covers a part of the sphere. */
  patch?: Patch;
  /** The part of the sphere that is kept, and what is outside. */
  sector?: Sector;
  /** What lies over the finished frame, the first below the others. */
  overlays?: Overlay[];
  /** The virtual camera's own exposure. */
  meter?: Meter;
  /** How a hand shakes the camera. */
  shake?: Shake;
  /** Motion blur: degrees of the shutter, 0 to 720; each frame is sharp when absent. */
  shutter?: number;
}
