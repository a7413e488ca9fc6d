/** Parting shots by a sector: what is kept, and what is seen outside. */
import { CHROMA_ZERO, LUMA_BLACK } from '@glimbo/core/colour/bt709';
import { codesOfColour } from '@glimbo/core/look/patch';
import type { Sector } from '@glimbo/core/look/sector';
import { NODE_BYTES, TILE } from '../assembly/record.js';
import type { SourceSlot, TargetSlot } from './memory.js';
import { rowsOf } from './rows.js';

/** A sector, and the slot of its twin's picture, where it has one. */
export interface SectorOver {
  sector: Sector;
  twin: SourceSlot | null;
}

/** What of a plane's signal is nothing. */
export const ZEROS = [LUMA_BLACK, CHROMA_ZERO, CHROMA_ZERO];

/** Least and greatest of the weights that a grid has. */
export function weightsIn(grid: number, columns: number, rows: number, memory: ArrayBufferLike) {
  const nodes = (columns + 3) * (rows + 3);
  const values = new Float32Array(memory, grid, (nodes * NODE_BYTES) / 4);
  let [least, most] = [Infinity, -Infinity];
  for (let i = 0; i < nodes; i++) {
    const weight = values[(i * NODE_BYTES + 16) / 4]!;
    if (weight < least) least = weight;
    if (weight > most) most = weight;
  }
  return { least, most };
}

/** Fills luma tile rows `row` to `row + rows` of a slot with a colour. */
export function fillRows(colour: string, { planes }: TargetSlot, row: number, rows: number, heap: Uint8Array): void {
  const codes = codesOfColour(colour);
  for (const [p, { pointer, width, height, stride }] of planes.entries()) {
    const { first, count } = rowsOf({ height }, Math.round(planes[0]!.width / width), row, rows);
    for (let y = first * TILE; y < Math.min(height, (first + count) * TILE); y++)
      heap.fill(codes[p]!, pointer + y * stride, pointer + y * stride + width);
  }
}
