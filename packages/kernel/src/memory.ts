/** How the engine's one shared memory is laid out: weights, scratch, rings of decoded pictures and finished frames. */
import { frameBytes, planeSizes, YUV420, YUV444, type PixelFormat } from '@glimbo/core/colour/pixels';
import { cellOf } from '@glimbo/core/look/detail';
import { MOST_REACH, WINDOW } from '@glimbo/core/look/detail-numbers';
import { PATCH_SIDE } from '@glimbo/core/look/patch';
import { NARROWED } from '@glimbo/core/plan/shot';
import { SEAM_POINTS } from '@glimbo/core/stitch/source';
import { GAIN_FLOATS } from './camera.js';
import { CAMERA_FIELDS, NODE_BYTES, SCRATCH_BYTES, TILE } from '../assembly/record.js';

/** One plane of one mip level in bytes from the start of memory. */
export interface Level {
  pointer: number;
  width: number;
  height: number;
}

/** A decoded picture: Y, U and V, each with its mip levels; level 0 of the three lie one behind the other, as ffmpeg writes them. */
export interface SourceSlot {
  pointer: number;
  /** Bytes of the picture as decoded. */
  bytes: number;
  planes: Level[][];
  /** Pointers of the planes' level tables, as the kernel reads them. */
  tables: number[];
  /** The same picture narrowed, for smeared shots; null where there are none. */
  narrowed: SourceSlot | null;
  /** How each block of a two-lens picture is matched: 8 bytes for 16 × 16 pixels; shared by all slots of a source. */
  blocks: number;
}

/** One plane of a finished frame, or of a part of it. `stride`: bytes from one row to the next. */
export interface TargetPlane {
  pointer: number;
  width: number;
  height: number;
  stride: number;
}

/** A finished frame: Y, U and V one behind the other. */
export interface TargetSlot {
  pointer: number;
  bytes: number;
  planes: TargetPlane[];
  /** Luma with its detail, apart from what it is made of; null where there is none. */
  detailed: TargetPlane | null;
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
  /** Where several shots are mixed: one of them as drawn, and their sums. */
  mixing: { drawn: TargetSlot; sums: number } | null;
  /** Where shots are parted: what is seen outside their sector. */
  outside: TargetSlot | null;
  /** For detail: the blur's weights, and the filter's rows and cells. */
  detail: { weights: number; room: number } | null;
}

/** A look table: what becomes of Y', Cb and Cr at 65 points a side, 16 bits each, and how far inputs are spread. */
const TABLE_BYTES = 3 * 2 * 65 ** 3 + 2;

export interface MemoryPlan {
  weights: number;
  /** One block of scratch a worker. */
  scratch: Scratch[];
  /** Of each source its ring of decoded pictures. */
  sources: SourceSlot[][];
  targets: TargetSlot[];
  /** Of each finished frame its layers, where they are joined; as large as the frame. */
  layers: TargetSlot[][];
  /** Pointers of look tables; empty where nothing is done to colours. */
  tables: number[];
  /** Pictures of patches, and of each worker room to look at their surroundings; null without patches. */
  patches: { slots: SourceSlot[]; around: TargetSlot[] } | null;
  /** What lies over layers; empty where nothing does. */
  overlays: OverlaySlot[];
  /** Size of the whole in bytes. */
  size: number;
}

/** Something to be laid over layers: for each of their planes what is added, and what is left of what was there, of 255. */
export interface OverlaySlot {
  planes: { added: number; left: number; width: number; height: number }[];
}

const CAMERA_BYTES = CAMERA_FIELDS * 8;
/** Tile rows that a worker draws at a time. */
export const STRIPE_ROWS = 16;
export const MIP_LEVELS = 6;

const align = (n: number) => Math.ceil(n / 64) * 64;

interface Size {
  width: number;
  height: number;
}

interface PlannedSource extends Size {
  format: PixelFormat;
  /** Whether smeared shots are drawn from it. */
  smeared?: boolean;
  /** How many of its pictures are held at once. */
  ring?: number;
}

