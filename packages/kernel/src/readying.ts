/** Making sources and their decoded pictures ready to be drawn from. */
import type { PlanSource, Shot } from '@glimbo/core/plan/shot';
import { ratiosAt, SECTORS } from '@glimbo/core/stitch/source';
import { BLOCK } from '../assembly/record.js';
import { matchGains } from './camera.js';
import type { Exports } from './exports.js';
import { MIP_LEVELS, type MemoryPlan, type SourceSlot } from './memory.js';
import { prepareSource } from './prepare.js';

/** Rows of luma of which mip levels are needed, and the same of colour. */
export interface MipRows {
  from: number;
  to: number;
}

/** What is made of a decoded picture before anything is drawn from it. */
export interface Readied {
  /** Where mip levels are needed; null where none are. */
  mips: MipRows | null;
  /** Whether smeared shots are drawn from it. */
  narrowed?: boolean;
}

export class Readying {
  protected constructor(
    protected readonly wasm: Exports,
    readonly memory: WebAssembly.Memory,
    protected readonly plan: MemoryPlan,
  ) {}

  /** Writes what all workers share, and prepares sources. Called once for a memory, before any drawing. */
  prepare(sources: readonly PlanSource[] = []): void {
    this.wasm.fillWeights(this.plan.weights);
    sources.forEach((source, s) => prepareSource(source, this.plan.sources[s]!, this.memory.buffer));
  }

  /**
   * Readies a part of a decoded frame for drawing: brings the lenses' colours together, and builds its mip levels where
   * they are needed. `part` of `parts`: bands of rows that never depend on another band, so that workers can share
   * them. Done once a frame.
   */
  ready(
    shot: Pick<Shot, 'source' | 'time'>,
    slot: SourceSlot,
    { mips, narrowed }: Readied,
    part: number,
    parts: number,
    worker: number,
  ): void {
    const unit = 1 << MIP_LEVELS;
    const { height } = slot.planes[0]![0]!;
    const bands = Math.ceil(height / unit);
    const first = Math.floor((bands * part) / parts) * unit;
    const end = Math.floor((bands * (part + 1)) / parts) * unit;
    this.match(shot, slot, first, Math.min(end, height), worker);
    if (narrowed) this.narrow(slot, first, Math.min(end, height));
    if (!mips) return;
    const top = Math.max(first, Math.floor(mips.from / unit) * unit);
    const bottom = Math.min(end, Math.ceil(mips.to / unit) * unit);
    if (bottom <= top) return;
    for (const levels of slot.planes) {
      // Of a chroma plane the same bands are half as high; its last band takes what is left.
      const size = levels[0]!.height;
      const [from, to] = size < height ? [top >> 1, bottom >> 1] : [top, bottom];
      for (let n = 1; n < levels.length; n++) {
        const above = levels[n - 1]!;
        const level = levels[n]!;
        const last = bottom >= height ? level.height : to >> n;
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

  /** Narrows rows of luma, and those of colour that belong to them. */
  private narrow({ planes, narrowed }: SourceSlot, first: number, end: number) {
    for (const [p, [whole]] of planes.entries()) {
      const { pointer, width } = narrowed!.planes[p]![0]!;
      const half = Math.round(planes[0]![0]!.height / whole!.height);
      this.wasm.narrow(whole!.pointer, whole!.width, pointer, width, Math.ceil(first / half), Math.ceil(end / half));
    }
  }

  private match(
    { source, time }: Pick<Shot, 'source' | 'time'>,
    slot: SourceSlot,
    first: number,
    end: number,
    worker: number,
  ) {
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
      first / BLOCK,
      Math.floor(end / BLOCK),
      slot.blocks,
      gains,
      SECTORS,
      matrix,
    );
  }
}
