/** What can be recognised along a footage: looks round the horizon every few seconds. */
import { glimpse, glimpseOf, type Glimpse } from '@glimbo/core/frame/sphere-frame';
import { multiply, transpose } from '@glimbo/core/geometry/rotation';
import type { Motion } from '@glimbo/core/motion/motion';
import type { Moment } from '@glimbo/core/recognise/recognised';
import { ACROSS, placed, VIEWS_AROUND, withoutDoubles, type Recognised } from '@glimbo/core/recognise/views';
import type { Detector } from './detector.js';
import { toWorldOf } from './moving.js';
import { pictures } from './sphere-pictures.js';

/** Seconds from one look round to the next, and pixels across the sphere at which it is taken. */
const EVERY = 2.5;
const WIDTH = 1920;

/**
 * What a detector recognises in a whole sphere laid flat, such as a proxy, of `frames` frames at a constant `rate`; in the world's axes.
 * Throws MediaError; rejects with an AbortError when the signal was given.
 */
export async function recognisedAlong(
  file: string,
  { rate, frames }: { rate: number; frames: number },
  detector: Detector,
  { motion, progress, signal }: { motion: Motion | null; progress?: (share: number) => void; signal?: AbortSignal },
): Promise<Moment[]> {
  const every = Math.max(1, Math.round(EVERY * rate));
  const toWorld = toWorldOf(motion);
  const look = glimpseOf(detector.side);
  const moments: Moment[] = [];
  const stretch = { rate, from: 0, count: frames, width: WIDTH, every, passing: true };
  for await (const picture of pictures(file, stretch, signal)) {
    const frame = moments.length * every;
    const toPicture = transpose(toWorld(frame));
    const seen: Recognised[] = [];
    for (const view of VIEWS_AROUND) {
      signal?.throwIfAborted();
      glimpse(picture, multiply(toPicture, view), ACROSS, look);
      const found = await detector.recognise(rgbOf(look));
      seen.push(...found.map((one) => placed(one, detector.side, view)));
    }
    moments.push({ frame, seen: withoutDoubles(seen) });
    progress?.(Math.min(1, (frame + every) / frames));
  }
  return moments;
}

/** A look's pixels as R, G and B, 0 to 255 (BT.709, from limited range). */
function rgbOf({ side, planes: [luma, blue, red] }: Glimpse): Float32Array {
  const out = new Float32Array(3 * side * side);
  const clamped = (v: number) => Math.max(0, Math.min(255, v));
  for (let i = 0; i < side * side; i++) {
    const y = (255 / 219) * (luma[i]! - 16);
    const [cb, cr] = [(255 / 224) * (blue[i]! - 128), (255 / 224) * (red[i]! - 128)];
    out[3 * i] = clamped(y + 1.5748 * cr);
    out[3 * i + 1] = clamped(y - 0.1873 * cb - 0.4681 * cr);
    out[3 * i + 2] = clamped(y + 1.8556 * cb);
  }
  return out;
}
