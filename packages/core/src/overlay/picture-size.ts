/** What a picture is that a take names: PNG, whole to its end, or SVG, by its first tag. */

/** Largest picture that is taken in, in bytes. */
export const LARGEST_PICTURE = 12_000_000;

export interface PictureFacts {
  type: 'image/png' | 'image/svg+xml';
  width: number;
  height: number;
}

const PNG = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
/** Longest side in pixels, and most pixels of a PNG: decoded they lie in memory, four bytes each. */
const LONGEST_SIDE = 16_384;
const MOST_PIXELS = 50e6;

/** What a picture is; null where it is none that can be shown. */
export function pictureFacts(bytes: Uint8Array): PictureFacts | null {
  const facts = PNG.every((b, i) => bytes[i] === b) ? pngFacts(bytes) : svgFacts(bytes);
  return facts && facts.width >= 1 && facts.height >= 1 && Math.max(facts.width, facts.height) <= LONGEST_SIDE
    ? facts
    : null;
}

function pngFacts(bytes: Uint8Array): PictureFacts | null {
  if (bytes.length < 33 || String.fromCharCode(...bytes.subarray(12, 16)) !== 'IHDR') return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [width, height] = [view.getUint32(16), view.getUint32(20)];
  return width * height <= MOST_PIXELS && reachesItsEnd(view) ? { type: 'image/png', width, height } : null;
}

const IEND = 0x49454e44;

/** Whether chunk follows upon chunk up to the one that ends a PNG: one that was cut short would be shown in part or not at all. */
function reachesItsEnd(view: DataView): boolean {
  let at = PNG.length;
  while (at + 12 <= view.byteLength) {
    if (view.getUint32(at + 4) === IEND) return true;
    at += 12 + view.getUint32(at);
  }
  return false;
}

function svgFacts(bytes: Uint8Array): PictureFacts | null {
  const head = String.fromCharCode(...bytes.subarray(0, 4096));
  const [, attributes] = /<svg\b([^>]*)>/.exec(head) ?? [];
  if (attributes === undefined) return null;
  const length = (name: string) => Number(new RegExp(`\\b${name}=["']([\\d.]+)(?:px)?["']`).exec(attributes)?.[1]);
  const box = /\bviewBox=["']([-\d.]+)[\s,]+([-\d.]+)[\s,]+([\d.]+)[\s,]+([\d.]+)["']/.exec(attributes) ?? [];
  const [, , , w, h] = box;
  const [width, height] = [length('width') || Number(w), length('height') || Number(h)];
  return Number.isFinite(width) && Number.isFinite(height) ? { type: 'image/svg+xml', width, height } : null;
}
