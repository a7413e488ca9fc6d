/** Pictures to be laid over frames, as the kernel adds them: codes already weighted by their opacity, and what that leaves. */
import { codesOfRgb } from '@glimbo/core/look/table';
import type { OverlaySlot } from './memory.js';

/** Writes straight RGBA of the frame's size into a slot of the memory `heap`. */
export function writeOverlay(rgba: Uint8Array, slot: OverlaySlot, heap: Uint8Array): void {
  const wide = slot.planes[0]!.width;
  for (const [p, { added, left, width, height }] of slot.planes.entries()) {
    const block = Math.round(wide / width);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const at = y * width + x;
        const [value, opacity] = blockOf(rgba, wide, x * block, y * block, block, p);
        heap[added + at] = Math.round(value * opacity);
        heap[left + at] = 255 - Math.round(255 * opacity);
      }
  }
}

/** The mean code of plane `p` over a block of straight RGBA, weighted by its opacity, and the mean opacity, 0 to 1. */
function blockOf(rgba: Uint8Array, wide: number, x: number, y: number, block: number, p: number): [number, number] {
  let [value, opacity] = [0, 0];
  for (let k = 0; k < block * block; k++) {
    const at = 4 * ((y + Math.floor(k / block)) * wide + x + (k % block));
    const alpha = rgba[at + 3]!;
    if (!alpha) continue;
    value += alpha * codesOfRgb([rgba[at]! / 255, rgba[at + 1]! / 255, rgba[at + 2]! / 255])[p]!;
    opacity += alpha;
  }
  return opacity ? [value / opacity, opacity / (255 * block * block)] : [0, 0];
}
