/** The size of a picture that a take names, from its first bytes: PNG, or SVG. */

/** Largest picture that is taken in, in bytes. */
export const LARGEST_PICTURE = 12_000_000;

export interface PictureFacts {
  type: 'image/png' | 'image/svg+xml';
  width: number;
  height: number;
}

const PNG = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
const MOST_PIXELS = 16_384;

/** What a picture is; null where it is none that can be shown. */
export function pictureFacts(bytes: Uint8Array): PictureFacts | null {
  const facts = PNG.every((b, i) => bytes[i] === b) ? pngFacts(bytes) : svgFacts(bytes);
  return facts && facts.width >= 1 && facts.height >= 1 && facts.width <= MOST_PIXELS && facts.height <= MOST_PIXELS
    ? facts
    : null;
}

function pngFacts(bytes: Uint8Array): PictureFacts | null {
  if (bytes.length < 33 || String.fromCharCode(...bytes.subarray(12, 16)) !== 'IHDR') return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  return { type: 'image/png', width: view.getUint32(16), height: view.getUint32(20) };
}

function svgFacts(bytes: Uint8Array): PictureFacts | null {
  const head = String.fromCharCode(...bytes.subarray(0, 4096));
  const [, attributes] = /<svg\b([^>]*)>/.exec(head) ?? [];
  if (attributes === undefined) return null;
  const length = (name: string) => Number(new RegExp(`\\b${name}="([\\d.]+)(?:px)?"`).exec(attributes)?.[1]);
  const [, , , w, h] = /\bviewBox="([-\d.]+)[\s,]+([-\d.]+)[\s,]+([\d.]+)[\s,]+([\d.]+)"/.exec(attributes) ?? [];
  const [width, height] = [length('width') || Number(w), length('height') || Number(h)];
  return Number.isFinite(width) && Number.isFinite(height) ? { type: 'image/svg+xml', width, height } : null;
}
