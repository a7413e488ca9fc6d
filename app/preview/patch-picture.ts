/** The picture of a patch for the Frame: what never changes, or a fill from what the present picture shows round about. */
import { apply, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { equirectangularOf } from '@glimbo/core/geometry/sphere';
import { fillPicture, patchToSource, pictureOfPatch, rimDirections, type Patch } from '@glimbo/core/look/patch';
import { codesOfRgb } from '@glimbo/core/look/table';
import { samplerOf } from './small-frame';
import type { SphereImage } from './sphere-texture';

/** Side in pixels: half of the export's, since it is made for every picture that is played. */
const SIDE = 128;

/** Codes of Y', Cb and Cr, three bytes a pixel, rows first; null where the picture cannot be read. */
export function patchPixels(
  patch: Patch,
  picture: SphereImage | null,
  correction: Matrix3,
  image: Uint8ClampedArray | null,
): { side: number; pixels: Uint8Array } | null {
  const made =
    patch.kind === 'fill' ? filled(patch, picture, correction) : pictureOfPatch(patch, image ?? undefined, SIDE);
  if (!made) return null;
  const pixels = new Uint8Array(3 * SIDE * SIDE);
  made.planes.forEach((plane, p) => plane.forEach((v, i) => (pixels[3 * i + p] = v)));
  return { side: SIDE, pixels };
}

function filled(patch: Patch, picture: SphereImage | null, correction: Matrix3) {
  const sample = picture && samplerOf(picture);
  if (!sample) return null;
  const toSource = patchToSource(patch, correction);
  const codes = rimDirections(patch).map((d) => {
    const { u, v } = equirectangularOf(apply(toSource, d), 1, 1);
    return codesOfRgb(sample(u, v));
  });
  return fillPicture(
    patch,
    [0, 1, 2].map((p) => codes.map((c) => c[p]!)),
    0,
    SIDE,
  );
}

/** An image as straight RGBA of the patch's side; null where it cannot be had. */
export async function patchImagePixels(address: string): Promise<Uint8ClampedArray | null> {
  const image = new Image();
  image.src = address;
  try {
    await image.decode();
    const context = new OffscreenCanvas(SIDE, SIDE).getContext('2d')!;
    context.drawImage(image, 0, 0, SIDE, SIDE);
    return context.getImageData(0, 0, SIDE, SIDE).data;
  } catch {
    return null;
  }
}