export interface PlanRequest {
  /** Size of each source's decoded pictures, and how they lie. */
  sources: PlannedSource[];
  /** Sources that are never used at the same time share one piece of memory: by their numbers. By default none do. */
  lanes?: readonly number[][];
  target: Size;
  /** How the finished frames lie. */
  format: PixelFormat;
  workers: number;
  /** How many decoded pictures of each source are held at once, where it does not say itself. */
  ring: number;
  /** How many finished frames are held at once. */
  frames?: number;
  /** How many layers of a frame are drawn apart and joined. */
  layers?: number;
  /** Whether several shots are mixed in one part of a layer. */
  mixing?: boolean;
  /** Whether shots are parted by a sector. */
  parted?: boolean;
  /** Whether layers get clarity or sharpening. */
  detail?: boolean;
  /** How many look tables, pictures of patches and overlays are held at once. */
  tables?: number;
  patches?: number;
  overlays?: number;
}

export function planMemory({
  sources,
  lanes = sources.map((_, s) => [s]),
  target,
  format,
  workers,
  ring,
  frames = ring,
  layers = 0,
  mixing,
  parted,
  detail = false,
  tables = 0,
  patches = 0,
  overlays = 0,
}: PlanRequest): MemoryPlan {
  // The first 16 KiB stay free: the kernel's own constants (the exponential's table) lie there.
  let next = 16384;
  const take = (bytes: number) => {
    const at = next;
    next = align(next + bytes);
    return at;
  };
  const weights = take(8192);
  const columns = Math.ceil(Math.max(target.width, patches ? AROUND : 0) / TILE);
  const gridBytes = (columns + 3) * (STRIPE_ROWS + 3) * NODE_BYTES;
  const scratch = Array.from({ length: workers }, () => ({
    layers: [0, 1].map(() => ({ camera: take(CAMERA_BYTES), grid: take(gridBytes) })),
    kernel: take(SCRATCH_BYTES),
    seam: take(SEAM_POINTS * 4),
    gains: take(GAIN_FLOATS * 4),
    matrix: take(32),
    mixing: mixing
      ? {
          drawn: planTarget(target, format, false, take),
          sums: take(2 * frameBytes(format, target.width, target.height)),
        }
      : null,
    outside: parted ? planTarget(target, format, false, take) : null,
    detail: detail ? { weights: take(4 * (MOST_REACH + 1)), room: take(detailBytes(target)) } : null,
  }));
  const many = <T>(count: number, one: () => T): T[] => Array.from({ length: count }, one);
  /** Plans things that lie in one place at different times. */
  const inOnePlace = <T>(things: readonly (() => T)[]): T[] => {
    const from = next;
    let end = from;
    const planned = things.map((plan) => {
      next = from;
      const thing = plan();
      end = Math.max(end, next);
      return thing;
    });
    next = end;
    return planned;
  };
  const rings: SourceSlot[][] = [];
  for (const lane of lanes) {
    const planned = inOnePlace(lane.map((s) => () => planRing(sources[s]!, sources[s]!.ring ?? ring, take)));
    lane.forEach((s, i) => (rings[s] = planned[i]!));
  }
  return {
    weights,
    scratch,
    sources: rings,
    targets: many(frames, () => planTarget(target, format, detail, take)),
    layers: layers ? many(frames, () => many(layers, () => planTarget(target, format, detail, take))) : [],
    patches: patches
      ? {
          slots: many(patches, () => planSource({ width: PATCH_SIDE, height: PATCH_SIDE, format: YUV420 }, 0, take)),
          around: many(workers, () => planTarget({ width: AROUND, height: AROUND }, YUV444, false, take)),
        }
      : null,
    overlays: many(overlays, () => planOverlay(target, format, take)),
    tables: many(tables, () => take(TABLE_BYTES)),
    size: next + 64,
  };
}

/** Side in pixels of the view in which a patch's surroundings are looked at. */
export const AROUND = 128;

/** Room for the rows and cells of a stripe's detail, as assembly/detail.ts lays them out. */
function detailBytes({ width, height }: Size): number {
  const cell = cellOf({ width, height });
  const rows = Math.ceil((STRIPE_ROWS * TILE) / cell) + 3 + 4 * WINDOW;
  return 4 * (4 * (width + 24) + 4 * rows * Math.ceil(width / cell));
}

