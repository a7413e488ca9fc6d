/** Drawing shots from pictures that are ready: their layers, what covers a part of them, and what lies outside their sector. */
import { RADIANS } from '@glimbo/core/geometry/rotation';
import type { Shot } from '@glimbo/core/plan/shot';
import type { Patch, PatchPicture } from '@glimbo/core/look/patch';
import type { Sector } from '@glimbo/core/look/sector';
import { seamAt } from '@glimbo/core/stitch/source';
import { CENTRE_X, TILE } from '../assembly/record.js';
import { cameraRecord, layersOf, patchRecord, sectorRecord } from './camera.js';
import { Readying } from './readying.js';
import { boundsOf, rimIn, shotAround, writePatch, type PatchOver } from './patches.js';
import { fillRows, weightsIn, ZEROS, type SectorOver } from './parting.js';
import { packed, rowsOf } from './rows.js';

import { AROUND, type SourceSlot, type TargetPlane, type TargetSlot, writeLevels } from './memory.js';

/** Tile rows of one plane, and who draws them. */
interface PlaneRows {
  plane: number;
  part: number;
  first: number;
  count: number;
  columns: number;
  worker: number;
}

/** Black. */
const BACKGROUND = ZEROS;

/** What is drawn besides a shot's own picture: the patch over it, and what lies outside its sector. */
export interface Besides {
  patch?: PatchOver;
  sector?: SectorOver;
}

/** Tile rows of luma, the same of colour, and who draws them. */
interface Rows {
  row: number;
  rows: number;
  worker: number;
}

/** Draws shots into planes, in the memory that all workers share. */
export class Drawing extends Readying {
  /**
   * Draws luma tile rows `row` to `row + rows` (each `TILE` pixels) of all three planes; both are even except at the end.
   * The planes may be those of a part of a frame.
   */
  draw(
    shot: Shot,
    whole: SourceSlot,
    target: TargetSlot,
    row: number,
    rows: number,
    worker: number,
    { patch: over, sector }: Besides = {},
  ): void {
    const slot = (shot.smeared && whole.narrowed) || whole;
    if (sector && shot.parted)
      return this.drawParted(shot, slot, target, { row, rows, worker }, { patch: over, sector });
    const { source } = shot;
    const scratch = this.plan.scratch[worker]!;
    if (source.kind === 'two-lenses') {
      const seam = seamAt(source, shot.time).map((degrees) => degrees * RADIANS);
      new Float32Array(this.memory.buffer, scratch.seam, seam.length).set(seam);
    }
    const full = slot.planes[0]![0]!;
    target.planes.forEach((out, p) => {
      const part = Math.round(shot.picture.width / out.width);
      const { first, count } = rowsOf(out, part, row, rows);
      const columns = Math.ceil(out.width / TILE);
      const plane = slot.planes[p]![0]!;
      for (let layer = 0; layer < layersOf(source); layer++) {
        const { camera, grid } = scratch.layers[layer]!;
        // U and V share a camera and a grid.
        if (p < 2) {
          const shrink = Math.round(full.width / plane.width);
          const record = cameraRecord(shot, layer, plane, shrink, part, scratch.seam);
          new Float64Array(this.memory.buffer, camera, record.length).set(record);
          this.wasm.mapGrid(camera, grid, columns, first, count);
        }
        this.wasm.drawRows(
          camera,
          grid,
          columns,
          first,
          count,
          out.pointer,
          out.width,
          out.height,
          out.stride,
          slot.tables[p]!,
          slot.planes[p]!.length,
          BACKGROUND[p]!,
          this.plan.weights,
          scratch.kernel,
        );
      }
      if (over && shot.patch) this.drawPatch(shot, over, out, { plane: p, part, first, count, columns, worker });
    });
  }

  /** Draws what is kept of a sector, and what is seen outside; each only where there is any of it. */
  private drawParted(
    shot: Shot,
    slot: SourceSlot,
    target: TargetSlot,
    { row, rows, worker }: Rows,
    { patch, sector: over }: Besides,
  ): void {
    const { sector, twin: twinSlot } = over!;
    const { twin } = shot.parted!;
    const { layers, outside } = this.plan.scratch[worker]!;
    const { buffer } = this.memory;
    const { grid } = layers[0]!;
    const at = target.planes.map((plane) => {
      const part = Math.round(shot.picture.width / plane.width);
      return { part, columns: Math.ceil(plane.width / TILE), ...rowsOf(plane, part, row, rows) };
    });
    this.mapSector(shot, sector, at[0]!, worker);
    const { least, most } = weightsIn(grid, at[0]!.columns, at[0]!.count, buffer);
    if (most > 0) this.draw(shot, slot, target, row, rows, worker, { patch });
    if (least >= 1) return;
    const there = most > 0 ? packed(outside!, target) : target;
    if (twin && twinSlot) {
      const seen = { picture: shot.picture, patch: shot.patch, ...twin };
      this.draw(seen, twinSlot, there, row, rows, worker, { patch });
    } else fillRows(sector.colour, there, row, rows, new Uint8Array(buffer));
    const gain = twin?.gain ?? 1;
    if (most <= 0 && gain === 1) return;
    target.planes.forEach((plane, p) => {
      const { columns, first, count } = at[p]!;
      const other = there.planes[p]!;
      // U and V share a grid.
      if (p < 2) this.mapSector(shot, sector, at[p]!, worker);
      this.wasm.partRows(
        layers[0]!.camera,
        grid,
        columns,
        first,
        count,
        plane.pointer,
        plane.width,
        plane.height,
        plane.stride,
        other.pointer,
        other.stride,
        gain,
        ZEROS[p]!,
        this.plan.scratch[worker]!.kernel,
      );
    });
  }

