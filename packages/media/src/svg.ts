/** Drawing SVG without a browser. */
import { initWasm, Resvg } from '@resvg/resvg-wasm';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { engineFolder } from './ffmpeg.js';

let ready: Promise<void> | null = null;
const makeReady = () => (ready ??= initWasm(readFileSync(join(engineFolder(), 'resvg.wasm'))));

/** Whether a text is an SVG to its end. */
export async function isSvg(svg: string): Promise<boolean> {
  await makeReady();
  try {
    new Resvg(svg).free();
    return true;
  } catch {
    return false;
  }
}

/** Draws an SVG of width × height pixels on nothing. Gives straight RGBA, rows first. Rejects where it is no SVG. */
export async function svgToRgba(svg: string, width: number, height: number): Promise<Uint8Array> {
  await makeReady();
  const drawing = new Resvg(svg, { fitTo: { mode: 'width', value: width } });
  const image = drawing.render();
  try {
    if (image.width !== width || image.height !== height)
      throw new RangeError('The overlay has another size than the frame.');
    return straight(image.pixels);
  } finally {
    image.free();
    drawing.free();
  }
}

/** From colours that are weighted by their opacity, as they come, to plain ones. */
function straight(pixels: Uint8Array): Uint8Array {
  const out = pixels.slice();
  for (let i = 0; i < out.length; i += 4) {
    const alpha = out[i + 3]!;
    if (alpha === 0 || alpha === 255) continue;
    for (let k = 0; k < 3; k++) out[i + k] = Math.min(255, Math.round((255 * out[i + k]!) / alpha));
  }
  return out;
}
