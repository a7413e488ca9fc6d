/** The take: one edit of one footage, as the open document described in docs/formats/take.md. */
import type { Follow } from '../follow/rule.js';
import type { Angles } from '../geometry/rotation.js';
import type { LevelKey } from '../level/level.js';
import type { GradeCurves } from '../look/channels.js';
import type { Detail } from '../look/detail.js';
import type { Meter } from '../look/meter.js';
import type { Patch } from '../look/patch.js';
import type { Sector } from '../look/sector.js';
import type { Grade } from '../look/settings.js';
import type { Shake } from '../look/shake.js';
import type { Overlay } from '../overlay/overlays.js';
import type { Turn } from './turn.js';
import type { Pace } from '../pace/pace.js';
import type { Lookouts } from '../lookouts/lookouts.js';
import { emptyPath, type Path } from '../path/path.js';
import type { FormatCorrection } from './format-correction.js';
import type { Steady } from '../steady/settings.js';

/** A shape of the picture, see take/formats. */
export interface Format {
  /** Width to height, such as "16:9". */
  aspect: string;
  /** What it has of its own over the path. */
  correction?: FormatCorrection;
}

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

export interface Take {
  format: 'glimbo-take';
  version: 2;
  /** The footage's file, relative to the document. */
  footage: string;
  /** In and out points in seconds from the footage's start; the out point is the first moment not shown. */
  range: { in: number; out: number };
  /** Frames a second at which the footage's frames are shown: 30 read as 24 runs slower. Its own rate when absent. */
  reading?: number;
  /** How fast it goes by; as it is read when absent. */
  pace?: Pace;
  look?: Look;
  /** `turn`: how the centre goes on over time, over that. */
  orientation?: { mount?: Angles; centre?: { pan: number; tilt: number }; turn?: Turn };
  /** How it is steadied; not at all when absent. */
  steady?: Steady;
  /** Moments at which the horizon was put straight, in order of time. */
  level?: { keys: LevelKey[] };
  /** The format that is worked on, and all of them where there are more. */
  frame: { aspect: string; formats?: Format[] };
  path: Path;
  /** The subjects that are kept in frame, each for a while; the later ones over the earlier. */
  follows?: Follow[];
  /** Views that can be on air in place of the path, and when they are. */
  lookouts?: Lookouts;
}

export const newTake = (footage: string, duration: number): Take => ({
  format: 'glimbo-take',
  version: 2,
  footage,
  range: { in: 0, out: duration },
  frame: { aspect: '16:9' },
  path: emptyPath(),
});
