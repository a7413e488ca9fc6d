/** From Y'CbCr (BT.709, video range) to R'G'B' and back, 8 bits a sample. */
import type { Vec3 } from '../geometry/rotation.js';
import { CHROMA_SPAN, CHROMA_ZERO, KB, KG, KR, LUMA_BLACK, LUMA_SPAN } from './bt709.js';

/** What the samples are multiplied by: luma's steps to 0…255, and what Cb and Cr add to red, green and blue. */
export const TO_RGB = {
  luma: 255 / LUMA_SPAN,
  red: { cr: (2 * (1 - KR) * 255) / CHROMA_SPAN },
  green: {
    cb: (-2 * (1 - KB) * (KB / KG) * 255) / CHROMA_SPAN,
    cr: (-2 * (1 - KR) * (KR / KG) * 255) / CHROMA_SPAN,
  },
  blue: { cb: (2 * (1 - KB) * 255) / CHROMA_SPAN },
} as const;

/** Luma of R'G'B', in their own unit. */
export const lumaOf = ([r, g, b]: Vec3) => KR * r + KG * g + KB * b;

const clamp = (v: number) => Math.max(0, Math.min(255, Math.round(v)));

/** yuv444p, planes of `pixels` samples one behind the other, to packed RGB. */
export function toRgb(yuv: Uint8Array, pixels: number): Uint8Array {
  const { luma: scale, red, green, blue } = TO_RGB;
  const rgb = new Uint8Array(pixels * 3);
  for (let i = 0; i < pixels; i++) {
    const luma = scale * (yuv[i]! - LUMA_BLACK);
    const u = yuv[pixels + i]! - CHROMA_ZERO;
    const v = yuv[2 * pixels + i]! - CHROMA_ZERO;
    rgb[i * 3] = clamp(luma + red.cr * v);
    rgb[i * 3 + 1] = clamp(luma + green.cb * u + green.cr * v);
    rgb[i * 3 + 2] = clamp(luma + blue.cb * u);
  }
  return rgb;
}
