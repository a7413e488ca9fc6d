/** Turning what is drawn on canvases of the Map and the Sweep. */
import { shrinkToRgba } from '@glimbo/core/colour/shrink';
import { isIdentity, turnRows, turnSphere, type Pixels } from '@glimbo/core/geometry/turn-pictures';
import type { Matrix3 } from '@glimbo/core/geometry/rotation';
import { isPlanes } from '~/preview/planes';
import type { SpherePicture } from './picture';

let small: CanvasRenderingContext2D | null = null;
const SMALL = { width: 1024, height: 512 };

const pixelsOf = ({ data, width, height }: ImageData) => ({ data: new Uint32Array(data.buffer), width, height });
const imageOf = (data: Uint32Array<ArrayBuffer>, width: number, height: number) =>
  new ImageData(new Uint8ClampedArray(data.buffer), width, height);

/** A picture's pixels, at about a width that is a power of two. */
function smallPixels(picture: SpherePicture, most: number): Pixels {
  if (isPlanes(picture)) {
    const width = Math.min(SMALL.width, 2 ** Math.ceil(Math.log2(most)));
    return { data: shrinkToRgba(picture, width, width / 2), width, height: width / 2 };
  }
  small ??= Object.assign(document.createElement('canvas'), SMALL).getContext('2d', { willReadFrequently: true })!;
  small.drawImage(picture, 0, 0, SMALL.width, SMALL.height);
  return pixelsOf(small.getImageData(0, 0, SMALL.width, SMALL.height));
}

/** Draws a picture of the whole sphere, turned by the correction from its own directions to the world's. */
export function drawTurned(context: CanvasRenderingContext2D, picture: SpherePicture, correction: Matrix3) {
  const { width, height } = context.canvas;
  if (isIdentity(correction)) {
    if (isPlanes(picture)) context.putImageData(imageOf(shrinkToRgba(picture, width, height), width, height), 0, 0);
    else context.drawImage(picture, 0, 0, width, height);
    return;
  }
  const image = context.createImageData(width, height);
  turnSphere(smallPixels(picture, width), pixelsOf(image), correction);
  context.putImageData(image, 0, 0);
}

/** Turns every row of a Sweep by the correction at its moment; `at` gets the row's place as a share of the height. */
export function turnSweep(context: CanvasRenderingContext2D, at: (share: number) => Matrix3) {
  const { width, height } = context.canvas;
  if (!width || !height) return;
  const corrections = Array.from({ length: height }, (_, row) => at((row + 0.5) / height));
  if (corrections.every(isIdentity)) return;
  const image = context.getImageData(0, 0, width, height);
  turnRows(pixelsOf(image), at);
  context.putImageData(image, 0, 0);
}
