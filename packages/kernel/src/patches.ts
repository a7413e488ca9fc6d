/** Pictures of patches in the kernel's memory, and the views in which their surroundings are looked at. */
import { cameraOf, DEFAULT_VIEW, pixelOf, type Camera } from '@glimbo/core/lens/view';
import { apply, IDENTITY, transpose } from '@glimbo/core/geometry/rotation';
import { reachOf, rimDirections, type Patch, type PatchPicture } from '@glimbo/core/look/patch';
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
  for (let p = 1; p < 3; p++) {
    const plane = planes[p]!;
    heap.set(plane.length === side * side ? halved(plane, side) : plane, slot.planes[p]![0]!.pointer);
  }
}

/** How far a patch's surroundings are seen, in its own sizes. */
const SEEN = 2.6;
/** Degrees from a patch's middle of what its rim is looked at with: mip levels are needed there. */
export const rimReach = ({ size }: Pick<Patch, 'size'>) => 1.2 * size + 3;

/** A shot of what lies round about a shot's patch: stereographic, so that its rim is a circle. */
export function shotAround({ source, time, patch: place }: Shot, patch: Patch): Shot & { picture: Camera } {
  const view = { ...DEFAULT_VIEW, bend: 1, fov: Math.min(340, SEEN * patch.size) };
  return { picture: cameraOf(view, AROUND, AROUND), toSource: place!.toSource, source, time };
}

/** Points round a patch's outer border. */
const BORDER = 64;
/** Pixels beyond a border between its points. */
const SPARE = 16;

/** The part of a shot's frame that its patch may be seen in: from left to right and from top to bottom, in whole steps. */
export function boundsOf({ picture, patch: place }: Shot, patch: Patch, step: number) {
  const whole = { left: 0, top: 0, right: picture.width, bottom: picture.height };
  if (!('rotation' in picture)) return whole;
  const camera = { ...picture, rotation: IDENTITY };
  const back = transpose(place!.fromDrawn);
  const behind = apply(place!.fromDrawn, [0, 0, -1]);
  // Round the direction behind the camera a picture is turned inside out.
  if (behind[2] > Math.cos((reachOf(patch) * Math.PI) / 180)) return whole;
  const border = rimDirections({ size: reachOf(patch) }, BORDER).map((d) => pixelOf(camera, apply(back, d)));
  if (border.some((p) => p === null)) return whole;
  const [xs, ys] = [border.map((p) => p!.x), border.map((p) => p!.y)];
  const from = (values: number[]) => step * Math.floor(Math.max(0, Math.min(...values) - SPARE) / step);
  return {
    left: from(xs),
    top: from(ys),
    right: Math.min(picture.width, Math.max(...xs) + SPARE),
    bottom: Math.min(picture.height, Math.max(...ys) + SPARE),
  };
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
