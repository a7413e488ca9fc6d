/** The pixel kernel for Node workers and browser workers alike: the WASM module with a typed face. */
import { blurWeights, cellOf, type Detail } from '@glimbo/core/look/detail';
import { spreadFor, UNIT, type Steps } from '@glimbo/core/look/table';
import type { Lattice } from '@glimbo/core/look/tetrahedral';
import type { Pane } from '@glimbo/core/plan/plan';
import { TILE } from '../assembly/record.js';
import { Drawing } from './drawing.js';
import type { Exports } from './exports.js';
import type { MemoryPlan, OverlaySlot, TargetPlane, TargetSlot } from './memory.js';
import { ZEROS } from './parting.js';
import { rowsOf } from './rows.js';
import { writeOverlay } from './overlay.js';

export type { Besides } from './drawing.js';
export type { MipRows, Readied } from './readying.js';
export { rimReach } from './patches.js';
export { prepareSource } from './prepare.js';
export { createMemory } from './memory.js';
export { stripesOf } from './rows.js';

/** Drawing, and what is done to a frame once it is drawn. */
export class Kernel extends Drawing {
  static async create(module: WebAssembly.Module, memory: WebAssembly.Memory, plan: MemoryPlan): Promise<Kernel> {
    const instance = await WebAssembly.instantiate(module, { env: { memory } });
    return new Kernel(instance.exports as unknown as Exports, memory, plan);
  }

  /** Puts a baked table where every worker finds it, at a pointer of the memory plan; behind it, how far inputs are spread. */
  place(lattice: Lattice, table: number): void {
    const { steps, values } = lattice;
    const points = steps ** 3;
    const out = new Uint16Array(this.memory.buffer, table, 3 * points + 1);
    out[3 * points] = Math.round(16 * spreadFor(lattice));
    for (let i = 0; i < points; i++)
      for (let k = 0; k < 3; k++) out[k * points + i] = Math.round(UNIT * values[3 * i + k]!);
  }

  /**
   * Looks the colours of luma tile rows `row` to `row + rows` up in a table that was placed, in place. `steps`: its points a side.
   */
  treat(target: TargetSlot, row: number, rows: number, table: number, steps: Steps): void {
    const [y, u, v] = target.planes as [TargetPlane, TargetPlane, TargetPlane];
    const block = Math.round(y.width / u.width);
    const top = row * TILE;
    const height = Math.min(y.height, (row + rows) * TILE) - top;
    this.wasm.lookRows(
      y.pointer + top * y.stride,
      u.pointer + (top / block) * u.stride,
      v.pointer + (top / block) * v.stride,
      y.stride,
      u.stride,
      y.width,
      height,
      block,
      top,
      table,
      steps,
      steps === 65 ? 6 : 7,
      new Uint16Array(this.memory.buffer, table + 3 * 2 * steps ** 3, 1)[0]!,
    );
  }

  /**
   * Gives luma tile rows `row` to `row + rows` of a whole frame their clarity and sharpening, into the slot's other plane of luma. All
   * rows about them must have been drawn; the memory must have been planned for it.
   */
  detail({ planes, detailed }: TargetSlot, row: number, rows: number, detail: Detail, worker: number): void {
    const { weights, room } = this.plan.scratch[worker]!.detail!;
    const y = planes[0]!;
    const { clarity = 0, sharpen } = detail;
    const blur = blurWeights(sharpen?.radius ?? 1);
    new Float32Array(this.memory.buffer, weights, blur.length).set(blur);
    this.wasm.detailRows(
      y.pointer,
      y.stride,
      detailed!.pointer,
      detailed!.stride,
      y.width,
      y.height,
      row * TILE,
      Math.min(y.height, (row + rows) * TILE),
      cellOf(y),
      clarity / 100,
      (sharpen?.amount ?? 0) / 100,
      blur.length - 1,
      weights,
      sharpen?.threshold ?? 0,
      room,
    );
  }

  /** Makes luma tile rows `row` to `row + rows` black. */
  clear(target: TargetSlot, row: number, rows: number): void {
    const heap = new Uint8Array(this.memory.buffer);
    for (const [p, { pointer, width, stride, top, height }] of bandsOf(target, row, rows).entries())
      for (let y = top; y < top + height; y++) heap.fill(ZEROS[p]!, pointer + y * stride, pointer + y * stride + width);
  }

  /**
   * Lays a finished layer over a frame, in luma tile rows `row` to `row + rows` of that. `pane`: where it lies; `weight`: how much
   * it covers, 0…256.
   */
  join(
    layer: TargetSlot,
    { left, top, height }: Pane,
    weight: number,
    frame: TargetSlot,
    row: number,
    rows: number,
  ): void {
    for (const [p, band] of bandsOf(frame, row, rows).entries()) {
      const plane = layer.planes[p]!;
      const from = p === 0 && layer.detailed ? layer.detailed : plane;
      const chroma = Math.round(frame.planes[0]!.width / band.width);
      const first = Math.max(band.top, top / chroma);
      const end = Math.min(band.top + band.height, (top + height) / chroma);
      for (let y = first; y < end; y++)
        this.wasm.blendRows(
          from.pointer + (y - top / chroma) * from.stride,
          band.pointer + y * band.stride + left / chroma,
          plane.width,
          weight,
        );
    }
  }

  /** Puts a picture, straight RGBA of the layer's size, where `lay` finds it. */
  placeOverlay(rgba: Uint8Array, slot: OverlaySlot): void {
    writeOverlay(rgba, slot, new Uint8Array(this.memory.buffer));
  }

  /** Lays what was placed over luma tile rows `row` to `row + rows` of a frame; over its luma with detail, where it has that. */
  lay({ planes, detailed }: TargetSlot, row: number, rows: number, slot: OverlaySlot): void {
    for (const [p, plane] of planes.entries()) {
      const block = Math.round(planes[0]!.width / plane.width);
      const top = (row * TILE) / block;
      const bottom = Math.min(plane.height, ((row + rows) * TILE) / block);
      const { added, left } = slot.planes[p]!;
      const to = p === 0 && detailed ? detailed : plane;
      for (let y = top; y < bottom; y++)
        this.wasm.layOver(to.pointer + y * to.stride, added + y * plane.width, left + y * plane.width, plane.width);
    }
  }
}

/** The rows of each plane that belong to luma tile rows `row` to `row + rows`. */
const bandsOf = ({ planes }: TargetSlot, row: number, rows: number) =>
  planes.map((plane) => {
    const { first, count } = rowsOf(plane, Math.round(planes[0]!.width / plane.width), row, rows);
    const top = first * TILE;
    return { ...plane, top, height: Math.max(0, Math.min(plane.height, (first + count) * TILE) - top) };
  });
