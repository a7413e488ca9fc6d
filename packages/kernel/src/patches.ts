/** Pictures of patches in the kernel's memory, and the views in which their surroundings are looked at. */
import { cameraOf, DEFAULT_VIEW, pixelOf, type Camera } from '@glimbo/core/lens/view';
import { rimDirections, type Patch, type PatchPicture } from '@glimbo/core/look/patch';
import type { Shot } from '@glimbo/core/plan/shot';
import { AROUND, type SourceSlot, type TargetSlot } from './memory.js';

/** A patch and the slot that its picture lies in. */
export interface PatchOver {
  patch: Patch;
  slot: SourceSlot;
}

/** Writes a patch's picture into a slot of the memory `heap`: luma whole, colour at half its size. */
export function writePatch({ side, planes }: PatchPicture, slot: SourceSlot, heap: Uint8Array): void {
  heap.set(planes[0], slot.planes[0]![0]!.pointer);
  for (let p = 1; p < 3; p++) heap.set(halved(planes[p]!, side), slot.planes[p]![0]!.pointer);
}

/** How far a patch's surroundings are seen, in its own sizes. */
const SEEN = 2.6;

/** A shot of what lies round about a shot's patch: stereographic, so that its rim is a circle. */
export function shotAround({ source, time, patch: place }: Shot, patch: Patch): Shot & { picture: Camera } {
  const view = { ...DEFAULT_VIEW, bend: 1, fov: Math.min(340, SEEN * patch.size) };
  return { picture: cameraOf(view, AROUND, AROUND), toSource: place!.toSource, source, time };
}

/** The codes on the rim, plane by plane, of such a shot as it was drawn. */
export function rimIn(
  { picture }: { picture: Camera },
  patch: Patch,
  target: TargetSlot,
  heap: Uint8Array,
): Uint8Array[] {
  const places = rimDirections(patch).map((d) => pixelOf(picture, d)!);
  return target.planes.map(({ pointer, stride }) =>
    Uint8Array.from(places, ({ x, y }) => heap[pointer + Math.floor(y) * stride + Math.floor(x)]!),
  );
}

/** A square plane at half its size. */
function halved(plane: Uint8Array, side: number): Uint8Array {
  const half = side / 2;
  return Uint8Array.from({ length: half * half }, (_, i) => {
    const at = 2 * Math.floor(i / half) * side + 2 * (i % half);
    return (plane[at]! + plane[at + 1]! + plane[at + side]! + plane[at + side + 1]! + 2) >> 2;
  });
}
