/** The take: one edit of one footage, as the open document described in docs/formats/take.md. */
import type { Follow } from '../follow/rule.js';
import type { Angles } from '../geometry/rotation.js';
import type { LevelKey } from '../level/level.js';
import type { Look } from '../look/look.js';
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
