/** The upright box of a subject in a picture. */
import type { Vec3 } from '../geometry/rotation.js';

/** A subject as it is pointed out: unit direction in the picture, degrees across and up. */
export interface Box {
  direction: Vec3;
  width: number;
  height: number;
}

/** Where a subject was found, and how far that is trusted, 0 to 1. */
export interface Found extends Box {
  trust: number;
}
