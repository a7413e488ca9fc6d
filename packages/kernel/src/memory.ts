/** How the engine's one shared memory is laid out: weights, scratch, rings of source and finished frames. */

import { SEAM_POINTS } from '@glimbo/core/stitch/source';
import { GAIN_FLOATS } from './camera.js';

/** One plane of one mip level in bytes from the start of memory. */
export interface Level {
  pointer: number;
  width: number;
  height: number;
}

/** A decoded frame: Y, U and V, each with its mip levels; level 0 of the three lie one behind the other, as ffmpeg writes yuv420p. */
export interface SourceSlot {
  pointer: number;
  /** Bytes of the frame as decoded. */
  bytes: number;
  planes: Level[][];
  /** Pointers of the planes' level tables, as the kernel reads them. */
  tables: number[];
}

/** A finished frame: Y, U and V one behind the other. */
export interface TargetSlot {
  pointer: number;
  bytes: number;
  planes: { width: number; height: number }[];
}

/** What one worker writes while it draws: pointers. */
export interface Scratch {
  /** Of each layer its camera record and its grid. */
  layers: { camera: number; grid: number }[];
  /** The kernel's own few bytes. */
  kernel: number;
  seam: number;
  gains: number;
  matrix: number;
}

export interface MemoryPlan {
  weights: number;
  /** One block of scratch a worker. */
  scratch: Scratch[];
  /** How each block of a two-lens picture is matched: 8 bytes for 16 × 16 pixels. */
  blocks: number;
  sources: SourceSlot[];
  targets: TargetSlot[];
  /** Size of the whole in bytes. */
  size: number;
}

const CAMERA_BYTES = 48 * 8;
const KERNEL_SCRATCH = 320;
/** Bytes of a node of the grid; as in assembly/fields.ts. */
const NODE = 24;
/** Tile rows (of 8 pixels) that a worker draws at a time. */
export const STRIPE_ROWS = 16;
export const MIP_LEVELS = 6;

const align = (n: number) => Math.ceil(n / 64) * 64;
const half = (n: number) => (n + 1) >> 1;

/** Sizes of the three 4:2:0 planes of a picture. */
export const planeSizes = (width: number, height: number) => [
  { width, height },
  { width: half(width), height: half(height) },
  { width: half(width), height: half(height) },
];

export const frameBytes = (width: number, height: number) =>
  planeSizes(width, height).reduce((sum, p) => sum + p.width * p.height, 0);

export interface PlanRequest {
  source: { width: number; height: number };
  target: { width: number; height: number };
  workers: number;
  /** How many decoded and how many finished frames are held at once. */
  ring: number;
  /** Draw chroma at full size (4:4:4), for stills. */
  fullChroma?: boolean;
}

export function planMemory({ source, target, workers, ring, fullChroma }: PlanRequest): MemoryPlan {
  // The first 16 KiB stay free: the kernel's own constants (the exponential's table) lie there.
  let next = 16384;
  const take = (bytes: number) => {
    const at = next;
    next = align(next + bytes);
    return at;
  };
  const weights = take(8192);
  const columns = Math.ceil(target.width / 8);
  const gridBytes = (columns + 3) * (STRIPE_ROWS + 3) * NODE;
  const scratch = Array.from({ length: workers }, () => ({
    layers: [0, 1].map(() => ({ camera: take(CAMERA_BYTES), grid: take(gridBytes) })),
    kernel: take(KERNEL_SCRATCH),
    seam: take(SEAM_POINTS * 4),
    gains: take(GAIN_FLOATS * 4),
    matrix: take(32),
  }));
  const blocks = take(Math.ceil(source.width / 16) * Math.ceil(source.height / 16) * 8);
  const sources = Array.from({ length: ring }, () => planSource(source, take));
  const planes = fullChroma ? [target, target, target] : planeSizes(target.width, target.height);
  const bytes = planes.reduce((sum, p) => sum + p.width * p.height, 0);
  const targets = Array.from({ length: ring }, () => ({ pointer: take(bytes), bytes, planes }));
  return { weights, scratch, blocks, sources, targets, size: next + 64 };
}

function planSource(size: { width: number; height: number }, take: (bytes: number) => number): SourceSlot {
  const bytes = frameBytes(size.width, size.height);
  const pointer = take(bytes + 64);
  let plane = pointer;
  const planes = planeSizes(size.width, size.height).map(({ width, height }) => {
    const levels: Level[] = [{ pointer: plane, width, height }];
    plane += width * height;
    for (let n = 1; n < MIP_LEVELS; n++) {
      const above = levels[n - 1]!;
      const level = { pointer: 0, width: above.width >> 1, height: above.height >> 1 };
      if (level.width < 8 || level.height < 8) break;
      level.pointer = take(level.width * level.height + 64);
      levels.push(level);
    }
    return levels;
  });
  const tables = planes.map((levels) => take(levels.length * 16));
  return { pointer, bytes, planes, tables };
}
