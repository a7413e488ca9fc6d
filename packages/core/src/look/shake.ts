/** Shake: a hand at the camera. Three independent noises between 0.3 and 8 Hz, the same at the same time wherever it is asked for. */
import type { View } from '../lens/view.js';
import { seededRandom } from '../random.js';

export interface Shake {
  /** Root mean square of the picture's movement to each side and up and down, in per cent of the frame's height. */
  position: number;
  /** Root mean square of the roll, in degrees. */
  roll: number;
  /** From 0 (slow drifting) to 100 (nervous); at 50 the noise's power falls as 1/f. */
  roughness: number;
  /** Another number is another hand. */
  seed: number;
}

export const SHAKE_LIMITS = {
  position: { least: 0, most: 5 },
  roll: { least: 0, most: 5 },
  roughness: { least: 0, most: 100 },
  seed: { least: 1, most: 9999 },
} as const;

export const USUAL_SHAKE: Shake = { position: 0, roll: 0, roughness: 50, seed: 1 };

export const doesShake = ({ position, roll }: Shake) => position > 0 || roll > 0;

const [LOWEST, HIGHEST] = [0.3, 8];
const TONES = 28;

interface Tone {
  /** Radians a second, amplitude and phase. */
  speed: number;
  size: number;
  phase: number;
}

/** One noise of root mean square 1: tones evenly spread over the octaves, each somewhat off its place. */
function tonesOf(seed: number, roughness: number): Tone[] {
  const random = seededRandom(seed);
  const octaves = Math.log2(HIGHEST / LOWEST);
  // Power falls as 1/f^slope; with as many tones an octave everywhere, that is 1/f^(slope − 1) for each.
  const slope = 2 - roughness / 50;
  const tones = Array.from({ length: TONES }, (_, i) => {
    const frequency = LOWEST * 2 ** ((octaves * (i + random())) / TONES);
    const phase = 2 * Math.PI * random();
    return { speed: 2 * Math.PI * frequency, size: frequency ** (-slope / 2), phase };
  });
  const power = tones.reduce((sum, t) => sum + t.size ** 2 / 2, 0);
  return tones.map((t) => ({ ...t, size: t.size / Math.sqrt(power) }));
}

const noise = (tones: readonly Tone[], time: number) =>
  tones.reduce((sum, { speed, size, phase }) => sum + size * Math.sin(speed * time + phase), 0);

/** A shake is never changed: its noises are found once. */
const known = new WeakMap<Shake, [Tone[], Tone[], Tone[]]>();

/** To the right and up, in shares of the frame's height, and the roll in degrees, at a time in seconds. */
export function shakeAt(shake: Shake, time: number): { x: number; y: number; roll: number } {
  let tones = known.get(shake);
  if (!tones) {
    const of = (n: number) => tonesOf(3 * shake.seed + n, shake.roughness);
    known.set(shake, (tones = [of(0), of(1), of(2)]));
  }
  const [x, y, roll] = tones;
  const share = shake.position / 100;
  return { x: share * noise(x, time), y: share * noise(y, time), roll: shake.roll * noise(roll, time) };
}

/** A view as a shaking hand holds it, in a frame of a ratio of width to height: the picture is shifted, alike at every field of view. */
export function shaken(view: View, shake: Shake | undefined, time: number, ratio: number): View {
  if (!shake || !doesShake(shake)) return view;
  const { x, y, roll } = shakeAt(shake, time);
  // Shifts are in half shorter sides.
  const height = 2 * Math.max(1, 1 / ratio);
  return { ...view, shiftX: view.shiftX + x * height, shiftY: view.shiftY + y * height, roll: view.roll + roll };
}
