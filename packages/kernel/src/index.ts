/** The pixel kernel for Node workers and browser workers alike: the WASM module with a typed face. */
import { limbRadius } from '@glimbo/core/lens/projection';
import type { Camera } from '@glimbo/core/lens/view';
import type { Matrix3 } from '@glimbo/core/geometry/rotation';
import {
  CAMERA_BYTES,
  KERNEL_SCRATCH,
  MIP_LEVELS,
  type MemoryPlan,
  type SourceSlot,
  type TargetSlot,
} from './memory.js';

interface Exports {
  fillWeights(table: number): void;
  mapGrid(camera: number, grid: number, columns: number, row: number, rows: number): void;
  drawRows(
    camera: number, grid: number, columns: number, row: number, rows: number, out: number, width: number, height: number,
    levels: number, count: number, background: number, weights: number, scratch: number,
  ): void; // prettier-ignore
  halve(source: number, sourceWidth: number, out: number, width: number, from: number, to: number): void;
}

/** Black in video range. */
const BACKGROUND = [16, 128, 128];

/** What is drawn: a camera, and its rotation into the footage's picture (camera to source). */
export interface Shot {
  camera: Camera;
  toSource: Matrix3;
}

export const createMemory = (bytes: number) => {
  const pages = Math.ceil(bytes / 65536);
  return new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true });
};

export class Kernel {
  private constructor(
    private readonly wasm: Exports,
    readonly memory: WebAssembly.Memory,
    private readonly plan: MemoryPlan,
  ) {}

  static async create(module: WebAssembly.Module, memory: WebAssembly.Memory, plan: MemoryPlan): Promise<Kernel> {
    const instance = await WebAssembly.instantiate(module, { env: { memory } });
    return new Kernel(instance.exports as unknown as Exports, memory, plan);
  }

  /** Writes what all workers share. Called once for a memory, before any drawing. */
  prepare(): void {
    this.wasm.fillWeights(this.plan.weights);
    const view = new DataView(this.memory.buffer);
    for (const slot of this.plan.sources)
      slot.planes.forEach((levels, p) =>
        levels.forEach((level, n) => {
          view.setInt32(slot.tables[p]! + n * 16, level.pointer, true);
          view.setInt32(slot.tables[p]! + n * 16 + 4, level.width, true);
          view.setInt32(slot.tables[p]! + n * 16 + 8, level.height, true);
        }),
      );
  }

  /**
   * Builds a part of a frame's mip levels. `part` of `parts`: bands of rows whose halves never depend on
   * another band, so that workers can share them.
   */
  buildMips(slot: SourceSlot, part: number, parts: number): void {
    const unit = 1 << MIP_LEVELS;
    for (const levels of slot.planes) {
      const height = levels[0]!.height;
      const bands = Math.ceil(height / unit);
      const first = Math.floor((bands * part) / parts) * unit;
      const end = Math.floor((bands * (part + 1)) / parts) * unit;
      for (let n = 1; n < levels.length; n++) {
        const above = levels[n - 1]!;
        const level = levels[n]!;
        const last = end >= height ? level.height : end >> n;
        this.wasm.halve(
          above.pointer,
          above.width,
          level.pointer,
          level.width,
          first >> n,
          Math.min(level.height, last),
        );
      }
    }
  }

  /** Draws luma tile rows `row` to `row + rows` (each 8 pixels) of all three planes; `row` and `rows` are even except at the end. */
  draw(shot: Shot, source: SourceSlot, target: TargetSlot, row: number, rows: number, worker: number): void {
    const { camera } = shot;
    const scratch = this.plan.scratch[worker]!;
    const grid = scratch + CAMERA_BYTES + KERNEL_SCRATCH;
    let out = target.pointer;
    target.planes.forEach((size, p) => {
      const part = Math.round(camera.width / size.width);
      const total = Math.ceil(size.height / 8);
      const first = Math.floor(row / part);
      const count = Math.min(total, Math.ceil((row + rows) / part)) - first;
      const columns = Math.ceil(size.width / 8);
      // U and V share a grid.
      if (p < 2) {
        this.writeCamera(shot, source.planes[p]![0]!, part, scratch);
        this.wasm.mapGrid(scratch, grid, columns, first, count);
      }
      this.wasm.drawRows(
        scratch, grid, columns, first, count, out, size.width, size.height,
        source.tables[p]!, source.planes[p]!.length, BACKGROUND[p]!, this.plan.weights, scratch + CAMERA_BYTES,
      ); // prettier-ignore
      out += size.width * size.height;
    });
  }

  private writeCamera(
    { camera, toSource }: Shot,
    plane: { width: number; height: number },
    part: number,
    at: number,
  ): void {
    const limb = limbRadius(camera.bend);
    const fields = [
      ...toSource, camera.bend, camera.scale * part, camera.centreX / part, camera.centreY / part,
      Number.isFinite(limb) ? limb : 0, plane.width, plane.height,
    ]; // prettier-ignore
    new Float64Array(this.memory.buffer, at, 16).set(fields);
  }
}

export { needsMips } from './mips.js';
