/** What the motion analysis needs of the module that follows patches (the kernel's motion.ts). */
import { apply, type Matrix3, type Vec3 } from '../geometry/rotation.js';

/** Where a patch lies: unit direction of its middle in the picture, and its two axes on the plane that touches the sphere there. */
export interface PatchFrame {
  direction: Vec3;
  across: Vec3;
  up: Vec3;
}

export interface Corner {
  /** Number of the grid's cell it is the best place of. */
  cell: number;
  /** Smaller eigenvalue of its structure matrix, in squared grey levels. */
  score: number;
  direction: Vec3;
}

export interface PatchTracker {
  /** Width of the frames in pixels; they are half as high. */
  readonly width: number;
  /** Number of patches it can keep. */
  readonly capacity: number;
  /** Takes over the next frame: width × width/2 grey bytes, equirectangular, from the top row down. */
  setPicture(grey: Uint8Array): void;
  /** The best corner of each cell whose byte in `wanted` is not 0. */
  corners(wanted: Uint8Array): Corner[];
  /** Keeps the patch there under a slot; gives its contrast, 0 if it shows nothing. */
  take(slot: number, at: PatchFrame): number;
  /** Room for what is to be found at once. */
  readonly search: PatchSearch;
  /**
   * Finds the first `count` patches of `search` in the present frame, from level `coarsest` (at most 3) to the
   * picture's own pixels.
   */
  find(count: number, coarsest: number): void;
  /**
   * Holds the present picture, halved, against the panorama; `weights` say how much each cell of the grid counts. Gives the sums of
   * weighted least squares for five unknowns, a small turn of the panorama's axes (radians) and changes of gain and lift: the upper
   * triangle of the normal equations (15), their right side (5), the sum of weights and that of squares.
   */
  compare(model: WholeModel, weights: Float32Array): Float64Array;
  /** Mixes a share of the present picture, halved, into the panorama; 1 replaces it. */
  mixIn(model: WholeModel, share: number): void;
}

/** How the panorama is seen in the present picture. */
export interface WholeModel {
  /** Turns a direction of the panorama into the picture's axes. */
  rotation: Matrix3;
  /** By how much the picture is brighter: a factor, and then grey levels. */
  gain: number;
  lift: number;
  /** Slope of the panorama in grey levels a radian below which a pixel counts little. */
  steep: number;
}

/** Patches that are looked for, one after the other. */
export interface PatchSearch {
  slots: Int32Array;
  /** Nine numbers each: direction, across and up of where it is expected; once looked for, of where it is. */
  frames: Float64Array;
  /** How alike it is to what it was, as a correlation; −2 where it was lost. */
  alike: Float32Array;
}

/** A patch's frame at a direction: east and north, or any axes at the poles. */
export function frameAt(direction: Vec3): PatchFrame {
  const [x, y, z] = direction;
  const flat = Math.hypot(x, z);
  const across: Vec3 = flat > 1e-6 ? [z / flat, 0, -x / flat] : [1, 0, 0];
  const up: Vec3 = [y * across[2] - z * across[1], z * across[0] - x * across[2], x * across[1] - y * across[0]];
  return { direction, across, up };
}

/** A frame turned by a rotation. */
export const turnFrame = (m: Matrix3, f: PatchFrame): PatchFrame => ({
  direction: apply(m, f.direction),
  across: apply(m, f.across),
  up: apply(m, f.up),
});

/** Has a slot's patch looked for as number `i`, where its frame would be turned by `m`, but with its middle at `direction`. */
export function expectPatch(
  search: PatchSearch,
  i: number,
  slot: number,
  m: Matrix3,
  frame: PatchFrame,
  direction: Vec3,
) {
  search.slots[i] = slot;
  const { frames } = search;
  const at = 9 * i;
  const [across, up] = [frame.across, frame.up];
  for (let k = 0; k < 3; k++) {
    frames[at + k] = direction[k]!;
    frames[at + 3 + k] = m[3 * k]! * across[0] + m[3 * k + 1]! * across[1] + m[3 * k + 2]! * across[2];
    frames[at + 6 + k] = m[3 * k]! * up[0] + m[3 * k + 1]! * up[1] + m[3 * k + 2]! * up[2];
  }
}

/** Where the patch is that was looked for as number `i`. */
export const foundAt = ({ frames }: PatchSearch, i: number): Vec3 => [
  frames[9 * i]!,
  frames[9 * i + 1]!,
  frames[9 * i + 2]!,
];
