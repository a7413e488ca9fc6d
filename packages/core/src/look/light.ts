/** The light of a footage: its whole sphere, very small, several times a second. What the Meter looks at. */
import { LUMA_BLACK, LUMA_SPAN } from '../colour/bt709.js';
import { equirectangularOf } from '../geometry/sphere.js';
import type { Vec3 } from '../geometry/rotation.js';
import { toLinear } from './transfer.js';

/** Samples a second, and their size in pixels. */
export const LIGHT = { rate: 6, width: 72, height: 36 } as const;
const BYTES = LIGHT.width * LIGHT.height;

/** Luma codes (BT.709, video range), one picture behind the other, the first at time 0. */
export interface FootageLight {
  bytes: Uint8Array;
  samples: number;
}

/** The light of a footage from its file's bytes; a last picture that is not whole is left out. */
export const lightOf = (bytes: Uint8Array): FootageLight => ({ bytes, samples: Math.floor(bytes.length / BYTES) });

/** Luminance of each code, 0 to 1. */
const LUMINANCE = Float64Array.from({ length: 256 }, (_, code) =>
  Math.max(0, toLinear((code - LUMA_BLACK) / LUMA_SPAN)),
);

/** The luma code in a direction of the picture at a sample; before the first and after the last it is theirs. */
export function codeAt({ bytes, samples }: FootageLight, sample: number, direction: Vec3): number {
  const { u, v } = equirectangularOf(direction, LIGHT.width, LIGHT.height);
  const x = Math.min(LIGHT.width - 1, Math.floor(u));
  const y = Math.min(LIGHT.height - 1, Math.floor(v));
  const n = Math.max(0, Math.min(samples - 1, sample));
  return bytes[n * BYTES + y * LIGHT.width + x]!;
}

/** Luminance there, 0 to 1. */
export const luminanceAt = (light: FootageLight, sample: number, direction: Vec3): number =>
  LUMINANCE[codeAt(light, sample, direction)]!;
