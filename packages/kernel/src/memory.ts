/** How the engine's one shared memory is laid out: weights, scratch, rings of source and finished frames. */

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

export interface MemoryPlan {
  weights: number;
  /** One block of scratch a worker: the camera, 256 bytes for the kernel, the grid. */
  scratch: number[];
  sources: SourceSlot[];
  targets: TargetSlot[];
  /** Size of the whole in bytes. */
  size: number;
}

export const CAMERA_BYTES = 128;
export const KERNEL_SCRATCH = 256;
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
  // The first kilobyte stays free: the kernel's own few constants lie there.
  let next = 1024;
  const take = (bytes: number) => {
    const at = next;
    next = align(next + bytes);
    return at;
  };
  const weights = take(8192);
  const columns = Math.ceil(target.width / 8);
  const gridBytes = (columns + 3) * (STRIPE_ROWS + 3) * 16;
  const scratch = Array.from({ length: workers }, () => take(CAMERA_BYTES + KERNEL_SCRATCH + gridBytes));
  const sources = Array.from({ length: ring }, () => planSource(source, take));
  const planes = fullChroma ? [target, target, target] : planeSizes(target.width, target.height);
  const bytes = planes.reduce((sum, p) => sum + p.width * p.height, 0);
  const targets = Array.from({ length: ring }, () => ({ pointer: take(bytes), bytes, planes }));
  return { weights, scratch, sources, targets, size: next + 64 };
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
