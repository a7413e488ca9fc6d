/**
 * The Patch: what covers the tripod below, or the hanger above. It is a small picture of its own, drawn over the sphere like what a
 * lens with an even angle a pixel has seen: a colour, an image seen from above, or a fill that goes on from its rim.
 */
import { multiply, rotationOf, transpose, vec3, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { seededRandom } from '../random.js';
import { codesOfRgb } from './table.js';

export type PatchKind = 'colour' | 'image' | 'fill';

export interface Patch {
  kind: PatchKind;
  /** Heading and tilt of its middle, degrees; of the picture as the rig has it, or of the world. */
  pan: number;
  tilt: number;
  to: 'rig' | 'world';
  /** Degrees from its middle to its rim, and over which it passes into its surroundings. */
  size: number;
  feather: number;
  /** #rrggbb. */
  colour: string;
  /** The picture's file, where it is an image. */
  file?: string;
}

export const PATCH_LIMITS = {
  pan: { least: -360, most: 360 },
  tilt: { least: -90, most: 90 },
  size: { least: 2, most: 60 },
  feather: { least: 0, most: 20 },
} as const;

export const USUAL_PATCH: Patch = {
  kind: 'fill',
  pan: 0,
  tilt: -90,
  to: 'rig',
  size: 16,
  feather: 3,
  colour: '#6f7a63',
};

/** Side of a patch's picture in pixels. */
export const PATCH_SIDE = 256;
/** Places on the rim at which its surroundings are looked at. */
export const RIM = 128;
/** Waves round the rim that a fill goes on from. */
const WAVES = 28;
/** Degrees beyond the rim that the picture reaches besides the feather, so that its own edge is never seen. */
const SPARE = 0.5;

/** Degrees from the middle of the picture to its side. */
export const reachOf = ({ size, feather }: Pick<Patch, 'size' | 'feather'>) => size + feather / 2 + SPARE;

/** From the patch's own directions (its middle ahead) to the picture's, with the correction C there. */
export function patchToSource({ pan, tilt, to }: Patch, correction: Matrix3): Matrix3 {
  const axes = rotationOf({ pan, tilt, roll: 0 });
  return to === 'rig' ? axes : multiply(transpose(correction), axes);
}

/** A small picture in Y'CbCr codes: planes of one size, rows first. */
export interface PatchPicture {
  side: number;
  planes: [Uint8Array, Uint8Array, Uint8Array];
}

const rgbOf = (colour: string): Vec3 => vec3([1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16) / 255));

/** Whole codes of Y', Cb and Cr of a colour (#rrggbb). */
export const codesOfColour = (colour: string): number[] => codesOfRgb(rgbOf(colour)).map(Math.round);

/** One colour. */
export function colourPicture({ colour }: Pick<Patch, 'colour'>, side = PATCH_SIDE): PatchPicture {
  const planes = codesOfColour(colour).map((c) => new Uint8Array(side * side).fill(c));
  return { side, planes: planes as PatchPicture['planes'] };
}

/** An image, straight RGBA of side × side pixels, over a colour. */
function imagePicture(
  rgba: Uint8Array | Uint8ClampedArray,
  { colour }: Pick<Patch, 'colour'>,
  side = PATCH_SIDE,
): PatchPicture {
  const picture = colourPicture({ colour }, side);
  const under = rgbOf(colour);
  for (let i = 0; i < side * side; i++) {
    const alpha = rgba[4 * i + 3]! / 255;
    if (!alpha) continue;
    const mixed = vec3(under.map((v, k) => v + (rgba[4 * i + k]! / 255 - v) * alpha));
    codesOfRgb(mixed).forEach((c, p) => (picture.planes[p]![i] = Math.round(c)));
  }
  return picture;
}

/** What never changes of a patch: its image, straight RGBA, where it has come, else its colour. */
export const pictureOfPatch = (
  patch: Patch,
  image?: Uint8Array | Uint8ClampedArray,
  side = PATCH_SIDE,
): PatchPicture => (patch.kind === 'image' && image ? imagePicture(image, patch, side) : colourPicture(patch, side));

