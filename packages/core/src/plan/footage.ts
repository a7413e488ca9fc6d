/** A footage as plans need to know it. */
import type { SubjectTrack } from '../follow/subject.js';
import type { FootageLight } from '../look/light.js';
import type { Motion } from '../motion/motion.js';
import type { Source } from '../stitch/source.js';

/** What is known of a footage that a take's twin is drawn from. */
export interface TwinFootage {
  source: Source;
  /** Frames a second, and how many. */
  rate: number;
  frames: number;
  /** Its light, where a Meter or a twin needs it. */
  light?: FootageLight | null;
}

export interface PlanFootage extends TwinFootage {
  /** Width in pixels of its decoded pictures, where it is known. */
  width?: number;
  /** Where the footage was analysed, how the rig moved. */
  motion: Motion | null;
  /** What is known of its subjects. */
  trackOf?: (subject: string) => SubjectTrack | null;
  /** The other footage that the take's twin is drawn from, where it names one. */
  twin?: TwinFootage | null;
}
