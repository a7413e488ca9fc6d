/** Making the place of a source's pictures ready for it. */
import type { PlanSource } from '@glimbo/core/plan/shot';
import { matchBlocks } from './camera.js';
import { writeLevels, type SourceSlot } from './memory.js';

/** Writes into memory what a source's ring needs before its pictures come; sources that share a place, each when its turn comes. */
export function prepareSource(source: PlanSource, slots: readonly SourceSlot[], memory: ArrayBufferLike): void {
  for (const slot of slots) {
    writeLevels(slot, source.kind === 'sphere' ? 0 : 1, memory);
    if (slot.narrowed) writeLevels(slot.narrowed, 0, memory);
  }
  const { width, height } = slots[0]!.planes[0]![0]!;
  const blocks = matchBlocks(source, width, height);
  if (blocks) new Uint16Array(memory, slots[0]!.blocks, blocks.length).set(blocks);
}