/** Directions on the rim, in the patch's own axes (its middle ahead), evenly round. */
export function rimDirections({ size }: Pick<Patch, 'size'>, count = RIM): Vec3[] {
  const angle = (size * Math.PI) / 180;
  return Array.from({ length: count }, (_, i) => {
    const azimuth = (2 * Math.PI * i) / count;
    return [Math.sin(angle) * Math.cos(azimuth), Math.sin(angle) * Math.sin(azimuth), Math.cos(angle)];
  });
}

/**
 * The membrane through a rim: of each plane the solution of Laplace's equation on the sphere, which is that in the plane of the
 * stereographic projection, as Poisson's sum over the rim's waves. `rim` has for each plane the codes at `rimDirections`. `grain`: a
 * seed for the grain that the surroundings have, another each frame.
 */
export function fillPicture(
  patch: Patch,
  rim: readonly ArrayLike<number>[],
  grain: number,
  side = PATCH_SIDE,
): PatchPicture {
  const waves = rim.map(wavesOf);
  const noise = grainOf(rim[0]!, waves[0]!);
  const random = seededRandom(grain + 1);
  const planes = [0, 1, 2].map(() => new Uint8Array(side * side));
  const perPixel = (2 * reachOf(patch)) / side;
  const atRim = Math.tan((patch.size * Math.PI) / 360);
  const powers = new Float64Array(2 * (WAVES + 1));
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const [dx, dy] = [x + 0.5 - side / 2, side / 2 - y - 0.5];
      const r = Math.hypot(dx, dy);
      const share = Math.min(1, Math.tan((r * perPixel * Math.PI) / 360) / atRim);
      raise(powers, r > 0 ? (share * dx) / r : 0, r > 0 ? (share * dy) / r : 0);
      const grainy = noise * (random() + random() + random() - 1.5) * 2;
      for (let p = 0; p < 3; p++) {
        const value = summed(waves[p]!, powers) + (p === 0 ? grainy : 0);
        planes[p]![y * side + x] = Math.max(1, Math.min(254, Math.round(value)));
      }
    }
  return { side, planes: planes as PatchPicture['planes'] };
}

/** The powers of a complex number from 0 on, real and imaginary parts by turns. */
function raise(powers: Float64Array, re: number, im: number) {
  powers[0] = 1;
  powers[1] = 0;
  for (let k = 1; k <= WAVES; k++) {
    powers[2 * k] = powers[2 * k - 2]! * re - powers[2 * k - 1]! * im;
    powers[2 * k + 1] = powers[2 * k - 2]! * im + powers[2 * k - 1]! * re;
  }
}

/** Cosine and sine parts of a rim's waves, by turns; the first is its mean. */
function wavesOf(rim: ArrayLike<number>): Float64Array {
  const out = new Float64Array(2 * (WAVES + 1));
  const count = rim.length;
  for (let k = 0; k <= WAVES; k++)
    for (let i = 0; i < count; i++) {
      const share = (k === 0 ? 1 : 2) / count;
      out[2 * k]! += share * rim[i]! * Math.cos((2 * Math.PI * k * i) / count);
      out[2 * k + 1]! += share * rim[i]! * Math.sin((2 * Math.PI * k * i) / count);
    }
  return out;
}

function summed(waves: Float64Array, powers: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < waves.length; i++) sum += waves[i]! * powers[i]!;
  return sum;
}

/** Root mean square of what of a rim its waves do not say. */
function grainOf(rim: ArrayLike<number>, waves: Float64Array): number {
  const powers = new Float64Array(waves.length);
  let square = 0;
  for (let i = 0; i < rim.length; i++) {
    const azimuth = (2 * Math.PI * i) / rim.length;
    raise(powers, Math.cos(azimuth), Math.sin(azimuth));
    square += (rim[i]! - summed(waves, powers)) ** 2;
  }
  return Math.min(6, Math.sqrt(square / rim.length));
}
