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

/** A small picture in Y'CbCr codes, rows first: luma of `side` pixels a side, colour of as many or of half. */
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
 * seed for the grain that the surroundings have, another each frame. `chroma`: pixels of luma, along each side, that share a sample
 * of colour.
 */
export function fillPicture(
  patch: Patch,
  rim: readonly ArrayLike<number>[],
  grain: number,
  side = PATCH_SIDE,
  chroma: 1 | 2 = 1,
): PatchPicture {
  const waves = rim.map(wavesOf);
  const noise = grainOf(rim[0]!, waves[0]!);
  const random = seededRandom(grain + 1);
  // Its finest wave is more than ten pixels long there, so that what lies between them is straight.
  const [luma, cb, cr] = waves.map((wave, p) =>
    membrane(wave, patch, p === 0 ? Math.min(side, FINEST) : side / chroma),
  );
  const grainy = () => noise * (random() + random() + random() - 1.5) * 2;
  return { side, planes: [codesIn(enlarged(luma!, side), grainy), codesIn(cb!), codesIn(cr!)] };
}

/** Side in pixels of a membrane that shows all of its waves. */
const FINEST = 128;

/** Values with grain as whole codes. A loop of its own: it runs over every pixel of every frame. */
function codesIn(values: Float32Array, grain?: () => number): Uint8Array {
  const codes = new Uint8Array(values.length);
  for (let i = 0; i < values.length; i++) {
    const value = grain ? values[i]! + grain() : values[i]!;
    codes[i] = Math.max(1, Math.min(254, Math.round(value)));
  }
  return codes;
}

/** What a rim's waves come to within it, `side` pixels a side. */
function membrane(waves: Float64Array, patch: Patch, side: number): Float32Array {
  const { places, ends, powers } = basisOf(patch, side);
  const values = new Float32Array(side * side).fill(NO_COLOUR);
  for (let i = 0, at = 0; i < places.length; i++) {
    const end = ends[i]!;
    let [re, im] = [0, 0];
    for (let k = 0; at < end; at += 2, k += 2) {
      re += waves[k]! * powers[at]!;
      im += waves[k + 1]! * powers[at + 1]!;
    }
    values[places[i]!] = re + im;
  }
  return values;
}

/** Square values at a larger side, straight between them. */
function enlarged(values: Float32Array, side: number): Float32Array {
  const from = Math.sqrt(values.length);
  if (from === side) return values;
  const out = new Float32Array(side * side);
  const scale = from / side;
  const split = (i: number) => {
    const place = Math.max(0, Math.min(from - 1.001, (i + 0.5) * scale - 0.5));
    return [Math.floor(place), place - Math.floor(place)] as const;
  };
  const columns = Array.from({ length: side }, (_, x) => split(x));
  for (let y = 0; y < side; y++) {
    const [row, down] = split(y);
    for (let x = 0; x < side; x++) {
      const [column, across] = columns[x]!;
      const at = row * from + column;
      const top = values[at]! + (values[at + 1]! - values[at]!) * across;
      const low = values[at + from]! + (values[at + from + 1]! - values[at + from]!) * across;
      out[y * side + x] = top + (low - top) * down;
    }
  }
  return out;
}

/** The middle of codes: what lies where nobody looks. */
const NO_COLOUR = 128;
/** Pixels beyond the picture's circle that a sample at its border may touch. */
const TOUCHED = 3;

/** Share of a wave's height at the rim below which it is not seen any more. */
const UNSEEN = 1e-3;

/**
 * The places of a patch's picture that are seen, and for each of them the powers that a rim's waves are summed with, as many as are
 * seen there; `ends`: where each place's powers end.
 */
interface Basis {
  places: Uint32Array;
  ends: Uint32Array;
  powers: Float32Array;
}

/** The same for every frame; two are in use at a time, that of luma and that of colour. */
const bases = new Map<string, Basis>();

function basisOf({ size, feather }: Pick<Patch, 'size' | 'feather'>, side: number): Basis {
  const key = `${size} ${feather} ${side}`;
  const known = bases.get(key);
  if (known) return known;
  const perPixel = (2 * reachOf({ size, feather })) / side;
  const atRim = Math.tan((size * Math.PI) / 360);
  const places: number[] = [];
  for (let i = 0; i < side * side; i++)
    if (Math.hypot((i % side) + 0.5 - side / 2, Math.floor(i / side) + 0.5 - side / 2) < side / 2 + TOUCHED)
      places.push(i);
  const powers: number[] = [];
  const all = new Float64Array(2 * (WAVES + 1));
  const ends = places.map((i) => {
    const [dx, dy] = [(i % side) + 0.5 - side / 2, side / 2 - Math.floor(i / side) - 0.5];
    const r = Math.hypot(dx, dy);
    const share = Math.min(1, Math.tan((r * perPixel * Math.PI) / 360) / atRim);
    raise(all, r > 0 ? (share * dx) / r : 0, r > 0 ? (share * dy) / r : 0);
    const seen = share < 1 ? Math.min(WAVES, Math.ceil(Math.log(UNSEEN) / Math.log(Math.max(1e-9, share)))) : WAVES;
    for (let k = 0; k < 2 * (seen + 1); k++) powers.push(all[k]!);
    return powers.length;
  });
  if (bases.size >= 2) bases.clear();
  const basis = { places: Uint32Array.from(places), ends: Uint32Array.from(ends), powers: Float32Array.from(powers) };
  bases.set(key, basis);
  return basis;
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
