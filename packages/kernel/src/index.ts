/** The pixel kernel for Node workers and browser workers alike: the WASM module with a typed face. */
import { RADIANS, type Matrix3 } from '@glimbo/core/geometry/rotation';
import type { Camera } from '@glimbo/core/lens/view';
import { ratiosAt, seamAt, SECTORS, type Source } from '@glimbo/core/stitch/source';
import { cameraRecord, layersOf, matchBlocks, matchGains, type SpherePicture } from './camera.js';
import { MIP_LEVELS, type MemoryPlan, type SourceSlot, type TargetSlot } from './memory.js';

interface Exports {
  fillWeights(table: number): void;
  mapGrid(camera: number, grid: number, columns: number, row: number, rows: number): void;
  drawRows(
    camera: number,
    grid: number,
    columns: number,
    row: number,
    rows: number,
    out: number,
    width: number,
    height: number,
    levels: number,
    count: number,
    background: number,
    weights: number,
    scratch: number,
  ): void;
  halve(source: number, sourceWidth: number, out: number, width: number, from: number, to: number): void;
  matchRows(
    y: number,
    u: number,
    v: number,
    width: number,
    from: number,
    to: number,
    blocks: number,
    gains: number,
    sectors: number,
    scratch: number,
  ): void;
}

/** Black in video range. */
const BACKGROUND = [16, 128, 128];

/** What is drawn: a camera's frame or a whole sphere, its rotation into the footage's picture, and what that shows. */
export interface Shot {
  picture: Camera | SpherePicture;
  /** Camera, or the drawn sphere, to source. */
  toSource: Matrix3;
  source: Source;
  /** Seconds of the footage, for what a source follows over time. */
  time: number;
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

  /** Writes what all workers share. Called once for a memory and the source that is drawn, before any drawing. */
  prepare(source: Source = { kind: 'sphere' }): void {
    this.wasm.fillWeights(this.plan.weights);
    const view = new DataView(this.memory.buffer);
    for (const slot of this.plan.sources)
      slot.planes.forEach((levels, p) =>
        levels.forEach((level, n) => {
          const bounded = source.kind === 'sphere' ? 0 : 1;
          [level.pointer, level.width, level.height, bounded].forEach((value, i) =>
            view.setInt32(slot.tables[p]! + n * 16 + i * 4, value, true),
          );
        }),
      );
    const { width, height } = this.plan.sources[0]!.planes[0]![0]!;
    const blocks = matchBlocks(source, width, height);
    if (blocks) new Uint16Array(this.memory.buffer, this.plan.blocks, blocks.length).set(blocks);
  }

  /**
   * Readies a part of a decoded frame for drawing: brings the lenses' colours together, and builds its mip levels if
   * they are needed. `part` of `parts`: bands of rows that never depend on another band, so that workers can share
   * them. Done once a frame.
   */
  ready(shot: Shot, slot: SourceSlot, mips: boolean, part: number, parts: number, worker: number): void {
    const unit = 1 << MIP_LEVELS;
    const { height } = slot.planes[0]![0]!;
    const bands = Math.ceil(height / unit);
    const first = Math.floor((bands * part) / parts) * unit;
    const end = Math.floor((bands * (part + 1)) / parts) * unit;
    this.match(shot, slot, first, Math.min(end, height), worker);
    if (!mips) return;
    for (const levels of slot.planes) {
      // Of a chroma plane the same bands are half as high; its last band takes what is left.
      const size = levels[0]!.height;
      const [from, to] = size < height ? [first >> 1, end >> 1] : [first, end];
      for (let n = 1; n < levels.length; n++) {
        const above = levels[n - 1]!;
        const level = levels[n]!;
        const last = end >= height ? level.height : to >> n;
        this.wasm.halve(
          above.pointer,
          above.width,
          level.pointer,
          level.width,
          from >> n,
          Math.min(level.height, last),
        );
      }
    }
  }

  private match({ source, time }: Shot, slot: SourceSlot, first: number, end: number, worker: number) {
    const ratios = source.kind === 'two-lenses' ? ratiosAt(source, time) : null;
    if (!ratios) return;
    const { gains, matrix } = this.plan.scratch[worker]!;
    const table = matchGains(ratios);
    new Float32Array(this.memory.buffer, gains, table.length).set(table);
    const [y, u, v] = slot.planes.map((levels) => levels[0]!);
    this.wasm.matchRows(
      y!.pointer,
      u!.pointer,
      v!.pointer,
      y!.width,
      first >> 4,
      end >> 4,
      this.plan.blocks,
      gains,
      SECTORS,
      matrix,
    );
  }

  /** Draws luma tile rows `row` to `row + rows` (each 8 pixels) of all three planes; `row` and `rows` are even except at the end. */
  draw(shot: Shot, slot: SourceSlot, target: TargetSlot, row: number, rows: number, worker: number): void {
    const { source } = shot;
    const scratch = this.plan.scratch[worker]!;
    if (source.kind === 'two-lenses') {
      const seam = seamAt(source, shot.time).map((degrees) => degrees * RADIANS);
      new Float32Array(this.memory.buffer, scratch.seam, seam.length).set(seam);
    }
    const full = slot.planes[0]![0]!;
    let out = target.pointer;
    target.planes.forEach((size, p) => {
      const part = Math.round(shot.picture.width / size.width);
      const total = Math.ceil(size.height / 8);
      const first = Math.floor(row / part);
      const count = Math.min(total, Math.ceil((row + rows) / part)) - first;
      const columns = Math.ceil(size.width / 8);
      const plane = slot.planes[p]![0]!;
      for (let layer = 0; layer < layersOf(source); layer++) {
        const { camera, grid, kernel } = { ...scratch, ...scratch.layers[layer]! };
        // U and V share a camera and a grid.
        if (p < 2) {
          const record = cameraRecord(
            shot.picture,
            shot.toSource,
            source,
            layer,
            plane,
            Math.round(full.width / plane.width),
            part,
            scratch.seam,
          );
          new Float64Array(this.memory.buffer, camera, record.length).set(record);
          this.wasm.mapGrid(camera, grid, columns, first, count);
        }
        this.wasm.drawRows(
          camera,
          grid,
          columns,
          first,
          count,
          out,
          size.width,
          size.height,
          slot.tables[p]!,
          slot.planes[p]!.length,
          BACKGROUND[p]!,
          this.plan.weights,
          kernel,
        );
      }
      out += size.width * size.height;
    });
  }
}

export { needsMips } from './mips.js';
