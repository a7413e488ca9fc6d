/**
 * The layers of a picture of the whole sphere: sky, what stands about, ground. Whatever they look like, they look different, so that
 * how bright and how busy the picture is tells most of a place's height where the heights are the true ones. How much it tells is the
 * mutual information of the two (Shannon 1948), learned anew from each picture. Top and bottom are told apart by other cues.
 */
import { vec3, type Vec3 } from '../../geometry/rotation.js';
import { equirectangularOf } from '../../geometry/sphere.js';
import type { Seen } from './seen.js';

/** Places that are looked at, evenly over the sphere along a spiral. */
const PLACES = 3000;
const SPIRAL = Float64Array.from({ length: 3 * PLACES }, (_, k) => {
  const i = Math.floor(k / 3);
  const y = 1 - (2 * (i + 0.5)) / PLACES;
  const around = i * Math.PI * (3 - Math.sqrt(5));
  return [Math.sqrt(1 - y * y) * Math.sin(around), y, Math.sqrt(1 - y * y) * Math.cos(around)][k % 3]!;
});

/** How finely places are told apart by how bright and by how busy they are. */
const BRIGHT = 8;
const BUSY = 4;
const LOOKS = BRIGHT * BUSY;

/** Sines of the heights that part the layers, alike above and below, and the layer of every thousandth from −1 to 1. */
const PARTED = [-0.5, -0.2, 0, 0.2, 0.5];
const LAYERS = PARTED.length + 1;
const LAYER_TABLE = Uint8Array.from({ length: 2001 }, (_, i) => PARTED.filter((p) => (i - 1000) / 1000 > p).length);

/** Sine of the height below which things stand before sky and ground alike. */
const NEARLY_LEVEL = 0.2;

/** What each place of the spiral looks like, a number below LOOKS. */
export type Layers = Uint8Array;

/** The pixel in which each place lies, by the width of the picture. */
const pixels = new Map<number, Int32Array>();

function pixelsIn(width: number): Int32Array {
  let known = pixels.get(width);
  if (!known) {
    known = Int32Array.from({ length: PLACES }, (_, i) => {
      const { u, v } = equirectangularOf(vec3(SPIRAL.subarray(3 * i, 3 * i + 3)), width, width / 2);
      return Math.min(width / 2 - 1, Math.floor(v)) * width + (Math.floor(u) % width);
    });
    pixels.set(width, known);
  }
  return known;
}

/** What a picture looks like at every place: its brightness and busyness, each against the rest of the picture. */
export function layersOf({ width, soft, xx, yy }: Seen): Layers {
  const at = pixelsIn(width);
  const bright = Float64Array.from(at, (pixel) => soft[pixel]!);
  const busy = Float64Array.from(at, (pixel) => xx[pixel]! + yy[pixel]!);
  const brightness = ranked(bright, BRIGHT);
  return ranked(busy, BUSY).map((rank, i) => brightness[i]! * BUSY + rank);
}

/** Which of so many equal parts each value belongs to, from the least on. */
function ranked(values: Float64Array, parts: number): Uint8Array {
  const limits = Float64Array.from(values).sort();
  const over = Array.from({ length: parts - 1 }, (_, i) => limits[Math.floor(((i + 1) * values.length) / parts)]!);
  return Uint8Array.from(values, (v) => over.filter((limit) => v >= limit).length);
}

/** How much brighter and how much smoother a picture is above than below, if a direction is up: each −1 to 1. */
export function aboveOf(layers: Layers, [x, y, z]: Vec3): { brighter: number; smoother: number } {
  const bright = [0, 0];
  const smooth = [0, 0];
  const counts = [0, 0];
  for (let i = 0, k = 0; i < PLACES; i++, k += 3) {
    const height = SPIRAL[k]! * x + SPIRAL[k + 1]! * y + SPIRAL[k + 2]! * z;
    if (Math.abs(height) < NEARLY_LEVEL) continue;
    const side = height > 0 ? 0 : 1;
    bright[side]! += Math.floor(layers[i]! / BUSY) / (BRIGHT - 1);
    smooth[side]! += 1 - (layers[i]! % BUSY) / (BUSY - 1);
    counts[side]!++;
  }
  const above = (sums: number[]) => sums[0]! / counts[0]! - sums[1]! / counts[1]!;
  return { brighter: above(bright), smoother: above(smooth) };
}

/** n · ln n for all numbers of places, so that no logarithm is taken for a direction. */
const ENTROPY = Float64Array.from({ length: PLACES + 1 }, (_, n) => (n ? n * Math.log(n) : 0));

/**
 * How much height tells of what is seen at every `stride`th place, if a direction (or the opposite one) is up, in nats for each place.
 */
export function layersFor(layers: Layers, [x, y, z]: Vec3, stride = 1): number {
  const both = new Int32Array(LAYERS * LOOKS);
  for (let i = 0; i < PLACES; i += stride) {
    const height = SPIRAL[3 * i]! * x + SPIRAL[3 * i + 1]! * y + SPIRAL[3 * i + 2]! * z;
    both[LAYER_TABLE[(height * 1000 + 1000.5) | 0]! * LOOKS + layers[i]!]!++;
  }
  const places = Math.ceil(PLACES / stride);
  let sum = ENTROPY[places]!;
  for (let layer = 0; layer < LAYERS; layer++) {
    let there = 0;
    for (let at = layer * LOOKS; at < (layer + 1) * LOOKS; at++) {
      sum += ENTROPY[both[at]!]!;
      there += both[at]!;
    }
    sum -= ENTROPY[there]!;
  }
  for (let look = 0; look < LOOKS; look++) {
    let alike = 0;
    for (let at = look; at < both.length; at += LOOKS) alike += both[at]!;
    sum -= ENTROPY[alike]!;
  }
  return sum / places;
}