  /** Writes a sector's camera and grid for rows of a plane. */
  private mapSector(
    shot: Shot,
    sector: Sector,
    { part, columns, first, count }: Pick<PlaneRows, 'part' | 'columns' | 'first' | 'count'>,
    worker: number,
  ) {
    const { camera, grid } = this.plan.scratch[worker]!.layers[0]!;
    const record = sectorRecord(shot, shot.parted!.toWorld, sector, part);
    new Float64Array(this.memory.buffer, camera, record.length).set(record);
    this.wasm.mapGrid(camera, grid, columns, first, count);
  }

  /** Lays a patch's picture over a plane. */
  private drawPatch(shot: Shot, { patch, slot }: PatchOver, out: TargetPlane, at: PlaneRows): void {
    const scratch = this.plan.scratch[at.worker]!;
    const { camera, grid } = scratch.layers[1]!;
    const plane = slot.planes[at.plane]![0]!;
    // Only where it may be: whole tiles of luma and of colour.
    const seen = boundsOf(shot, patch, 2 * TILE);
    const [left, right] = [seen.left / at.part, Math.min(out.width, Math.ceil(seen.right / at.part))];
    const columns = Math.ceil((right - left) / TILE);
    const first = Math.max(at.first, Math.floor(seen.top / at.part / TILE));
    const count = Math.min(at.first + at.count, Math.ceil(seen.bottom / at.part / TILE)) - first;
    if (columns <= 0 || count <= 0) return;
    if (at.plane < 2) {
      const record = patchRecord(shot, shot.patch!, patch, plane.width, at.part);
      record[CENTRE_X]! -= left;
      new Float64Array(this.memory.buffer, camera, record.length).set(record);
      this.wasm.mapGrid(camera, grid, columns, first, count);
    }
    this.wasm.drawRows(
      camera,
      grid,
      columns,
      first,
      count,
      out.pointer + left,
      right - left,
      out.height,
      out.stride,
      slot.tables[at.plane]!,
      1,
      BACKGROUND[at.plane]!,
      this.plan.weights,
      scratch.kernel,
    );
  }

  /** Puts a patch's picture into its place: luma whole, colour at half its size. */
  placePatch(picture: PatchPicture, slot: SourceSlot): void {
    writePatch(picture, slot, new Uint8Array(this.memory.buffer));
    writeLevels(slot, 1, this.memory.buffer);
  }

  /** The codes round a patch's rim, plane by plane, as a shot's picture has them. */
  rimOf(shot: Shot, patch: Patch, slot: SourceSlot, worker: number): Uint8Array[] {
    const target = this.plan.patches!.around[worker]!;
    const around = shotAround(shot, patch);
    this.draw(around, slot, target, 0, AROUND / TILE, worker);
    return rimIn(around, patch, target, new Uint8Array(this.memory.buffer));
  }

  /**
   * The same from several shots, mixed with weights in 1/256 that add up to 256. The memory must have been planned for
   * mixing.
   */
  mix(
    shots: readonly { shot: Shot; slot: SourceSlot; weight: number; besides?: Besides }[],
    target: TargetSlot,
    row: number,
    rows: number,
    worker: number,
  ): void {
    const { drawn, sums } = this.plan.scratch[worker]!.mixing!;
    const part = packed(drawn, target);
    const heap = new Uint8Array(this.memory.buffer);
    const bands = part.planes.map((plane, p) => {
      const chroma = Math.round(part.planes[0]!.width / plane.width);
      const { first, count } = rowsOf(plane, chroma, row, rows);
      const top = first * TILE;
      const height = Math.max(0, Math.min(plane.height, (first + count) * TILE) - top);
      return { plane, to: target.planes[p]!, top, height, sums: sums + 2 * (plane.pointer - drawn.pointer) };
    });
    for (const band of bands) heap.fill(0, band.sums, band.sums + 2 * band.height * band.plane.width);
    for (const { shot, slot, weight, besides } of shots) {
      this.draw(shot, slot, part, row, rows, worker, besides);
      for (const { plane, top, height, sums } of bands)
        this.wasm.addRows(plane.pointer + top * plane.width, sums, height * plane.width, weight);
    }
    for (const { plane, to, top, height, sums } of bands)
      for (let y = 0; y < height; y++)
        this.wasm.settleRows(sums + 2 * y * plane.width, to.pointer + (top + y) * to.stride, plane.width);
  }
}