function planTarget(
  { width, height }: Size,
  format: PixelFormat,
  detail: boolean,
  take: (bytes: number) => number,
): TargetSlot {
  const bytes = frameBytes(format, width, height);
  const pointer = take(bytes);
  let plane = pointer;
  const planes = planeSizes(format, width, height).map((size) => {
    const at = { pointer: plane, ...size, stride: size.width };
    plane += size.width * size.height;
    return at;
  });
  const detailed = detail ? { ...planes[0]!, pointer: take(planes[0]!.stride * planes[0]!.height) } : null;
  return { pointer, bytes, planes, detailed };
}

function planOverlay({ width, height }: Size, format: PixelFormat, take: (bytes: number) => number): OverlaySlot {
  const planes = planeSizes(format, width, height).map((size) => {
    const bytes = size.width * size.height + 16;
    return { ...size, added: take(bytes), left: take(bytes) };
  });
  return { planes };
}

/** An overlay of a size within that of its slot. */
export function overlayOf({ planes }: OverlaySlot, { width, height }: Size): OverlaySlot {
  const whole = planes[0]!;
  return {
    planes: planes.map((plane) => {
      const chroma = Math.round(whole.width / plane.width);
      return { ...plane, width: Math.ceil(width / chroma), height: Math.ceil(height / chroma) };
    }),
  };
}

/** A part of a frame as something to draw into. Left and top are even. */
export function paneOf(target: TargetSlot, pane: Size & { left: number; top: number }): TargetSlot {
  const whole = target.planes[0]!;
  const planes = target.planes.map((plane) => {
    const chroma = Math.round(whole.width / plane.width);
    return {
      pointer: plane.pointer + (pane.top / chroma) * plane.stride + pane.left / chroma,
      width: Math.ceil(pane.width / chroma),
      height: Math.ceil(pane.height / chroma),
      stride: plane.stride,
    };
  });
  return { ...target, planes };
}

/** A source's ring of decoded pictures. */
function planRing(source: PlannedSource, ring: number, take: (bytes: number) => number) {
  const blocks = take(Math.ceil(source.width / 16) * Math.ceil(source.height / 16) * 8);
  return Array.from({ length: ring }, () => planSource(source, blocks, take));
}

function planSource(
  { width, height, format, smeared }: PlannedSource,
  blocks: number,
  take: (bytes: number) => number,
): SourceSlot {
  const bytes = frameBytes(format, width, height);
  const pointer = take(bytes + 64);
  let plane = pointer;
  const planes = planeSizes(format, width, height).map((size) => {
    const levels: Level[] = [{ pointer: plane, ...size }];
    plane += size.width * size.height;
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
  const narrowed = smeared ? planNarrowed(planes, take) : null;
  return { pointer, bytes, planes, tables, narrowed, blocks };
}

/** Room for a picture of the same height and a part of the width, without mip levels. */
function planNarrowed(planes: Level[][], take: (bytes: number) => number): SourceSlot {
  const narrowed = planes.map(([whole]) => {
    const { width, height } = whole!;
    return [{ pointer: take((width / NARROWED) * height + 64), width: width / NARROWED, height }];
  });
  const tables = narrowed.map(() => take(16));
  return { pointer: narrowed[0]![0]!.pointer, bytes: 0, planes: narrowed, tables, narrowed: null, blocks: 0 };
}

/** Writes a slot's table of mip levels into memory. `bounded`: 1 for a picture that does not go on round the sphere. */
export function writeLevels({ planes, tables }: SourceSlot, bounded: 0 | 1, memory: ArrayBufferLike): void {
  const view = new DataView(memory);
  planes.forEach((levels, p) =>
    levels.forEach((level, n) =>
      [level.pointer, level.width, level.height, bounded].forEach((value, i) =>
        view.setInt32(tables[p]! + n * 16 + i * 4, value, true),
      ),
    ),
  );
}

/** A memory of so many bytes that all threads share. */
export const createMemory = (bytes: number) => {
  const pages = Math.ceil(bytes / 65536);
  return new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true });
};
